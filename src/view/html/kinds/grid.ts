import { type Cell, type ColumnHeading, type GridExhibit, hintOf, type Row, type Trend } from '../../../page/page.js'
import { escapeText } from '../../markup.js'
import { type ColumnPart, columnParts, rowAddress } from '../../model/address.js'
import { emptyText } from '../../model/parts.js'
import { measuredRows, type WrittenRow, type WrittenRows, writtenRows } from '../../model/rows.js'
import { neededWidth } from '../../model/width.js'
import {
  cellInside,
  type Frames,
  headingMarkup,
  isWholeRow,
  MIN_SCROLL_ROWS,
  tableCell,
  trendMarkup,
  type Writing,
  wideClass,
} from '../cells/cell.js'
import { fitOf, gridRoom } from '../cells/fit.js'

/** A heatmap with this many columns takes the whole width. */
const MIN_UPRIGHT_COLUMNS = 12
/** With more columns the numbers of a heatmap are rotated in print, which cannot be scrolled. */
const UPRIGHT_LENGTH = 24

/** A table, list or heatmap as semantic HTML: caption, scopes, words for every icon. */
export function gridMarkup(exhibit: GridExhibit, writing: Writing): string {
  const heat = exhibit.kind === 'heatmap'
  const { rows, write } = createRowWriter(exhibit, writing)
  const edges = edgesOf(exhibit)
  const head = exhibit.columnHeadings.map((row, r) => headMarkup(exhibit, row, r, edges)).join('')
  const long = isLong(exhibit, writing)
  const parts = long ? undefined : writing.parted?.(rows.length, totalsOf(rows).bottom)
  const all = (from: number, to: number): string =>
    rows
      .slice(from, to)
      .map((row) => `${write(row)}\n`)
      .join('')
  const caption = [exhibit.title, exhibit.note, exhibit.periodText]
    .filter((text) => text !== null && text !== '')
    .join(', ')
  const width = exhibit.columnHeadings.at(-1)?.length ?? 0
  const kind = heat
    ? `heat${width >= MIN_UPRIGHT_COLUMNS ? ' full-width' : ''}${width > UPRIGHT_LENGTH ? ' upright' : ''}`
    : exhibit.spacing === 'normal'
      ? 'grid'
      : `grid ${exhibit.spacing}`
  // The numbers of wide heatmaps are rotated instead.
  const fit = heat ? '' : fitOf(gridRoom(exhibit, rows))
  const empty = emptyText(exhibit)
  const none = empty === null ? '' : `<p class="none">${empty}</p>`
  const count = long ? ` aria-rowcount="${rows.length + exhibit.columnHeadings.length}"` : ''
  const bodies = long
    ? longBodies(exhibit, rows, write, writing)
    : `<tbody>${parts === undefined ? all(0, rows.length) : all(0, parts.shown) + all(parts.end, rows.length)}</tbody>`
  const table = (label: string, attributes: string, inside: string): string =>
    `<div class="${wideClass(rows.length)}${isWhole(exhibit) ? ' whole' : ''}" role="region" aria-label="${escapeText(`${exhibit.title}, ${label}`)}" tabindex="0"><table class="${kind}"${attributes}${fit}><caption class="v">${escapeText(caption)}</caption><thead>${head}</thead>
${inside}</table></div>`
  const more =
    parts === undefined
      ? ''
      : `<noscript>${table('table, other rows', '', `<tbody>${all(parts.shown, parts.readable)}</tbody>`)}</noscript>${parts.note}`
  return `${table('table', count, bodies)}${more}${none}`
}

/** Writes the rows of a table one by one. */
export interface RowWriter {
  rows: WrittenRows
  write(row: WrittenRow): string
}

/** The context of all rows of a table. */
interface RowParts {
  edges: ReadonlySet<number>
  frames: readonly Frames[]
  parts: readonly ColumnPart[]
}

export function createRowWriter(exhibit: GridExhibit, writing: Writing): RowWriter {
  const edges = edgesOf(exhibit)
  const frames = exhibit.styles.map((): Frames => new Map())
  const rows = writing.seen?.written.get(exhibit) ?? writtenRows(exhibit)
  writing.seen?.written.set(exhibit, rows)
  const options = { edges, frames, parts: columnParts(exhibit) }
  return { rows, write: (row) => rowMarkup(row, exhibit, writing, options) }
}

/** A table so wide fits the page with its margins, in pixels. */
const WHOLE_WIDTH = 1100

/** Whether the charts of a table's trends may reach over its edge, as it never scrolls. */
function isWhole(exhibit: GridExhibit): boolean {
  return (
    exhibit.trends.length > 0 &&
    exhibit.rows.length <= MIN_SCROLL_ROWS &&
    (neededWidth(exhibit) ?? WHOLE_WIDTH) < WHOLE_WIDTH
  )
}

/** Whether a table is written without its rows. */
function isLong({ rows }: GridExhibit, { long }: Writing): boolean {
  return long !== undefined && rows.length > long
}

/** The numbers of total rows at the top and at the bottom, which stay visible. */
export function totalsOf(rows: WrittenRows): { top: number; bottom: number } {
  const isTotal = (row: WrittenRow | undefined): boolean => row?.row.depth === 0
  return { top: isTotal(rows.at(0)) ? 1 : 0, bottom: rows.length > 1 && isTotal(rows.at(-1)) ? 1 : 0 }
}

/**
 * The parts of a long table: a hidden row with the widest text of each column, so that column
 * widths stay constant; its totals; and the container of the rows.
 */
function longBodies(
  exhibit: GridExhibit,
  rows: WrittenRows,
  write: RowWriter['write'],
  { classes, seen }: Writing,
): string {
  const { top, bottom } = totalsOf(rows)
  const sums = (rows: readonly WrittenRow[], name: string): string =>
    rows.length === 0 ? '' : `<tbody class="${name}">${rows.map(write).join('')}</tbody>`
  // Styles of rows that are not visible get their classes now.
  for (const { styles } of exhibit.columns ?? []) for (const style of styles) classes.of(style)
  const heads = new Set(measuredRows(exhibit, rows).map(({ row }) => row.heading.style))
  for (const style of heads) classes.of(style)
  for (const { row } of exhibit.columns === undefined ? rows.slice() : []) {
    if (seen?.rows.has(row)) continue
    for (const cell of row.cells) if (cell !== null) classes.of(cell.style)
    seen?.rows.add(row)
  }
  return `<tbody class="size" aria-hidden="true">${write(widest(exhibit, rows))}</tbody>${sums(rows.slice(0, top), 'top')}<tbody class="rows" data-rows="${escapeText(exhibit.name)}"></tbody>${sums(rows.slice(rows.length - bottom), 'end')}`
}

function widest(exhibit: GridExhibit, rows: WrittenRows): WrittenRow {
  const { styles, columns } = exhibit
  const first = rows.at(0)
  if (first === undefined) throw new Error('a long table has rows')
  const heads = [...first.heads]
  const cells: (Cell | null)[] = styles.map((_, c) => columns?.[c].widest ?? null)
  const most = styles.map(() => -1)
  for (const { heads: rowHeads, row } of measuredRows(exhibit, rows)) {
    for (let k = 0; k < heads.length; k++) if (rowHeads[k].length > heads[k].length) heads[k] = rowHeads[k]
    for (let c = 0; columns === undefined && c < most.length; c++) {
      const cell = row.cells[c]
      if (cell === null) continue
      const length = cell.text.length + (cell.flag === null ? 0 : cell.flag.length) + (cell.style.icon === null ? 0 : 2)
      if (length <= most[c]) continue
      most[c] = length
      cells[c] = cell
    }
  }
  const heading = { ...first.row.heading, text: heads[first.own] }
  return { at: first.at, own: first.own, heads, row: { ...first.row, group: false, heading, cells } }
}

function edgesOf({ kind, columnHeadings }: GridExhibit): ReadonlySet<number> {
  return kind === 'heatmap' ? yearEdges(columnHeadings) : new Set()
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

/** Cells with the columns of trends among them. */
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
  // The corners label the row headings, once, in the last row of the head.
  const corner = corners
    .map((text) => (last ? `<th class="c" scope="col">${escapeText(text)}</th>` : '<td></td>'))
    .join('')
  let at = 0
  const cells = row.map((heading) => {
    const kinds = [heading.span > 1 || (heat && !last) ? 'm' : 'n']
    if (heat && !last) kinds.push('y')
    if (edges.has(at)) kinds.push('e')
    if (last && !heat && exhibit.styles[at].second) kinds.push('a')
    const column = at
    at += heading.span
    const span = heading.span > 1 ? ` colspan="${heading.span}" scope="colgroup"` : ' scope="col"'
    if (heading.text === '')
      return { at: column, markup: `<td${heading.span > 1 ? ` colspan="${heading.span}"` : ''}></td>` }
    return { at: column, markup: `<th class="${kinds.join(' ')}"${span}>${escapeText(heading.text)}</th>` }
  })
  const lines = (k: number): string =>
    last ? `<th scope="col" class="k">${escapeText(exhibit.trends[k].label)}</th>` : '<td></td>'
  return `<tr>${corner}${withTrends(exhibit, cells, lines)}</tr>`
}

function rowMarkup(
  { row, at, heads, own: level }: WrittenRow,
  exhibit: GridExhibit,
  writing: Writing,
  { edges, frames, parts }: RowParts,
): string {
  const kind = rowKind(row, heads, exhibit)
  let headings = ''
  for (let k = 0; k < heads.length; k++) {
    const text = heads[k]
    if (text === '' && k !== level) headings += '<td></td>'
    else if (k === level)
      headings += `<th scope=${row.group ? 'rowgroup' : 'row'}>${headingMarkup(row.heading, text, writing)}</th>`
    else headings += `<th scope=rowgroup><span>${escapeText(text)}</span></th>`
  }
  let out = `<tr${kind}${rowAddress(at, writing)}>${headings}`
  for (const part of parts) {
    if (part.is === 'heading') continue
    if (part.is === 'trend') out += lineCell(row.trends[part.at], writing)
    else {
      const cell = row.cells[part.at]
      out +=
        exhibit.kind === 'heatmap'
          ? heatCell(cell, writing, edges.has(part.at))
          : tableCell(cell, writing, exhibit.styles[part.at], frames[part.at], exhibit.styles[part.at].second && 'a')
    }
  }
  return `${out}</tr>`
}

/** The class of a row. */
function rowKind(row: Row, heads: readonly string[], { nest, kind }: GridExhibit): string {
  const indent = row.depth > 1 && nest === 'indented' ? `d${Math.min(row.depth, 4)}` : ''
  const first = nest === 'columns' && heads[0] !== '' ? 'f' : ''
  const className = row.group ? 'g' : row.heading.level === 'detail' ? first : row.depth === 0 ? 't' : 's'
  const whole = kind !== 'heatmap' && isWholeRow(row.cells) ? 'w' : ''
  const all = [indent, className, whole].filter((name) => name !== '')
  return all.length === 0 ? '' : ` class="${all.join(' ')}"`
}

function lineCell(trend: Trend | null, writing: Writing): string {
  return `<td class=k>${trendMarkup(trend, writing)}`
}

function heatCell(cell: Cell | null, writing: Writing, edge: boolean): string {
  if (cell === null) return '<td>'
  const { style: look } = cell
  // A cell without a value is hatched, so that it does not look like a low one.
  const kinds = [writing.classes.of(look), cell.value === null && look.fill === null ? 'no' : '', edge ? 'e' : '']
    .filter((k) => k !== '')
    .join(' ')
  const kind = kinds === '' ? '' : ` class="${kinds}"`
  return `<td${kind} title="${escapeText(hintOf(cell))}">${cellInside(cell, writing)}`
}

/** The hidden numbers as a plain table that can be opened: not everyone can hover. */
export function numbersMarkup(exhibit: GridExhibit, { classes }: Writing): string {
  // Tested by the few distinct styles instead of all cells.
  if (![...classes.looks()].some(({ hide }) => hide === 'value')) return ''
  if (!exhibit.rows.some((row) => row.cells.some((cell) => cell?.style.hide === 'value'))) return ''
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
  return `<details class="nums"><summary>The numbers</summary><div class="wide" role="region" aria-label="${escapeText(`${exhibit.title}, numbers`)}" tabindex="0"><table class="grid close"><caption class="v">${escapeText(`${exhibit.title}, numbers`)}</caption><thead>${head}</thead><tbody>${rows.join('')}</tbody></table></div></details>`
}
