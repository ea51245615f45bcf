import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { defineConfig, type Plugin } from "vite";
import { englishLetters } from "./letters";

/** Puts a brotli and a gzip form beside each asset that gains by it; the service sends what the browser takes. */
const compressed = (outDir: string): Plugin => ({
  name: "compressed",
  apply: "build",
  closeBundle() {
    const folder = join(import.meta.dirname, outDir, "assets");
    for (const name of readdirSync(folder).filter((one) => /\.(js|css|svg)$/.test(one))) {
      const plain = readFileSync(join(folder, name));
      for (const [suffix, form] of [
        [".br", brotliCompressSync(plain)],
        [".gz", gzipSync(plain, { level: 9 })],
      ] as const) {
        if (form.length < plain.length * 0.9) writeFileSync(join(folder, name + suffix), form);
      }
    }
  },
});

const outDir = "../src/tallshelf/service/static/console";

export default defineConfig({
  plugins: [englishLetters(), react(), tailwindcss(), compressed(outDir)],
  base: "/static/console/",
  build: {
    outDir,
    emptyOutDir: true,
    assetsInlineLimit: 0,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8460" } },
});
