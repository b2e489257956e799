import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll } from 'vitest'
import { ROOT } from './tool.js'

/**
 * Builds pages of test/browser/embed with a bundler, as an application would, and serves them for a
 * test file.
 */
export function useEmbedded(pages: readonly string[]): { url(page: string): string; folder(): string } {
  let server: PreviewServer | undefined
  let outDir = ''
  beforeAll(async () => {
    outDir = await mkdtemp(join(tmpdir(), 'acuarela-'))
    const root = join(ROOT, 'test/browser/embed')
    const common = { root, configFile: false, logLevel: 'error', build: { outDir, emptyOutDir: true } } as const
    const input = pages.map((name) => join(root, `${name}.html`))
    const output = { ...common.build, target: 'es2022', rollupOptions: { input } } as const
    await build({ ...common, build: output, worker: { format: 'es' } })
    server = await preview({ ...common, preview: { port: 0, host: '127.0.0.1' } })
  })
  afterAll(async () => {
    await server?.close()
    await rm(outDir, { recursive: true, force: true })
  })
  return {
    url(page) {
      const address = server?.httpServer.address()
      return `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/${page}`
    },
    folder: () => outDir,
  }
}
