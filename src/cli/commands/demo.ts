import { readFile } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { type OutFile, writeFiles } from '../../node/files.js'
import { openLiveFile } from '../../node/report.js'
import { OUTPUTS } from '../../output/registry.js'
import { ProblemError, problem } from '../../problem/problem.js'
import type { Io } from '../io.js'
import { reading } from '../reading.js'

interface Generator {
  generateSales(): string
  generateBudget(): string
  generateShops(): string
}

const REPORT = 'spring.acuarela.yaml'
/** The outputs that it writes. */
const WRITTEN = ['html', 'json', 'ods']

/** `acuarela demo`: paints the demo report from its data files and prints what the pages show. */
export async function demoCommand(
  { out = 'out', quiet = false }: { out?: string; quiet?: boolean },
  io: Io,
): Promise<void> {
  // The examples of the package, seen from dist/cli.
  const shipped = new URL('../../examples/brezal/', import.meta.url)
  const { generateSales, generateBudget, generateShops } = (await import(
    new URL('generate.js', shipped).href
  )) as Generator
  const inFolder = (name: string, text: string | Uint8Array): OutFile => ({
    path: resolve(io.cwd, out, name),
    shown: join(out, name),
    text,
  })
  const data = [
    inFolder('sales.csv', generateSales()),
    inFolder('budget.csv', generateBudget()),
    inFolder('shops.csv', generateShops()),
    inFolder(REPORT, await readFile(fileURLToPath(new URL(REPORT, shipped)), 'utf8')),
  ]
  await writeFiles(data)
  const report = data[data.length - 1]
  const { page, live, rules } = await openLiveFile(report.path, { today: io.today() }, report.shown)
  const pages: OutFile[] = []
  for (const { key, render } of OUTPUTS.filter((output) => WRITTEN.includes(output.key)))
    for (const { content } of await render(page, { live, rules }, noRenderer))
      pages.push(inFolder(`spring.${key}`, content))
  await writeFiles(pages)
  if (quiet) return
  const all = [...data, ...pages]
  const width = Math.max(...all.map(({ shown }) => shown.length))
  const files = all.map(({ shown, text }) => `  ${shown.padEnd(width)}  ${size(text)}`)
  const again = `npx acuarela paint ${report.shown} --out ${pages[0].shown} --set targetLevel=110%`
  io.out(
    `Wrote\n${files.join('\n')}\n\n${reading(page)}\nOpen ${pages[0].shown} in a browser: move the target, filter, point at a cell. Then try:\n  ${again}\n`,
  )
}

/** The demo starts no browser: a workbook has its charts as SVG. */
function noRenderer(): Promise<never> {
  return Promise.reject(new ProblemError([problem('browser-missing', {})]))
}

function size(text: string | Uint8Array): string {
  const bytes = typeof text === 'string' ? Buffer.byteLength(text) : text.length
  return bytes < 1_000_000 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}
