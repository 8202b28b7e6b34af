import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import react from '@vitejs/plugin-react'
import { defineConfig, type Plugin } from 'vite'

/** Pictures that a browser keeps are those of the code that drew them. */
const drawing = createHash('sha256')
for (const folder of ['src/stage', 'src/theme', 'src/api'])
  for (const file of readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort()) if (/\.(ts|tsx|css)$/.test(file)) drawing.update(readFileSync(`${folder}/${file}`))

/** What every page needs is asked for with the page, not only once its first script runs. */
const EARLY = new Set(['libraries', 'shared', 'app'])
const early: Plugin = {
  name: 'early',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.values(bundle)
        .filter((file) => file.type === 'chunk' && EARLY.has(file.name))
        .map((file) => ({ tag: 'link', attrs: { rel: 'modulepreload', crossorigin: true, href: `/${file.fileName}` } })),
  },
}

export default defineConfig({
  plugins: [react(), early],
  define: { __DRAWN_BY__: JSON.stringify(drawing.digest('hex')) },
  build: {
    chunkSizeWarningLimit: 1100,
    license: { fileName: 'licences.md' },
    // few files for what comes with every bench: forty of them take longer to ask for than to read
    rolldownOptions: {
      output: {
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [
            { name: 'asking', test: /src\/(api|ui\/saveBlob)|node_modules\/(openapi-fetch|@msgpack|zustand|react)\//, priority: 5 },
            { name: 'shared', test: /src\/(shell|state|ui|stations|theme|stage\/(views|quality|keptPictures))(?!.*channels)/, priority: 4, minShareCount: 2 },
            { name: 'stage', test: /src\/stage\/|node_modules\/three/, priority: 3, minShareCount: 2 },
            { name: 'libraries', test: /node_modules\//, priority: 2, minShareCount: 2 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.PORT ?? 8000}` } },
})
