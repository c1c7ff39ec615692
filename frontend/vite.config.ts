import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../aspectum/web/app",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700, // the model stand carries the 3-D library, on its own route only
  },
  server: { proxy: { "/api": "http://127.0.0.1:8340" } },
});
