import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = process.env["YALLA_PUBLIC_ADDRESS"] ?? "http://127.0.0.1:8400";

export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react()],
  build: { chunkSizeWarningLimit: 1500, assetsInlineLimit: 0 },
  server: { proxy: { "/api": server, "/f/": server, "/health": server } },
}));
