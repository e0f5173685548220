import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  publicDir: false,
  define: { "process.env.NODE_ENV": '"production"' },
  build: {
    target: "es2022",
    outDir: "modules/dist",
    emptyOutDir: true,
    minify: false,
    cssCodeSplit: false,
    lib: { entry: "modules/index.ts", formats: ["iife"], name: "zorvel", fileName: () => "modules.js" },
  },
});
