import type { Cell, ColumnHeading, GridExhibit, Row, Trend } from '../../page/page.js'
import { escapeText } from '../markup.js'
import { type WrittenRow, writtenRows } from '../rows.js'
import { cellInside, type Frames, headingMarkup, tableCell, trendMarkup, type Writing, wideClass } from './cell.js'

/** From this many columns on a heatmap takes the whole width. */
const MANY = 12
/** With more columns than this the numbers of a heatmap stand upright on paper, which cannot be scrolled. */
const UPRIGHT = 24

/** A table, list or heatmap as semantic HTML: caption, scopes, words for every icon. */
export function gridMarkup(exhibit: GridExhibit, writing: Writing): string {
  const heat = exhibit.kind === 'heatmap'
  const edges = heat ? yearEdges(exhibit.columnHeadings) : new Set<number>()
  const head = exhibit.columnHeadings.map((row, r) => headMarkup(exhibit, row, r, edges)).join('')
  const rows = writtenRows(exhibit)
  const frames = exhibit.styles.map((): Frames => new Map())
  let body = ''
  for (const own of rows) body += `${rowMarkup(own, exhibit, writing, edges, frames)}\n`
  const caption = [exhibit.title, exhibit.note, exhibit.periodText]
    .filter((text) => text !== null && text !== '')
    .join(', ')
  const width = exhibit.columnHeadings.at(-1)?.length ?? 0
  const kind = heat
    ? `heat${width >= MANY ? ' full-width' : ''}${width > UPRIGHT ? ' upright' : ''}`
    : exhibit.spacing === 'normal'
      ? 'grid'
      : `grid ${exhibit.spacing}`
  const none = rows.length === 0 ? '<p class="none">No rows.</p>' : ''
  return `<div class="${wideClass(rows.length)}" role="region" aria-label="${escapeText(`${exhibit.title}, table`)}" tabindex="0"><table class="${kind}"><caption class="v">${escapeText(caption)}</caption><thead>${head}</thead>
<tbody>${body}</tbody></table></div>${none}`
}

/** Columns at which a new outer heading begins. */
function yearEdges(headings: GridExhibit['columnHeadings']): Set<number> {
  const edges = new Set<number>()
  if (headings.length < 2) return edges
  let at = 0
  for (const heading of headings[0]) {
    if (at > 0) edges.add(at)
    at += heading.span
  }
  return edges
}

/** Cells with the columns of lines among them, each where it stands. */
function withTrends(
  exhibit: GridExhibit,
  cells: readonly { at: number; markup: string }[],
  trend: (k: number) => string,
): string {
  let out = ''
  let k = 0
  for (const { at, markup } of cells) {
    for (; k < exhibit.trends.length && exhibit.trends[k].at <= at; k++) out += trend(k)
    out += markup
  }
  for (; k < exhibit.trends.length; k++) out += trend(k)
  return out
}

function headMarkup(
  exhibit: GridExhibit,
  row: readonly ColumnHeading[],
  r: number,
  edges: ReadonlySet<number>,
): string {
  const heat = exhibit.kind === 'heatmap'
  const last = r === exhibit.columnHeadings.length - 1
  const corners = exhibit.nest === 'columns' ? exhibit.corners : [exhibit.corner]
  // The corners name the row headings, once, in the last line of the head.
  const corner = corners.map((text) => (last ? `<th scope="col">${escapeText(text)}</th>` : '<td></td>')).join('')
  let at = 0
  const cells = row.map((heading) => {
    const kinds = [heading.span > 1 || (heat && !last) ? 'm' : 'n']
    if (heat && !last) kinds.push('y')
    if (edges.has(at)) kinds.push('e')
    const own = at
    at += heading.span
    const span = heading.span > 1 ? ` colspan="${heading.span}" scope="colgroup"` : ' scope="col"'
    if (heading.text === '')
      return { at: own, markup: `<td${heading.span > 1 ? ` colspan="${heading.span}"` : ''}></td>` }
    return { at: own, markup: `<th class="${kinds.join(' ')}"${span}>${escapeText(heading.text)}</th>` }
  })
  const lines = (k: number): string =>
    last ? `<th scope="col" class="k">${escapeText(exhibit.trends[k].label)}</th>` : '<td></td>'
  return `<tr>${corner}${withTrends(exhibit, cells, lines)}</tr>`
}

function rowMarkup(
  { row, heads, own }: WrittenRow,
  exhibit: GridExhibit,
  writing: Writing,
  edges: ReadonlySet<number>,
  frames: readonly Frames[],
): string {
  const kind = rowKind(row, heads, exhibit)
  let headings = ''
  for (let k = 0; k < heads.length; k++) {
    const text = heads[k]
    if (text === '' && k !== own) headings += '<td></td>'
    else if (k === own)
      headings += `<th scope=${row.group ? 'rowgroup' : 'row'}>${headingMarkup(row.heading, text, writing)}</th>`
    else headings += `<th scope=rowgroup><span>${escapeText(text)}</span></th>`
  }
  let out = `<tr${kind}>${headings}`
  const { trends, styles } = exhibit
  let k = 0
  for (let c = 0; c < row.cells.length; c++) {
    for (; k < trends.length && trends[k].at <= c; k++) out += lineCell(row.trends[k])
    const cell = row.cells[c]
    out +=
      exhibit.kind === 'heatmap'
        ? heatCell(cell, writing, edges.has(c))
        : tableCell(cell, writing, styles[c], frames[c])
  }
  for (; k < trends.length; k++) out += lineCell(row.trends[k])
  return `${out}</tr>`
}

/** The class of a row, by what it is. */
function rowKind(row: Row, heads: readonly string[], { nest }: GridExhibit): string {
  const indent = row.depth > 1 && nest === 'indented' ? `d${Math.min(row.depth, 4)}` : ''
  const first = nest === 'columns' && heads[0] !== '' ? 'f' : ''
  const own = row.group ? 'g' : row.heading.level === 'detail' ? first : row.depth === 0 ? 't' : 's'
  if (indent === '' && own === '') return ''
  return ` class="${indent}${indent !== '' && own !== '' ? ' ' : ''}${own}"`
}

function lineCell(trend: Trend | null): string {
  return `<td class=k>${trendMarkup(trend)}`
}

function heatCell(cell: Cell | null, writing: Writing, edge: boolean): string {
  if (cell === null) return '<td>'
  const { look } = cell
  // A cell without a value is hatched, so that it is not taken for a low one.
  const kinds = [writing.classes.of(look), cell.value === null && look.fill === null ? 'no' : '', edge ? 'e' : '']
    .filter((k) => k !== '')
    .join(' ')
  const kind = kinds === '' ? '' : ` class="${kinds}"`
  return `<td${kind} title="${escapeText(cell.hint)}">${cellInside(cell, writing)}`
}

/** The numbers that are hidden, as a plain table behind a heading to be opened: hovering is not for everyone. */
export function numbersMarkup(exhibit: GridExhibit): string {
  if (!exhibit.rows.some((row) => row.cells.some((cell) => cell?.look.hide === 'value'))) return ''
  const head = exhibit.columnHeadings
    .map((row, r) => {
      const corner =
        r === exhibit.columnHeadings.length - 1 ? `<th scope="col">${escapeText(exhibit.corner)}</th>` : '<td></td>'
      const cells = row.map(({ text, span }) =>
        text === ''
          ? `<td${span > 1 ? ` colspan="${span}"` : ''}></td>`
          : span > 1
            ? `<th class="m" colspan="${span}" scope="colgroup">${escapeText(text)}</th>`
            : `<th class="n" scope="col">${escapeText(text)}</th>`,
      )
      return `<tr>${corner}${cells.join('')}</tr>`
    })
    .join('')
  const rows = exhibit.rows.map(
    ({ heading, cells }) =>
      `<tr><th scope="row"><span>${escapeText(heading.text)}</span></th>${cells.map((cell) => `<td><span><b>${escapeText(cell?.text ?? '')}</b></span></td>`).join('')}</tr>`,
  )
  return `<details class="nums"><summary>Numbers</summary><div class="wide" role="region" aria-label="${escapeText(`${exhibit.title}, numbers`)}" tabindex="0"><table class="grid close"><caption class="v">${escapeText(`${exhibit.title}, numbers`)}</caption><thead>${head}</thead><tbody>${rows.join('')}</tbody></table></div></details>`
}
