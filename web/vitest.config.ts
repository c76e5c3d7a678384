import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    environment: "jsdom",
    // One page after another: one for each file took seven times as long as all tests together.
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
