import type { CardsExhibit, Exhibit, Page, ReadingExhibit, RecordsExhibit, Strip } from '../../page/page.js'
import { harmless } from '../../problem/print.js'
import type { Shape } from '../../shape/shape.js'
import { type CellStyle, iconOf, PLAIN_STYLE } from '../../style/cell-style.js'
import { blockTrend } from '../model/blocks.js'
import { aboutExhibit, aboutPage } from '../model/captions.js'
import { cardLines, cardValue } from '../model/card-parts.js'
import { chartSheet } from '../model/chart-sheet.js'
import { checkGiven } from '../model/check-input.js'
import { glyph, glyphsOf, plainSigns } from '../model/glyph.js'
import { emptyText, type LegendParts, legendParts } from '../model/parts.js'
import { gridSheet, recordSheet, recordsSheet } from '../model/sheet.js'
import { stripWords } from '../model/strip.js'
import { padEnd, widthOf, wrap } from './columns.js'
import { type ColorDepth, createInk, type Drawing, type Ink } from './ink.js'
import { sheetLines } from './sheet.js'

/** Options of text output. */
export interface TextOptions {
  /** Columns of a line; default: 100. Infinity or 0 leaves every table whole. */
  width?: number | undefined
  /** Bits of colour: 1 for none (default), 4 for 16 colours, 8 for 256, 24 for all. */
  colors?: ColorDepth | undefined
  /** ASCII in place of icons and block characters; default: false. */
  ascii?: boolean | undefined
}

function drawingOf({ width = 100, colors = 1, ascii = false }: TextOptions): Drawing {
  return { width: width === 0 ? Number.POSITIVE_INFINITY : Math.max(24, width), ink: createInk(colors), ascii }
}

/** One exhibit as lines. */
export function exhibitText(exhibit: Exhibit, options: TextOptions): string[] {
  return drawExhibit(exhibit, drawingOf(options))
}

const OPTIONS: Shape = {
  // Infinity is a number, too: a table left whole.
  keys: { 'width?': 'anything', 'colors?': { oneOf: [1, 4, 8, 24] }, 'ascii?': 'truth' },
}

/** A page as text for a terminal. Control characters in the data are replaced. */
export function toText(page: Page, options: TextOptions = {}): string {
  checkGiven(page, OPTIONS, options)
  const drawing = drawingOf(options)
  const { ink } = drawing
  const lines = [...bold(page.title, drawing), ...quiet(aboutPage(page).join(' · '), drawing)]
  if (page.note !== null) lines.push(...wrap(harmless(page.note), drawing.width))
  lines.push(...page.messages.flatMap((note) => quiet(`note: ${note}`, drawing)))
  if (page.strip !== null) lines.push('', ...stripLines(page.strip, page.locale, drawing))
  for (const exhibit of page.exhibits) {
    if (exhibit.section !== null) lines.push('', ...bold(exhibit.section.toLocaleUpperCase(page.locale), drawing))
    lines.push('', ...drawExhibit(exhibit, drawing))
  }
  if (page.controls.length > 0) {
    lines.push('', ink.strong('Sources'))
    lines.push(...page.controls.flatMap(({ text }) => quiet(text, drawing)))
  }
  return `${lines.join('\n')}\n`
}

function bold(text: string, { ink, width }: Drawing): string[] {
  return wrap(harmless(text), width).map((line) => ink.strong(line))
}

function quiet(text: string, { ink, width }: Drawing, indent = ''): string[] {
  return text === '' ? [] : wrap(harmless(text), width, indent).map((line) => ink.quiet(line))
}

/** The strip: icon, count and words of each part, as many in a line as fit. */
function stripLines(strip: Strip, locale: string, drawing: Drawing): string[] {
  const { ink, ascii, width } = drawing
  const { caption, parts } = stripWords(strip, locale)
  const lines: { text: string; used: number }[] = []
  for (const { part, count } of parts) {
    const icon = iconOf(part.style)
    const sign = icon === null ? '' : `${glyph(icon, ascii)} `
    const named = (limit: string): string => harmless(` ${sign}${count} ${part.label}${limit} `)
    const whole = named(part.limit === '' ? '' : `, ${part.limit}`)
    // A limit that does not fit is in the legend.
    const text = widthOf(whole) < width ? whole : named('')
    const last = lines.at(-1)
    const used = widthOf(text) + 1
    if (last === undefined || last.used + used > width) lines.push({ text: ink.cell(text, part.style), used })
    else lines[lines.length - 1] = { text: `${last.text} ${ink.cell(text, part.style)}`, used: last.used + used }
  }
  return [...quiet(caption, drawing), ...lines.map(({ text }) => text.trimEnd())]
}

function drawExhibit(exhibit: Exhibit, drawing: Drawing): string[] {
  return [
    ...bold(exhibit.title, drawing),
    ...quiet(drawing.ascii ? plainSigns(aboutExhibit(exhibit)) : aboutExhibit(exhibit), drawing),
    ...inside(exhibit, drawing),
    ...exhibit.legends.flatMap((legend) => legendLines(legendParts(legend, exhibit), drawing)),
    ...exhibit.messages.flatMap((text) => quiet(`note: ${text}`, drawing)),
  ]
}

function inside(exhibit: Exhibit, drawing: Drawing): string[] {
  const empty = emptyText(exhibit)
  if (empty !== null) return [drawing.ink.quiet(empty)]
  switch (exhibit.kind) {
    case 'chart':
      return sheetLines(chartSheet(exhibit), drawing)
    case 'cards':
      return linesOfCards(exhibit, drawing)
    case 'records':
      return recordLines(exhibit, drawing)
    case 'reading':
      return wordLines(exhibit, drawing)
    default:
      return sheetLines(gridSheet(exhibit), drawing, exhibit.kind === 'heatmap')
  }
}

function linesOfCards({ cards }: CardsExhibit, drawing: Drawing): string[] {
  const { ink, ascii } = drawing
  const wide = Math.max(0, ...cards.map(({ label }) => widthOf(harmless(label))))
  return cards.flatMap((card) => {
    const { label, cell, change, trend } = card
    const { style: look } = cell
    const { before, after } = glyphsOf(look, 'before', ascii)
    const mark = before === '' ? '' : `${before} `
    const second = after === '' ? '' : `${after} `
    const value = harmless(cardValue(card))
    const shown = look.hide === 'value' && ink.colored ? '' : value
    const lines = cardLines(card)
    const beside = lines.filter(({ part }) => part === 'status' || part === 'flag')
    const head = `${padEnd(harmless(label), wide)}  ${ink.cell(` ${mark}${shown} ${second}`, { ...look, weight: 'bold' })}${beside.map(({ text }) => ` ${harmless(text)}`).join('')}`
    const more = lines
      .filter((line) => !beside.includes(line))
      .map(({ part, text }) => (part === 'change' && change !== null ? `${glyph(change.icon, ascii)} ${text}` : text))
    const indent = ' '.repeat(wide + 3)
    return [
      head.trimEnd(),
      ...more.flatMap((text) => quiet(text, drawing, indent)),
      ...(trend === null ? [] : [`${indent}${blockTrend(trend, ascii)}`]),
    ]
  })
}

function recordLines(exhibit: RecordsExhibit, drawing: Drawing): string[] {
  if (!exhibit.oneAtATime) return sheetLines(recordsSheet(exhibit), drawing)
  return exhibit.records.flatMap((record, i) => [
    drawing.ink.quiet(`${i + 1} of ${exhibit.records.length}`),
    ...sheetLines(recordSheet(exhibit, record), drawing),
    '',
  ])
}

function wordLines({ sentences }: ReadingExhibit, { ink, width, ascii }: Drawing): string[] {
  return sentences.flatMap(({ text, style: look, statusText }) => {
    const icon = look === null ? null : iconOf(look)
    const sign = icon === null ? '' : glyph(icon, ascii)
    const mark = sign === '' ? '' : `${sign} `
    const lines = wrap(`${mark}${harmless(text)}`, width, '', '  ')
    const tag = `${mark}${harmless(statusText)}`
    // Words that a line break cuts stay uncoloured.
    if (look !== null && lines[0].startsWith(tag)) lines[0] = ink.cell(tag, look) + lines[0].slice(tag.length)
    return lines
  })
}

function legendLines({ heading, entries, ramp }: LegendParts, { ink, width, ascii }: Drawing): string[] {
  const lines = heading === '' ? [] : wrap(harmless(heading), width).map((line) => ink.quiet(line))
  for (const { style, icons, label, about } of entries) {
    const mark = icons.map((icon) => glyph(icon, ascii)).join('')
    const swatch = inkSample(style, mark, ink)
    const lead = swatch === '' ? 0 : widthOf(mark === '' ? '   ' : style.fill === null ? mark : ` ${mark} `) + 1
    const indent = ' '.repeat(2 + lead)
    const [first, ...rest] = wrap(harmless(`${label} ${about}`.trim()), width, indent)
    lines.push(`  ${swatch === '' ? '' : `${swatch} `}${first.trimStart()}`, ...rest)
  }
  if (ramp !== undefined) {
    const blocks = Array.from({ length: 17 }, (_, i) => ramp.colors[Math.round((i / 16) * (ramp.colors.length - 1))])
    const drawn = ink.colored ? `${blocks.map((fill) => ink.cell(' ', { ...PLAIN_STYLE, fill })).join('')} ` : ''
    lines.push(`  ${drawn}${harmless(ramp.marks.map(({ text }) => text).join(' … '))}`)
  }
  return lines
}

/** The sample of a legend entry: its icon, a bar, or letters. */
function inkSample(look: CellStyle, mark: string, ink: Ink): string {
  if (mark !== '') return ink.cell(look.fill === null ? mark : ` ${mark} `, look)
  if (!ink.colored) return ''
  if (look.bar !== null) return ink.cell('█', { ...PLAIN_STYLE, ink: look.bar.color })
  return ink.cell(look.fill === null ? 'Aa' : '   ', look)
}
