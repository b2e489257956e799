import { type Cell, cellsOf, type Exhibit, type Page, type RecordCell } from '../page/page.js'
import { harmless } from '../problem/print.js'

/** Names that are listed; the rest is counted. */
const MAX_LISTED = 6

/**
 * A short summary of a page: the findings of each exhibit, statuses with their cells, and messages.
 * Safe for a terminal.
 */
export function reading(page: Page): string {
  const lines = [`${page.title}${page.asOfText === null ? '' : `, as of ${page.asOfText}`}`]
  for (const exhibit of page.exhibits)
    lines.push(
      '',
      `${exhibit.title}${exhibit.periodText === '' ? '' : ` (${exhibit.periodText})`}`,
      ...readingLines(exhibit),
    )
  if (page.messages.length > 0) lines.push('', ...page.messages.map((note) => `note: ${note}`))
  return `${lines.map((line) => harmless(line)).join('\n')}\n`
}

function readingLines(exhibit: Exhibit): string[] {
  if (exhibit.kind === 'reading') return exhibit.sentences.map(({ text }) => `  ${text}`)
  const cells = cellsOf(exhibit)
  const details = cells.filter((cell) => cell.level.row === 'detail' && cell.level.column === 'detail')
  const lines: string[] = []
  for (const legend of exhibit.legends) {
    const cells = details.filter((cell) => cell.measure === legend.measure && cell.style.status !== null)
    const seen = new Set<string>()
    for (const { style: look, label, limit } of legend.entries) {
      if (look.status === null || seen.has(look.status)) continue
      seen.add(look.status)
      const unusual = cells.filter(
        (cell) => cell.style.status === look.status && cell.style.paintedBy.status === legend.rule,
      )
      lines.push(
        `  ${legend.measureLabel}, ${label} (${limit}): ${unusual.length}${unusual.length === 0 ? '' : ` — ${cellList(unusual)}`}`,
      )
    }
  }
  const measures = [...new Set(details.map((cell) => cell.measure))]
  if (lines.length === 0)
    for (const measure of measures) lines.push(...extremes(details.filter((cell) => cell.measure === measure)))
  return [...lines, ...exhibit.messages.map((note) => `  note: ${note}`)]
}

function cellList(cells: readonly (Cell | RecordCell)[]): string {
  const names = cells.slice(0, MAX_LISTED).map((cell) => `${cell.name} ${cell.text}`)
  const more = cells.length - names.length
  return more > 0 ? `${names.join(', ')} and ${more} more` : names.join(', ')
}

/** A record column without numbers: its range of days, or its number of distinct texts. */
function textLine(label: string, texts: readonly string[]): string {
  const days = texts.filter((text) => /^\d{4}-\d{2}-\d{2}$/.test(text)).sort()
  if (days.length === texts.length) return `  ${label}: ${days[0]} to ${days.at(-1)}`
  const different = new Set(texts).size
  return `  ${label}: ${different} different ${different === 1 ? 'value' : 'values'}`
}

function extremes(cells: readonly (Cell | RecordCell)[]): string[] {
  const label = cells[0]?.measureLabel ?? ''
  const texts = cells.flatMap(({ value }) => (typeof value === 'string' ? [value] : []))
  if (texts.length > 0) return [textLine(label, texts)]
  const valued = cells
    .filter((cell) => typeof cell.value === 'number')
    .sort((a, b) => Number(b.value) - Number(a.value))
  const first = valued.at(0)
  const last = valued.at(-1)
  if (first === undefined || last === undefined) return [`  ${label}: missing everywhere`]
  return [`  ${label}: highest ${first.name} ${first.text}, lowest ${last.name} ${last.text}`]
}
