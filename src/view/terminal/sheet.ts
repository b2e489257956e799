import { harmless } from '../../problem/print.js'
import { iconOf } from '../../style/cell-style.js'
import { blockBar, blockDot, blockTrend } from '../model/blocks.js'
import { glyphsOf, plainSigns, unclearWords } from '../model/glyph.js'
import type { Sheet, SheetCell, SheetRow } from '../model/sheet.js'
import { padEnd, padStart, widthOf } from './columns.js'
import type { Drawing } from './ink.js'

const BAR_PLACES = 12
const GAP = '  '
/** A row heading is cut to this share of the line. */
const HEADING_SHARE = 0.45

/** The content of a cell before it is coloured: its parts in order. */
interface Written {
  before: string
  text: string
  /** The icons after the number, at one place in a column. */
  mark: string
  after: string
}

/**
 * A table in lines that fit: columns that do not fit continue in tables below, with the row
 * headings.
 */
export function sheetLines(sheet: Sheet, drawing: Drawing, flat = false): string[] {
  // The cells of a heatmap touch: the gap is inside them.
  const gap = flat && drawing.ink.colored ? '' : GAP
  const inner = gap === '' ? 1 : 0
  const most = Number.isFinite(drawing.width) ? Math.max(8, Math.floor(drawing.width * HEADING_SHARE)) : drawing.width
  const unclear = unclearWords(
    sheet.rows.flatMap((row) => row.cells),
    drawing.ascii,
  )
  const written = sheet.rows.map((row) =>
    row.cells.map((cell, c) => writtenCell(cell, row, c < sheet.headings, unclear(cell), drawing, most)),
  )
  const labels = sheet.columns.map(({ label }) => harmless(label))
  // In each column drawings and icons are aligned left, numbers right.
  const widths = sheet.columns.map((_, c) => {
    const cells = written.map((row) => row[c])
    const parts = (part: keyof Written): number => Math.max(0, ...cells.map((cell) => widthOf(cell[part])))
    return { before: parts('before'), text: parts('text'), mark: parts('mark'), after: parts('after') }
  })
  const wide = widths.map(
    ({ before, text, mark, after }, c) =>
      Math.max(before + text + mark + after, widthOf(cut(labels[c], most))) + (c < sheet.headings ? 0 : 2 * inner),
  )
  const blocks = split(wide, sheet.headings, drawing.width, gap.length)
  return blocks.flatMap((block, b) => [
    ...(b > 0 ? [''] : []),
    ...headLines(sheet, block, wide, labels, drawing, gap.length),
    ...sheet.rows.map((row, r) => {
      const cells = block.map((c) => {
        const { before, text, mark, after } = written[r][c]
        const column = widths[c]
        const right = sheet.columns[c].right
        const lead = padEnd(before, column.before)
        const rest = padEnd(mark, column.mark) + padEnd(after, column.after)
        const side = c < sheet.headings ? 0 : inner
        const room = wide[c] - column.before - column.mark - column.after - side
        const line = (right ? padStart(text, room) : padEnd(text, room)) + rest + ' '.repeat(side)
        const look = boldly(row, row.cells[c])
        const { bar } = look
        // A bar has its own colour, whatever that of the number is.
        if (bar === null || row.cells[c].bar === null) return drawing.ink.cell(lead + line, look)
        return drawing.ink.cell(lead, { ...look, ink: bar.color }) + drawing.ink.cell(line, look)
      })
      return joined(cells, sheet.headings, gap).trimEnd()
    }),
  ])
}

/** The distance of headings, and of cells. */
function joined(cells: readonly string[], headings: number, gap: string): string {
  return cells.slice(0, headings).join(GAP) + GAP + cells.slice(headings).join(gap)
}

/** Groups and totals are bold, as in HTML. */
function boldly({ kind }: SheetRow, { look }: SheetCell): SheetCell['look'] {
  return kind === 'detail' || look.weight !== null ? look : { ...look, weight: 'bold' }
}

function writtenCell(
  cell: SheetCell,
  row: SheetRow,
  heading: boolean,
  unclear: string,
  drawing: Drawing,
  most: number,
): Written {
  const { look, bar, trend, flag, dot, icon } = cell
  if (trend !== null) return { before: blockTrend(trend, drawing.ascii), text: '', mark: '', after: '' }
  const marks = glyphsOf(look, icon, drawing.ascii)
  const drawn =
    bar === null
      ? ''
      : dot === null
        ? blockBar(bar, BAR_PLACES, drawing.ascii)
        : blockDot(bar, dot, BAR_PLACES, drawing.ascii)
  // Without colours hidden numbers are shown, and a status without a distinct character is printed
  // in words.
  const hidden = look.hide === 'value' && drawing.ink.colored
  const hasIcon = iconOf(look) !== null && marks.before + marks.after === '' && look.hide !== 'icon'
  const words = unclear !== '' && (hasIcon || !drawing.ink.colored) ? ` (${harmless(unclear)})` : ''
  const indent = heading ? '  '.repeat(row.indent) : ''
  const said = harmless(cell.text)
  const flagged = flag === null ? '' : ` ${harmless(drawing.ascii ? plainSigns(flag) : flag)}`
  const shown = hidden ? '' : indent + (heading ? cut(said, most - indent.length) : said)
  const before = [marks.before, drawn].filter((part) => part !== '')
  // A painted cell has a space at its sides.
  const pad = look.fill !== null && drawing.ink.colored ? ' ' : ''
  return {
    before: pad + before.map((part) => `${part} `).join(''),
    // Numbers end at one place, whatever stands behind some of them.
    text: heading ? shown + flagged + words : shown,
    mark: marks.after === '' ? '' : ` ${marks.after}`,
    after: (heading ? '' : flagged + words) + pad,
  }
}

function cut(text: string, width: number): string {
  if (widthOf(text) <= width) return text
  let out = ''
  for (const c of text) {
    if (widthOf(out + c) > width - 1) break
    out += c
  }
  return `${out}…`
}

/** Columns in blocks that fit beside the headings; a wider one has a block of its own. */
function split(widths: readonly number[], headings: number, width: number, gap: number): number[][] {
  const fixed = Array.from({ length: headings }, (_, i) => i)
  const room = width - fixed.reduce((sum, c) => sum + widths[c] + GAP.length, 0)
  const blocks: number[][] = []
  let used = 0
  for (let c = headings; c < widths.length; c++) {
    if (blocks.length === 0 || used + widths[c] > room) {
      blocks.push([...fixed])
      used = 0
    }
    blocks[blocks.length - 1].push(c)
    used += widths[c] + gap
  }
  return blocks.length === 0 ? [fixed] : blocks
}

function headLines(
  { columns, tops, headings }: Sheet,
  block: readonly number[],
  widths: readonly number[],
  labels: readonly string[],
  { ink }: Drawing,
  gap: number,
): string[] {
  const place = (c: number): { from: number; to: number } => {
    let from = 0
    for (const place of block) {
      if (place === c) return { from, to: from + widths[place] }
      from += widths[place] + (place < headings ? GAP.length : gap)
    }
    return { from: -1, to: -1 }
  }
  const above = tops.map((row) => {
    let line = ''
    for (const { text, from, span } of row) {
      const columns = block.filter((c) => c >= from && c < from + span)
      if (columns.length === 0 || text === '') continue
      const start = place(columns[0]).from
      const room = place(columns[columns.length - 1]).to - start
      const label = cut(harmless(text), Math.max(1, room))
      // A heading over several columns is aligned left; over one number, right.
      line = padEnd(line, start) + (columns.length > 1 ? label : padStart(label, room))
    }
    return ink.quiet(line)
  })
  const last = block.map((c) => {
    const label = cut(labels[c], widths[c])
    return columns[c].right ? padStart(label, widths[c]) : padEnd(label, widths[c])
  })
  return [...above, ink.quiet(joined(last, headings, ' '.repeat(gap)).trimEnd())]
}
