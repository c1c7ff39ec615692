import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../aspectum/web/app",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700, // the model stand carries the 3-D library, on its own route only
  },
  server: { proxy: { "/api": "http://127.0.0.1:8340" } },
  // a browser's document takes a second a file: the files that need one ask for it
  test: { environment: "node", include: ["src/**/*.test.{ts,tsx}"] },
});
