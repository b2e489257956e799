import { join } from 'node:path'
import axe from 'axe-core'
import type { Page } from 'playwright-core'
import { type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect } from 'vitest'
import { useBrowser } from './browser.js'
import { ROOT } from './tool.js'

/** The built workbench in Chromium, from a file server that does nothing else. */
export function usePage(): {
  address(): string
  /** A page with the demo open. */
  opened(): Promise<{ page: Page; faults: string[] }>
  /** Opens files in place of the demo. */
  give(page: Page, files: Readonly<Record<string, string | Uint8Array>>): Promise<void>
} {
  const browser = useBrowser()
  let server: PreviewServer | undefined
  let address = ''
  beforeAll(async () => {
    const root = join(ROOT, 'examples/workbench')
    // As it was built for the package.
    const build = { outDir: join(ROOT, 'dist/workbench-page') }
    const options = { root, logLevel: 'error' as const, configFile: join(root, 'vite.config.ts'), build }
    server = await preview({ ...options, preview: { port: 0, host: '127.0.0.1' } })
    const own = server.httpServer.address()
    address = `http://127.0.0.1:${typeof own === 'object' ? own?.port : ''}/`
  })
  afterAll(async () => server?.close())
  return {
    address: () => address,
    async opened() {
      const { page, faults } = await browser.open()
      page.setDefaultTimeout(30_000)
      await watchText(page)
      await page.goto(address)
      await painted(page)
      return { page, faults }
    },
    async give(page, files) {
      const [first] = Object.keys(files)
      await page.getByLabel('Files', { exact: true }).setInputFiles(
        Object.entries(files).map(([name, content]) => ({
          name,
          mimeType: 'text/plain',
          buffer: Buffer.from(content as string),
        })),
      )
      const text = Object.entries(files).find(([name]) => name.endsWith('.acuarela.yaml'))?.[1]
      await expect.poll(() => page.locator('.brand').textContent(), { timeout: 20_000 }).toContain(first.split('.')[0])
      if (text !== undefined) await expect.poll(() => textOf(page), { timeout: 20_000 }).toBe(text)
      else await painted(page)
    },
  }
}

/** The page shows what the text says. */
export async function painted(page: Page): Promise<void> {
  await page.locator('html[data-ready=yes]').waitFor()
  await page.locator('.report .main:not([aria-busy=true])').waitFor()
}

/** Listens to what the engine tells the page: the text is seldom drawn whole. */
export async function watchText(page: Page): Promise<void> {
  await page.addInitScript(() => {
    // A page of an earlier test has it already.
    if ('watchesText' in window) return
    Object.assign(window, { watchesText: true })
    const Own = window.Worker
    window.Worker = class extends Own {
      constructor(...given: ConstructorParameters<typeof Own>) {
        super(...given)
        this.addEventListener(
          'message',
          ({ data }: MessageEvent<{ value?: { draft?: { text: string } } } | undefined>) => {
            const text = data?.value?.draft?.text
            if (text !== undefined) Object.assign(window, { presentText: text })
          },
        )
      }
    }
  })
}

/** The whole present text. */
export const textOf = (page: Page): Promise<string> =>
  page.evaluate(() => (window as unknown as { presentText: string }).presentText)

/** What axe finds in the present state: in all of it, or around the report. */
export async function violations(page: Page, withReport = true): Promise<string[]> {
  await page.evaluate(axe.source)
  const { violations: found } = await page.evaluate(
    (whole) =>
      (window as unknown as { axe: typeof axe }).axe.run(
        whole ? document : { include: [['body']], exclude: [['.report .page']] },
        { resultTypes: ['violations'] },
      ),
    withReport,
  )
  return found.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 140)}`)
}
