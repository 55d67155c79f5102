import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

/** The product; or, with `--mode kit`, the page of all controls (`npm run kit`), which is never served with it. */
export default defineConfig(({ mode }) => ({
  base: "/static/",
  plugins: [react(), tailwindcss()],
  build: {
    ...(mode === "kit" && { outDir: "dist-kit" }),
    rollupOptions: { input: mode === "kit" ? "kit.html" : "index.html" },
    // Inlined assets would need data: in the content security policy.
    assetsInlineLimit: 0,
    sourcemap: false,
    modulePreload: { polyfill: false },
  },
}));
