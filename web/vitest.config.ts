import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    environment: "jsdom",
    // One page for file after file takes 9 s; a page of its own for each took 67.
    isolate: false,
    include: ["src/**/*.test.{ts,tsx}"],
    restoreMocks: true,
    // What hangs ends; a busy machine is no fault of a test's.
    testTimeout: 120_000,
    // Read for its colours; other styles are no business of these tests.
    css: { include: /look\.css/ },
    setupFiles: ["src/app/at-home.setup.ts"],
  },
});
