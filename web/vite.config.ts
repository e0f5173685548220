import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    react(),
    // The pages are kept on the device, so that counting works without a network.
    // What the server knows is not: that is asked for every time.
    VitePWA({
      filename: "worker.js",
      injectRegister: null,
      registerType: "prompt",
      manifest: {
        id: "/",
        name: "Zorvel",
        short_name: "Zorvel",
        description: "Gear ratios from what was counted, turned and read",
        start_url: "/",
        display: "standalone",
        background_color: "#f3f0e8",
        theme_color: "#1b2f34",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
          { src: "/icon.svg", sizes: "any", type: "image/svg+xml" },
        ],
        shortcuts: [
          { name: "Count an axle", url: "/count/ring_and_pinion" },
          { name: "Units", url: "/units" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,png,woff2}"],
        // The contract's page is for scripts, not for phones.
        globIgnores: ["worker.js", "offline.js", "wasm_exec.js", "api.html", "assets/api-*"],
        // The bench without a server is fetched once the bench was opened.
        importScripts: ["/wasm_exec.js", "/offline.js"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api($|\/)/, /^\/trust/, /^\/healthz$/, /^\/readyz$/],
        inlineWorkboxRuntime: true,
        cleanupOutdatedCaches: true,
        clientsClaim: true,
        sourcemap: false,
      },
    }),
  ],
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
  build: {
    target: "es2022",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    rolldownOptions: { input: { index: "index.html", api: "api.html" } },
  },
});
