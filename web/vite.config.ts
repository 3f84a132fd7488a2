import { fileURLToPath } from 'node:url'

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

export default defineConfig({
  plugins: [
    vue(),
    // The whole application is kept on the device, and replaced on a person's
    // word: src/device/update.ts.
    VitePWA({
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        name: 'Jet Primer',
        short_name: 'Jet Primer',
        description: 'Start, run-up and before-take-off checks: taught, measured, graded, kept.',
        start_url: '/',
        display: 'standalone',
        background_color: '#f7f4ee',
        theme_color: '#17212b',
        icons: [
          { src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' },
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icon-maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,wasm,woff2}'],
        maximumFileSizeToCacheInBytes: 16 << 20,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/(healthz|readyz)$/],
        clientsClaim: true,
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  build: { target: 'es2022', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  worker: { format: 'es' },
})
