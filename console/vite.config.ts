import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// The service serves what is built here; in development the API is asked at its usual address.
export default defineConfig({
  plugins: [react()],
  build: { outDir: "../src/Bearing.Service/wwwroot", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:5180" } },
  // A machine that is busy with other tests may take its time.
  test: { restoreMocks: true, testTimeout: 60_000 },
});
