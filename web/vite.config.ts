import tailwind from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const isolation = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' }

/**
 * What is drawn at every step of a drag: of it the compiler remembers, component by component, what the step does not change. It
 * takes for granted that nothing outside props, state and hooks changes, which does not hold of tables, forms and the open slot.
 */
const drawnWhileDragged = ['/web/stations/loops/', '/web/sentence/', '/web/chart/']

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react({ compiler: { sources: drawnWhileDragged } }), tailwind()],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: { headers: isolation, proxy: { '/api': 'http://127.0.0.1:4180' } },
})
