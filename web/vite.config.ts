import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 2500, license: { fileName: 'licences.md' } },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.PORT ?? 8000}` } },
})
