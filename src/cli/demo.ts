import { readFile } from 'node:fs/promises'
import { join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { writeFiles } from '../node/files.js'
import { openReportFile } from '../node/report.js'
import type { Io } from './io.js'
import { FORMATS, render } from './paint.js'
import { reading } from './reading.js'

interface Generator {
  generateSales(): string
  generateBudget(): string
}

const REPORT = 'spring.acuarela.yaml'

/** `acuarela demo`: the whole way on shipped data, from order lines to painted pages, and what they say. */
export async function demoCommand(
  { out = 'out', quiet = false }: { out?: string; quiet?: boolean },
  io: Io,
): Promise<void> {
  // From dist/cli to the package's own examples.
  const shipped = new URL('../../examples/brezal/', import.meta.url)
  const { generateSales, generateBudget } = (await import(new URL('generate.js', shipped).href)) as Generator
  const folder = resolve(io.cwd, out)
  const report = join(folder, REPORT)
  const data = [
    { path: join(folder, 'sales.csv'), text: generateSales() },
    { path: join(folder, 'budget.csv'), text: generateBudget() },
    { path: report, text: await readFile(fileURLToPath(new URL(REPORT, shipped)), 'utf8') },
  ]
  await writeFiles(data)
  const shown = (path: string): string => relative(io.cwd, path) || path
  const page = await openReportFile(report, { today: io.today() }, shown(report))
  const pages = await render(
    page,
    FORMATS,
    FORMATS.map((format) => join(folder, `spring.${format}`)),
  )
  await writeFiles(pages)
  if (quiet) return
  const files = [...data, ...pages].map(
    ({ path, text }) => `  ${shown(path).padEnd(width(data, shown))}  ${size(text)}`,
  )
  io.out(
    `Wrote\n${files.join('\n')}\n\n${reading(page)}\nOpen ${shown(pages[0].path)} in a browser. Then try:\n  npx acuarela paint ${shown(report)} --out ${shown(pages[0].path)} --set target=70000\n`,
  )
}

function width(files: readonly { path: string }[], shown: (path: string) => string): number {
  return Math.max(...files.map(({ path }) => shown(path).length))
}

function size(text: string): string {
  const bytes = Buffer.byteLength(text)
  return bytes < 1_000_000 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}
