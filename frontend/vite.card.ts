// The card that goes along: one script and one style sheet, fonts within, to be put into a single file.
import { defineConfig } from "vite";

export default defineConfig({
  publicDir: false,
  build: {
    outDir: "../reamer/web/static/card",
    emptyOutDir: true,
    assetsInlineLimit: 1_000_000,
    target: "es2022",
    lib: { entry: "src/card/card.ts", formats: ["iife"], name: "card", fileName: () => "card.js", cssFileName: "card" },
  },
});
