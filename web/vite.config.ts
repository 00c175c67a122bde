import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  // Whitespace counts in a template as it does in HTML, so that laying a template out anew changes no picture.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { target: 'es2022', assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { port: 8422, proxy: { '/api': 'http://127.0.0.1:8420' } },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
})
