import { defineConfig, mergeConfig } from "vitest/config";
import app from "./vite.config";

// a browser's document takes a second a file: the files that need one ask for it
export default mergeConfig(app, defineConfig({ test: { environment: "node", include: ["src/**/*.test.{ts,tsx}"] } }));
