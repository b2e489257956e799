import type { GridExhibit, Page, RecordsExhibit } from '../../page/page.js'
import { writtenRows } from '../../view/model/rows.js'

/**
 * A table as text with tabs, for pasting into other programs. Undefined for an exhibit without a
 * table.
 */
export function tableText({ exhibits }: Page, name: string): string | undefined {
  const exhibit = exhibits.find((candidate) => candidate.name === name)
  if (exhibit === undefined) return undefined
  const lines = exhibit.kind === 'records' ? recordLines(exhibit) : 'rows' in exhibit ? gridLines(exhibit) : undefined
  return lines?.map((cells) => `${cells.map((text) => text.replace(/\s+/g, ' ').trim()).join('\t')}\n`).join('')
}

function gridLines(exhibit: GridExhibit): string[][] {
  const corners = exhibit.nest === 'columns' ? exhibit.corners : [exhibit.corner]
  const last = exhibit.columnHeadings.length - 1
  const heads = exhibit.columnHeadings.map((row, r) => [
    ...corners.map((text) => (r === last ? text : '')),
    ...row.flatMap(({ text, span }) => [text, ...Array.from({ length: span - 1 }, () => '')]),
  ])
  const rows = writtenRows(exhibit)
    .slice()
    .map(({ row, heads }) => [...heads, ...row.cells.map((cell) => cell?.text ?? '')])
  return [...heads, ...rows]
}

function recordLines({ columns, records }: RecordsExhibit): string[][] {
  return [
    ['Row', ...columns.map(({ label }) => label)],
    ...records.flatMap(({ record, cells, group }) => [
      ...(group === undefined ? [] : [[group]]),
      [String(record), ...cells.map(({ text }) => text)],
    ]),
  ]
}
