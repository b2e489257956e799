import { pngOf } from 'acuarela/live'
import type { Page } from 'acuarela/report'
import type { WorkbenchState } from 'acuarela/workbench'
import { download } from './download.js'

/** Files of a page: what `paint` writes that needs no server. */
async function filesOf(
  page: Page,
  to: string,
  rules: WorkbenchState['rules'],
): Promise<[name: string, content: BlobPart, type: string][]> {
  const stem = page.title.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'report'
  if (to === 'html') {
    const { toHtml } = await import('acuarela/html')
    return [[`${stem}.html`, await toHtml(page), 'text/html']]
  }
  if (to === 'svg') {
    const { toSvg } = await import('acuarela/svg')
    return (await toSvg(page)).map(({ name, text }) => [`${stem}-${name}.svg`, text, 'image/svg+xml'])
  }
  if (to === 'ods') {
    const { toOds } = await import('acuarela/workbook')
    const bytes = await toOds(page, {
      rules: rules.filter(({ paused }) => !paused).map(({ title, sentence }) => ({ title, sentence })),
      png: (svgs) => Promise.all(svgs.map(pngOf)),
    })
    return [[`${stem}.ods`, bytes as BlobPart, 'application/vnd.oasis.opendocument.spreadsheet']]
  }
  if (to === 'text') {
    const { toText } = await import('acuarela/terminal')
    return [[`${stem}.txt`, toText(page, { colors: 1 }), 'text/plain']]
  }
  const { toCsv, toJson } = await import('acuarela/data')
  if (to === 'csv') return [[`${stem}.csv`, toCsv(page), 'text/csv']]
  return [[`${stem}.json`, toJson(page), 'application/json']]
}

/** Writes the page as downloads. */
export async function exported(page: Page, to: string, rules: WorkbenchState['rules']): Promise<void> {
  for (const [name, content, type] of await filesOf(page, to, rules)) download(name, type, content)
}
