import node from "@astrojs/node";
import react from "@astrojs/react";
import optimizeLocales from "@react-aria/optimize-locales-plugin";
import { defineConfig } from "astro/config";
import { fontsOfWeightsUsed } from "./scripts/lib/fonts.mjs";
import { sharingWorkers } from "./scripts/lib/sharing-workers.mjs";
import { threads } from "./scripts/lib/threads.mjs";

export default defineConfig({
  output: "server",
  adapter: node({ mode: "standalone" }),
  integrations: [react(), threads()],
  // The middleware checks the origin of every change, of any content type.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  // Astro hashes its own island scripts into the policy, so no inline script of anyone else's runs.
  experimental: {
    csp: {
      scriptDirective: { resources: ["'self'"] },
    },
  },
  vite: {
    // The words of the interface are English; React Aria brings its own in 34 languages.
    plugins: [optimizeLocales.vite({ locales: ["en-GB", "en-US"] }), sharingWorkers(), fontsOfWeightsUsed()],
    // The spreadsheet library is a piece of its own, loaded with the first workbook.
    worker: { format: "es" },
    build: { assetsInlineLimit: 0 },
  },
});
