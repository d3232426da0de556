import tailwind from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const isolation = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' }

export default defineConfig({
  root: import.meta.dirname,
  // what an edit does not change is not drawn anew, component by component: the compiler remembers it
  plugins: [react({ compiler: true }), tailwind()],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: { headers: isolation, proxy: { '/api': 'http://127.0.0.1:4180' } },
})
