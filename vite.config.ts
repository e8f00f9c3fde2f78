import { defineConfig } from 'vite'
import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  base: '/build/',
  publicDir: false,
  build: {
    outDir: 'public/build',
    manifest: true,
    // One style sheet: the shell names it, and no view waits for its own.
    cssCodeSplit: false,
    // Inlined pictures and fonts would need a weaker content security policy.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    rollupOptions: { input: 'web/main.ts' },
    chunkSizeWarningLimit: 1200,
  },
  test: {
    environment: 'jsdom',
    // What they import, above all Vuetify, is loaded once for all.
    isolate: false,
    pool: 'threads',
    include: ['web/tests/**/*.test.ts'],
    setupFiles: ['web/tests/setup.ts'],
    server: { deps: { inline: ['vuetify'] } },
  },
} as Parameters<typeof defineConfig>[0])
