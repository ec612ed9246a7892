import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";
import { firstPage } from "./firstPage.ts";

export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react(), firstPage()],
  build: {
    outDir: "dist",
    emptyOutDir: true,
    assetsDir: "assets",
    chunkSizeWarningLimit: 700,
    // all styles stand in the page (firstPage.ts): no script may wait for a file of them
    cssCodeSplit: false,
  },
  server: {
    port: 5173,
    proxy: { "/api": { target: `http://127.0.0.1:${process.env.PORT ?? "8000"}` } },
  },
  test: {
    environment: "jsdom",
    include: ["tests/**/*.test.{ts,tsx}"],
    setupFiles: ["tests/setup.ts"],
    testTimeout: 60_000,
  },
}));
