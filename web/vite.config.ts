import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  // A busy machine is slow, and that is no reason to fail.
  test: {
    setupFiles: ["src/testing/setup.ts"],
    testTimeout: 60_000,
    // What all files import is read once a process; each test puts back what it changes.
    pool: "threads",
    isolate: false,
  },
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 600 },
  // The glossary is a page of the project: the help shows the same.
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8040" } },
});
