import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compression, defineAlgorithm } from "vite-plugin-compression2";

/** The number by which zlib calls how hard it tries. */
const QUALITY = 1;

export default defineConfig({
  plugins: [
    react(),
    // As small as they get, once, rather than anew for each browser.
    compression({
      algorithms: [defineAlgorithm("brotliCompress", { params: { [QUALITY]: 11 } })],
      include: /\.(js|css|svg|html)$/,
      threshold: 1000,
    }),
  ],
  // Names that a person can find again in the page.
  css: {
    modules: { localsConvention: "camelCaseOnly", generateScopedName: "[local]_[hash:base64:5]" },
  },
  build: {
    chunkSizeWarningLimit: 1500,
    // What the service worker keeps.
    manifest: "manifest-of-files.json",
    rolldownOptions: {
      input: { main: "index.html", sw: "src/sw.ts" },
      output: {
        // A few files that many pages share, rather than many that few do: each asks its way.
        codeSplitting: {
          groups: [
            {
              name: "base",
              test: /node_modules.(react|react-dom|react-router|scheduler|@tanstack|openapi-fetch|zustand|idb)[\\/]/,
              priority: 4,
            },
            { name: "charts", test: /node_modules.(echarts|zrender)/, priority: 3 },
            { name: "parts", test: /node_modules/, minShareCount: 9, priority: 2 },
            // What draws charts comes with them.
            { name: "ours", test: /src.(?!ui.(Map)?Chart[.])/, minShareCount: 7, priority: 1 },
          ],
        },
        entryFileNames: ({ name }) => (name === "sw" ? "sw.js" : "assets/[name]-[hash].js"),
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8090" } },
});
