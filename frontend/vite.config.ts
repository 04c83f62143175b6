import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../src/humble_relay/web/static", emptyOutDir: true },
  test: { environment: "jsdom", include: ["tests/**/*.test.{ts,tsx}"] },
  server: { proxy: { "/api": "http://127.0.0.1:8117" } },
});
