import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { VitePWA } from 'vite-plugin-pwa'
import { defineConfig } from 'vitest/config'

const root = fileURLToPath(new URL('.', import.meta.url))
interface Chunk {
  readonly file: string
  readonly css?: readonly string[]
  readonly assets?: readonly string[]
  readonly imports?: readonly string[]
  readonly dynamicImports?: readonly string[]
}

/** What the field page is made of, out of the build's own list: nothing else is kept on a phone. */
function neededBy(entry: string): string[] {
  const chunks = JSON.parse(readFileSync(`${root}/dist/.vite/manifest.json`, 'utf8')) as Record<string, Chunk>
  const seen = new Set<string>()
  const files = new Set<string>()
  const walk = (name: string): void => {
    const chunk = chunks[name]
    if (!chunk || seen.has(name)) return
    seen.add(name)
    for (const file of [chunk.file, ...(chunk.css ?? []), ...(chunk.assets ?? [])]) files.add(file)
    for (const one of [...(chunk.imports ?? []), ...(chunk.dynamicImports ?? [])]) walk(one)
  }
  walk(entry)
  return [...files].filter((file) => !file.endsWith('.html') && !file.endsWith('.woff'))
}

export default defineConfig({
  plugins: [
    // Whitespace counts in a template as it does in HTML, so that laying a template out anew changes no picture.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src/field',
      filename: 'worker.ts',
      injectRegister: false,
      manifest: false,
      injectManifest: {
        globPatterns: ['assets/*'],
        manifestTransforms: [
          () => {
            const files = neededBy('field.html')
            // The page itself is asked for by its address; it is another whenever anything it needs is.
            const revision = createHash('sha256').update(files.sort().join()).digest('hex').slice(0, 16)
            const manifest = files.map((file) => ({ url: `/${file}`, revision: null, size: 0 }))
            return { manifest: [...manifest, { url: '/field/', revision, size: 0 }], warnings: [] }
          },
        ],
      },
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    target: 'es2022',
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
    manifest: true,
    rollupOptions: { input: { index: `${root}index.html`, field: `${root}field.html` } },
  },
  server: { port: 8422, proxy: { '/api': 'http://127.0.0.1:8420' } },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
})
