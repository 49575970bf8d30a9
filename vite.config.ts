import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

/** The page. */
export default defineConfig({
  root: 'src/web',
  plugins: [vue()],
  build: { outDir: '../../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 3000 },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4780' } },
})
