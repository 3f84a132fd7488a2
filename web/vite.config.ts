import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  build: { target: 'es2022', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  worker: { format: 'es' },
})
