/// <reference types="vitest/config" />
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

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
  plugins: [react(), tailwindcss(), packed()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  test: { css: true },
  server: { proxy: { "/api": "http://127.0.0.1:8017" } },
});
