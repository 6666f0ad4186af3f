import { fileURLToPath } from "node:url";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: {
    alias: {
      "@tables": fileURLToPath(new URL("../reamer/core/tables", import.meta.url)),
      "@docs": fileURLToPath(new URL("../docs", import.meta.url)),
    },
  },
  build: { outDir: "../reamer/web/static", emptyOutDir: true, assetsInlineLimit: 0, target: "es2022" },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8420" } },
});
