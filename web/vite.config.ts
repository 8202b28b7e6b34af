import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

/** Pictures that a browser keeps are those of the code that drew them. */
const drawing = createHash('sha256')
for (const folder of ['src/stage', 'src/theme', 'src/api'])
  for (const file of readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort()) if (/\.(ts|tsx|css)$/.test(file)) drawing.update(readFileSync(`${folder}/${file}`))

export default defineConfig({
  plugins: [react()],
  define: { __DRAWN_BY__: JSON.stringify(drawing.digest('hex')) },
  build: { chunkSizeWarningLimit: 900, license: { fileName: 'licences.md' } },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.PORT ?? 8000}` } },
})
