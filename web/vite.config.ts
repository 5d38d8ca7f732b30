/// <reference types="vitest/config" />
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  build: {
    target: "es2022",
    assetsInlineLimit: 0,
    sourcemap: false,
    manifest: true,
    rolldownOptions: {
      input: ["index.html", "practice.html", "src/practice-sw.ts"],
      // the service worker stands beside the page, under a name that does not change
      output: { entryFileNames: (chunk) => (chunk.name === "practice-sw" ? "practice-sw.js" : "assets/[name]-[hash].js") },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
  test: {
    testTimeout: 30_000, // a machine that is busy is no failure
    projects: [
      // what is free of React needs no page
      { extends: true, test: { name: "lib", environment: "node", include: ["src/lib/**/*.test.ts"] } },
      {
        extends: true,
        test: { name: "screens", environment: "jsdom", include: ["src/{api,app,features,shared}/**/*.test.{ts,tsx}"], setupFiles: ["src/test-setup.ts"] },
      },
    ],
  },
});
