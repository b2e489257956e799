// @ts-check
/** Paints the examples of docs/gallery.md into docs/gallery/: `npm run docs`. */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { openReport } from 'acuarela/report'
import { toSvg } from 'acuarela/svg'
import { toOds } from 'acuarela/workbook'
import { sheetPicture } from './sheet-picture.js'

const docs = new URL('../docs/', import.meta.url)

/** The pictures by file name. */
export async function galleryPictures() {
  const blocks = [...readFileSync(new URL('gallery.md', docs), 'utf8').matchAll(/```yaml\n([\s\S]*?)```/g)].map(
    ([, y]) => y,
  )
  const [base, ...examples] = blocks
  const data = Object.fromEntries(
    ['sales', 'budget'].map((name) => [name, readFileSync(new URL(`../examples/brezal/${name}.csv`, import.meta.url))]),
  )
  const pictures = /** @type {Map<string, string>} */ (new Map())
  // All in one report: what is painted only in one of them is distinguished by its name.
  const report = `${base}exhibits:\n${examples.map((example) => example.replace(/^exhibits:\n/, '')).join('')}`
  const page = await openReport(report, data)
  for (const { name, text } of await toSvg(page)) pictures.set(`gallery-${name}.svg`, text)
  pictures.set('gallery-workbook.svg', sheetPicture(await toOds(page), 'Shops'))
  return pictures
}

if (process.argv[1]?.endsWith('gallery.js')) {
  const folder = new URL('gallery/', docs)
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  for (const [name, text] of await galleryPictures()) writeFileSync(new URL(name, folder), text)
}
