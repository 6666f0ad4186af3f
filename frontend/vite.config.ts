import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { brotliCompressSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Beside each script and style the same as small as it gets, once and not with every page. */
const small: Plugin = {
  name: "small",
  apply: "build",
  writeBundle({ dir = "" }) {
    for (const file of readdirSync(join(dir, "assets")))
      if (/\.(?:js|css)$/.test(file)) {
        const path = join(dir, "assets", file);
        writeFileSync(`${path}.br`, brotliCompressSync(readFileSync(path)));
      }
  },
};

export default defineConfig({
  plugins: [react(), tailwindcss(), small],
  resolve: {
    alias: {
      "@tables": fileURLToPath(new URL("../reamer/core/tables", import.meta.url)),
      "@docs": fileURLToPath(new URL("../docs", import.meta.url)),
    },
  },
  build: { outDir: "../reamer/web/static", emptyOutDir: true, assetsInlineLimit: 0, target: "es2022" },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8420" } },
});
