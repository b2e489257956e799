import type { Page } from '../../page/page.js'
import { drawPng } from '../dom/pictures.js'
import type { Update } from '../session/model.js'

/** The report as it is shown, and the rules that paint it. */
export interface Downloaded {
  shown: Update
  rules: readonly { rule: string; title: string }[]
}

/** The painted data of the report as a JSON file. */
export async function downloadData({ shown: { page } }: Downloaded, document: Document): Promise<void> {
  const { toJson } = await import('../../view/data/json.js')
  save(document, `${nameOf(page)}.json`, 'application/json', toJson(page))
}

/** The report as a workbook: as it is shown, with the rules that paint it. */
export async function downloadWorkbook({ shown, rules }: Downloaded, document: Document): Promise<void> {
  const { page } = shown
  const { writeOds, ODS_TYPE } = await import('../../view/workbook/document.js')
  const sentences = new Map(shown.sentences.map(({ rule, explanation }) => [rule, explanation]))
  const options = {
    rules: rules.flatMap(({ rule, title }) => {
      const sentence = sentences.get(rule)
      return sentence === undefined ? [] : [{ title, sentence }]
    }),
    document,
    // A page whose policy allows no pictures of data gives a workbook without them.
    png: (svgs: readonly string[]) =>
      Promise.all(svgs.map((svg) => drawPng(svg, document))).catch((): Uint8Array[] => []),
  }
  // Drawings go with the pages that have charts.
  const bytes = await writeOds(page, options, async (charts, drawing) =>
    (await import('../../view/svg/page.js')).drawSvg(charts, drawing),
  )
  save(document, `${nameOf(page)}.ods`, ODS_TYPE, bytes as BlobPart)
}

function nameOf({ title }: Page): string {
  return title.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'report'
}

function save(document: Document, name: string, type: string, content: BlobPart): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([content], { type }))
  link.download = name
  link.click()
  // Not at once: some browsers start to read it after the click.
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
