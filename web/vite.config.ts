import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 1500 },
  server: {
    // For work on the front end alone; the service keeps its usual port.
    proxy: { "/api": { target: "http://127.0.0.1:7330", ws: true } },
  },
});
