import babel from "@rolldown/plugin-babel";
import react, { reactCompilerPreset } from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const server = process.env["YALLA_PUBLIC_ADDRESS"] ?? "http://127.0.0.1:8400";

export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  // The compiler keeps what has not changed, so that a key renders its own line and not the whole sheet.
  plugins: [react(), babel({ presets: [reactCompilerPreset()] })],
  build: {
    chunkSizeWarningLimit: 1500,
    assetsInlineLimit: 0,
    rolldownOptions: {
      output: {
        // A few files that change at different times, not one for each part of a part.
        codeSplitting: {
          groups: [
            {
              name: "react",
              test: /node_modules[\\/](react|react-dom|scheduler)[\\/]/,
              priority: 5,
            },
            { name: "editor", test: /node_modules[\\/](@tiptap|prosemirror)/, priority: 4 },
            {
              name: "kit",
              test: /node_modules[\\/](@mui[\\/](?!x-)|@emotion|@popperjs)/,
              priority: 3,
            },
            // The pickers of dates are loaded when one is shown.
            { name: "packages", test: /node_modules[\\/](?!@mui|dayjs)/, priority: 2 },
            {
              name: "parts",
              test: /src[\\/](api|drafts|parts[\\/](?!dates[\\/]pickers))/,
              priority: 1,
            },
          ],
        },
      },
    },
  },
  test: {
    server: { deps: { inline: ["nuqs"] } },
    // A machine that runs other tests beside these may be slow.
    testTimeout: 30_000,
    environment: "jsdom",
    isolate: false,
    setupFiles: "./src/testing/setup.ts",
  },
  server: { proxy: { "/api": server, "/f/": server, "/health": server } },
}));
