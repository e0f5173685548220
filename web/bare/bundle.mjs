// What a browser loads before the first page shows, compressed, beside a bare
// page of the same libraries: npm run bundle.
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { build } from "vite";

const firstLoad = async (root) => {
  const outDir = mkdtempSync(join(tmpdir(), "bundle"));
  await build({
    root,
    configFile: false,
    plugins: [react()],
    logLevel: "error",
    build: { outDir, emptyOutDir: true, target: "es2022", assetsInlineLimit: 0 },
  });
  const html = readFileSync(join(outDir, "index.html"), "utf8");
  const files = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+)"/g)].map((m) => m[1]);
  const sum = files.reduce((n, f) => n + gzipSync(readFileSync(join(outDir, f)), { level: 9 }).length, 0);
  rmSync(outDir, { recursive: true });
  return sum;
};

const here = new URL("..", import.meta.url).pathname;
const bare = await firstLoad(join(here, "bare"));
const ours = await firstLoad(here);
console.log(`bare ${(bare / 1000).toFixed(1)} kB, first load ${(ours / 1000).toFixed(1)} kB: ${(ours / bare).toFixed(2)} times`);
