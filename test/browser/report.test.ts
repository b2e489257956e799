import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { writeParquet } from '../support/engines.js'
import { acuarela, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')
// Inside the package, so that it can be imported by its public names.
const outDir = join(ROOT, 'out', `browser-${process.pid}`)
const browser = useBrowser()

const ENTRY = `import { openReport } from 'acuarela/report'
import { toJson } from 'acuarela/data'
globalThis.answer = async (yaml, data) => toJson(await openReport(yaml, data))
`

let server: PreviewServer
let url = ''

beforeAll(async () => {
  mkdirSync(outDir, { recursive: true })
  writeFileSync(join(outDir, 'entry.js'), ENTRY)
  writeFileSync(
    join(outDir, 'index.html'),
    '<!doctype html><title>t</title><link rel="icon" href="data:,"><script type="module" src="/entry.js"></script>',
  )
  const config = { root: outDir, logLevel: 'error', configFile: false } as const
  await build(config)
  server = await preview({ ...config, preview: { port: 0, host: '127.0.0.1' } })
  const address = server.httpServer.address()
  url = `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/`
})
afterAll(async () => {
  await server.close()
  rmSync(outDir, { recursive: true, force: true })
})

test('a whole report is answered in a browser as the tool answers it, byte for byte; nothing of Node is in it', async () => {
  const parts = readDist()
  expect(parts.length).toBeGreaterThan(100_000)
  // Packages that need a database driver or file system: a browser has neither.
  expect(parts).not.toMatch(/(?:from\s*|import\s*\(\s*)["'`](?:node:|pg["'`]|@duckdb)/)
  const { page, faults } = await browser.open()
  await page.goto(url)
  for (const [name, files] of Object.entries({
    spring: { sales: 'sales.csv', budget: 'budget.csv', outlets: 'shops.csv' },
    footfall: { doors: 'footfall.csv' },
    prices: { prices: 'prices.csv' },
  })) {
    const file = `${name}.acuarela.yaml`
    const data = Object.fromEntries(
      Object.entries(files).map(([source, csv]) => [source, readFileSync(join(BREZAL, csv), 'utf8')]),
    )
    const inBrowser = await page.evaluate(run, { yaml: readFileSync(join(BREZAL, file), 'utf8'), data })
    const byTool = await acuarela(['paint', file, '--to', 'json'], BREZAL)
    expect(inBrowser === byTool.out, name).toBe(true)
  }
  expect(faults).toEqual([])
})

test('Parquet is read in a browser too', async () => {
  const file = join(outDir, 'rows.parquet')
  await writeParquet(
    file,
    [
      { shop: 'a', day: '2025-01-31', amount: 1.25 },
      { shop: 'b', day: '2025-02-01', amount: null },
      { shop: 'a', day: '2025-02-01', amount: 2.5 },
    ],
    { shop: 'text', day: 'date', amount: 'numeric(12,2)' },
  )
  const { page, faults } = await browser.open()
  await page.goto(url)
  const yaml = `title: T
sources: { rows: { file: rows.parquet, date: day } }
measures: { x: sum(amount) }
exhibits: [{ table: { rows: shop, columns: month, show: x } }]`
  const text = await page.evaluate(run, { yaml, data: {}, bytes: { rows: [...readFileSync(file)] } })
  const { exhibits } = JSON.parse(text) as { exhibits: { cells: { value: number | null }[] }[] }
  expect(exhibits[0].cells.map((c) => c.value)).toEqual([1.25, 2.5, null, null])
  expect(faults).toEqual([])
})

/** Everything that a browser may load. */
function readDist(): string {
  const assets = join(outDir, 'dist/assets')
  return readdirSync(assets)
    .filter((name) => name.endsWith('.js'))
    .map((name) => readFileSync(join(assets, name), 'utf8'))
    .join('\n')
}

async function run(given: {
  yaml: string
  data: Record<string, string>
  bytes?: Record<string, number[]>
}): Promise<string> {
  const bytes = Object.fromEntries(
    Object.entries(given.bytes ?? {}).map(([name, list]) => [name, Uint8Array.from(list)]),
  )
  const { answer } = globalThis as unknown as { answer(yaml: string, data: object): Promise<string> }
  return answer(given.yaml, { ...given.data, ...bytes })
}
