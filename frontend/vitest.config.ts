import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  // a browser's document takes a second a file: the files that need one ask for it
  test: { environment: "node", include: ["src/**/*.test.{ts,tsx}"] },
});
