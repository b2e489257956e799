import { colorText } from '../../color/color.js'
import { QUIET, SOOT } from '../../color/pigments.js'
import type { Card, ChartExhibit, Exhibit, Page, ReadingExhibit } from '../../page/page.js'
import { iconOf } from '../../style/cell-style.js'
import type { DrawingDocument } from '../chart/frame.js'
import { SPARK } from '../chart/spark.js'
import { cutTo, textWidth } from '../chart/text-width.js'
import { sparkline } from '../chart/trend.js'
import { aboutExhibit } from '../model/captions.js'
import { cardLines, cardValue } from '../model/card-parts.js'
import { emptyText, type LegendParts, legendParts } from '../model/parts.js'
import { sentenceParts } from '../model/sentence-parts.js'
import { gridSheet, recordSheet, recordsSheet } from '../model/sheet.js'
import { barAt, drawText, groundAt, HAIR, iconAt, inkOf, type Piece, stacked, svgFile } from './draw.js'
import { tablePiece } from './table.js'

/** Options of SVG output. */
export interface SvgOptions {
  /** The document for charts; default: one that needs no browser, loaded for a page with charts. */
  document?: DrawingDocument
  /** The most rows of a table; default: 50. */
  rows?: number
}

/** One exhibit as an SVG file. */
export interface SvgFile {
  /** The name of the exhibit. */
  name: string
  text: string
}

type Icons = Readonly<Record<string, string>>

const PAGE_WIDTH = 1000
const MAX_ROWS = 50

/** What `toSvg` gives, of input that is checked: charts need a document. */
export async function drawSvg(page: Page, options: SvgOptions): Promise<SvgFile[]> {
  const files: SvgFile[] = []
  for (const exhibit of page.exhibits) {
    const body = await bodyOf(exhibit, page.icons, options)
    const about = aboutExhibit(exhibit)
    const title = textPiece(exhibit.title, 19, 600)
    const rows = exhibit.kind === 'records' ? exhibit.records.length : 'rows' in exhibit ? exhibit.rows.length : 0
    const cut = rows > (options.rows ?? MAX_ROWS) ? [`The first ${options.rows ?? MAX_ROWS} of ${rows} rows.`] : []
    const said = [...cut, ...exhibit.messages].map((text) => textPiece(cutTo(text, 12, PAGE_WIDTH), 12, 400, true))
    const keys = exhibit.legends.map((legend) => legendPiece(legendParts(legend, exhibit), page.icons))
    const head = stacked([title, ...(about === '' ? [] : [textPiece(cutTo(about, 13, PAGE_WIDTH), 13, 400, true)])], 5)
    files.push({ name: exhibit.name, text: svgFile(exhibit.title, stacked([head, body, ...keys, ...said], 14)) })
  }
  return files
}

function textPiece(text: string, size: number, weight: number, quiet = false): Piece {
  const markup = drawText(0, size, text, { size, weight, color: quiet ? QUIET : SOOT })
  return { width: textWidth(text, size) * (weight > 400 ? 1.06 : 1), height: size * 1.3, markup }
}

async function bodyOf(exhibit: Exhibit, icons: Icons, options: SvgOptions): Promise<Piece> {
  const rows = options.rows ?? MAX_ROWS
  const empty = emptyText(exhibit)
  if (empty !== null) return textPiece(empty, 13, 400, true)
  switch (exhibit.kind) {
    case 'chart':
      return chartPiece(exhibit, options)
    case 'cards':
      return cardsPiece(exhibit.cards, icons)
    case 'reading':
      return wordsPiece(exhibit, icons)
    case 'records': {
      if (exhibit.oneAtATime)
        return stacked(
          exhibit.records.slice(0, rows).map((record) => tablePiece(recordSheet(exhibit, record), false, icons)),
          18,
        )
      const sheet = recordsSheet(exhibit)
      return tablePiece({ ...sheet, rows: sheet.rows.slice(0, rows) }, false, icons)
    }
    default: {
      const sheet = gridSheet(exhibit)
      return tablePiece({ ...sheet, rows: sheet.rows.slice(0, rows) }, exhibit.kind === 'heatmap', icons)
    }
  }
}

async function chartPiece(exhibit: ChartExhibit, { document }: SvgOptions): Promise<Piece> {
  if (document === undefined) throw new Error('no document')
  const { drawChart } = await import('../chart/chart.js')
  const panels = drawChart(exhibit, document, { width: 900, height: 340 })
  const pieces: string[] = []
  let [x, y, tall, width] = [0, 0, 0, 0]
  for (const { label, svg } of panels) {
    const size = { width: svgLength(svg, 'width'), height: svgLength(svg, 'height') + (label === '' ? 0 : 20) }
    if (x > 0 && x + size.width > 900) [x, y] = [0, y + tall + 12]
    pieces.push(drawText(x, y + 14, label, { weight: 600 }))
    pieces.push(svg.replace('<svg', `<svg x="${x}" y="${y + (label === '' ? 0 : 20)}"`))
    x += size.width + 18
    tall = Math.max(tall, size.height)
    width = Math.max(width, x - 18)
  }
  const series =
    exhibit.series.length < 2
      ? []
      : [
          flowed(
            exhibit.series.map(({ label, draw, mark }) => ({
              width: 30 + textWidth(label, 12.5),
              markup: `${draw === 'bar' ? `<rect x="2" y="3" width="14" height="12" fill="${colorText(mark)}"/>` : draw === 'point' ? `<circle cx="9" cy="9" r="5" fill="${colorText(mark)}"/>` : `<path d="M0 9h20" stroke="${colorText(mark)}" stroke-width="2.6" fill="none"/>`}${drawText(26, 13.5, label, { size: 12.5 })}`,
            })),
          ),
        ]
  return stacked([{ width, height: y + tall, markup: pieces.join('') }, ...series], 8)
}

function svgLength(svg: string, side: 'width' | 'height'): number {
  return Number(new RegExp(`<svg[^>]* ${side}="([\\d.]+)"`).exec(svg)?.[1] ?? 0)
}

/** Short parts in lines, wrapped at their length. */
function flowed(items: readonly { width: number; markup: string }[]): Piece {
  let [x, y, widest] = [0, 0, 0]
  const parts = items.map(({ width, markup }) => {
    if (x > 0 && x + width > PAGE_WIDTH - 100) [x, y] = [0, y + 24]
    const group = `<g transform="translate(${Math.round(x)} ${y})">${markup}</g>`
    x += width + 22
    widest = Math.max(widest, x - 22)
    return group
  })
  return { width: widest, height: items.length === 0 ? 0 : y + 20, markup: parts.join('') }
}

function legendPiece({ heading, entries, ramp }: LegendParts, icons: Icons): Piece {
  const drawn = entries.map((entry) => {
    const sample = samplePiece(entry, icons)
    const left = sample.width + 8
    const strong = textWidth(entry.label, 12.5) * 1.08
    const label = drawText(left, 13.5, entry.label, { size: 12.5, weight: 600 })
    const about = drawText(left + (entry.label === '' ? 0 : strong + 5), 13.5, entry.about, {
      size: 12.5,
      color: QUIET,
    })
    return { width: left + 6 + strong + textWidth(entry.about, 12.5), markup: `${sample.markup}${label}${about}` }
  })
  const flow = ramp === undefined ? flowed(drawn) : rampPiece(ramp)
  return stacked([...(heading === '' ? [] : [textPiece(heading, 12.5, 400, true)]), flow], 5)
}

/** The sample of a legend entry: its icons, a bar, or letters. */
function samplePiece(
  { style, icons: names, letters }: LegendParts['entries'][number],
  icons: Icons,
): Omit<Piece, 'height'> {
  const width = Math.max(22, 8 + names.length * 16)
  const drawn = [groundAt(0, 0, width, 18, style, false)]
  for (const [k, name] of names.entries()) drawn.push(iconAt(4 + k * 16, 2, 14, name, inkOf(style), icons))
  if (names.length === 0 && style.bar !== null) drawn.push(barAt(1, 9, 20, { from: 0, to: 1 }, null, style))
  if (letters)
    drawn.push(
      drawText(2, 13.5, 'Aa', { size: 12.5, color: inkOf(style), weight: style.weight === 'bold' ? 700 : 400 }),
    )
  return { width, markup: drawn.join('') }
}

function rampPiece({ colors, marks }: NonNullable<LegendParts['ramp']>): Piece {
  const blocks = Array.from({ length: 34 }, (_, i) => {
    const color = colors[Math.round((i / 33) * (colors.length - 1))]
    return `<rect x="${i * 10}" width="10.5" height="12" fill="${colorText(color)}"/>`
  })
  const texts = marks.map(({ at, text }) =>
    drawText(at * 340, 28, text, { size: 12, color: QUIET, anchor: at === 0 ? 'start' : at === 1 ? 'end' : 'middle' }),
  )
  return { width: 340, height: 32, markup: [...blocks, ...texts].join('') }
}

const CARD = { width: 232, height: 150 }

function cardsPiece(cards: readonly Card[], icons: Icons): Piece {
  const perRow = Math.min(4, Math.max(1, cards.length))
  const parts = cards.map((card, i) => {
    const { label, cell, change, trend } = card
    const { style: look } = cell
    const ink = inkOf(look)
    const drawn: string[] = []
    drawn.push(groundAt(0, 0, CARD.width, CARD.height, look, false))
    if (look.fill === null)
      drawn.push(
        `<rect x=".5" y=".5" width="${CARD.width - 1}" height="${CARD.height - 1}" rx="8" fill="none" stroke="${colorText(HAIR)}"/>`,
      )
    drawn.push(drawText(16, 24, cutTo(label, 13, CARD.width - 32), { weight: 600, color: ink }))
    const icon = look.icon === null || look.hide === 'icon' ? '' : look.icon
    if (icon !== '') drawn.push(iconAt(16, 34, 20, icon, ink, icons))
    const value = look.hide === 'value' ? '' : cardValue(card)
    const start = icon === '' ? 16 : 44
    drawn.push(drawText(start, 54, value, { size: 26, weight: 600, color: ink }))
    if (look.iconAfter !== null && look.hide !== 'icon')
      drawn.push(iconAt(start + textWidth(value, 26) * 1.06 + 8, 34, 20, look.iconAfter, ink, icons))
    let y = 74
    for (const { part, text } of cardLines(card)) {
      const changed = part === 'change' && change !== null
      if (changed) drawn.push(iconAt(16, y - 11, 13, change.icon, ink, icons))
      const left = changed ? 34 : 16
      for (const line of changed ? wrapped(text, 12, CARD.width - 50) : [cutTo(text, 12, CARD.width - 30)]) {
        drawn.push(drawText(left, y, line, { size: 12, color: ink }))
        y += 16
      }
    }
    if (trend !== null)
      drawn.push(
        sparkline(trend).replace('<svg', `<svg x="16" y="${CARD.height - SPARK.height - 8}" color="${colorText(ink)}"`),
      )
    const [column, row] = [i % perRow, Math.floor(i / perRow)]
    return `<g transform="translate(${column * (CARD.width + 16)} ${row * (CARD.height + 16)})">${drawn.join('')}</g>`
  })
  const rows = Math.ceil(cards.length / perRow)
  return { width: perRow * (CARD.width + 16) - 16, height: rows * (CARD.height + 16) - 16, markup: parts.join('') }
}

/** Text wrapped at spaces to a width. */
function wrapped(text: string, size: number, width: number): string[] {
  const lines: string[] = []
  for (const word of text.split(' ')) {
    const next = lines.length === 0 ? word : `${lines[lines.length - 1]} ${word}`
    if (lines.length > 0 && textWidth(next, size) <= width) lines[lines.length - 1] = next
    else lines.push(word)
  }
  return lines
}

function wordsPiece({ sentences }: ReadingExhibit, icons: Icons): Piece {
  const pieces = sentences.map((sentence): Piece => {
    const parts = sentenceParts(sentence)
    const { style: look, text: statusText } = parts.tag ?? { style: null, text: '' }
    const icon = look === null ? null : iconOf(look)
    const tag = look === null ? 0 : textWidth(statusText, 13) * 1.06 + (icon === null ? 0 : 20) + 16
    const lines = wrapped(parts.rest.trimStart(), 13, 700 - tag)
    const drawn = lines.map((line, i) => drawText(tag === 0 ? 0 : tag + 6, 16 + i * 19, line))
    if (look !== null) {
      drawn.push(groundAt(0, 1, tag, 22, look, false))
      if (icon !== null) drawn.push(iconAt(7, 5, 13, icon, inkOf(look), icons))
      drawn.push(
        drawText(icon === null ? 8 : 26, 16, statusText, {
          color: inkOf(look),
          weight: look.weight === 'bold' ? 700 : 400,
        }),
      )
    }
    return { width: 720, height: 5 + lines.length * 19, markup: drawn.join('') }
  })
  return stacked(pieces, 5)
}
