import { fileURLToPath } from 'node:url'

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  build: { target: 'es2022', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  worker: { format: 'es' },
})
