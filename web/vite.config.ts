import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  html: { cspNonce: "__RUMEK_NONCE__" },
  build: {
    // A data: URI would need a hole in the policy.
    assetsInlineLimit: 0,
    // scripts/page-weight.mjs walks the first route's imports by it.
    manifest: true,
    chunkSizeWarningLimit: 1200,
  },
  server: { proxy: { "/api": "http://127.0.0.1:7341" } },
  // The limits are there to end what hangs, not to tell how fast this machine is.
  test: { environment: "jsdom", setupFiles: "src/testing/setup.ts", testTimeout: 120_000, hookTimeout: 120_000 },
});
