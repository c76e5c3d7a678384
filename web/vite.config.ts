import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  // Names that a person can find again in the page.
  css: {
    modules: { localsConvention: "camelCaseOnly", generateScopedName: "[local]_[hash:base64:5]" },
  },
  build: { chunkSizeWarningLimit: 1500 },
  server: { proxy: { "/api": "http://127.0.0.1:8090" } },
});
