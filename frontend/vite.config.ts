import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  base: "/static/",
  plugins: [react(), tailwindcss()],
  // Inlined assets would need data: in the content security policy.
  build: { assetsInlineLimit: 0, sourcemap: false, modulePreload: { polyfill: false } },
});
