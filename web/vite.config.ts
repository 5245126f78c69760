/// <reference types="vitest/config" />
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Packs scripts and styles once, harder than a server would while somebody waits. */
function packed(): Plugin {
  return {
    name: "packed",
    apply: "build",
    writeBundle({ dir = "dist" }) {
      for (const name of readdirSync(join(dir, "assets")))
        if (/\.(js|css)$/.test(name))
          writeFileSync(
            join(dir, "assets", `${name}.br`),
            brotliCompressSync(readFileSync(join(dir, "assets", name))),
          );
    },
  };
}

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src",
      filename: "sw.ts",
      injectRegister: null,
      injectManifest: { globPatterns: ["assets/*.{js,css,woff2}", "*.svg"] },
      manifest: {
        name: "Emvar",
        short_name: "Emvar",
        description: "Plans paint and weathering layers, and goes along at the bench.",
        start_url: "/",
        display: "standalone",
        background_color: "#bcbcba",
        theme_color: "#bcbcba",
        icons: [
          { src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "any" },
        ],
      },
    }),
    packed(),
  ],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  test: { css: true, testTimeout: 120_000 }, // nothing fails for being slow on a busy machine
  server: { proxy: { "/api": "http://127.0.0.1:8017" } },
});
