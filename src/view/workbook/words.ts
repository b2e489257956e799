import type { Exhibit, Page } from '../../page/page.js'
import { type CellStyle, NO_EFFECT, PLAIN_STYLE } from '../../style/cell-style.js'
import { aboutPage } from '../model/captions.js'
import { glyph } from '../model/glyph.js'
import { legendParts } from '../model/parts.js'
import { stripWords } from '../model/strip.js'
import { EMPTY_CELL, textCell } from './sheet.js'
import type { CellForm, Styles } from './styles.js'

/** Rows of words: titles, the strip, legends, rules and sources. */

const TITLE: CellForm = { bold: true, size: 14 }
const SECTION: CellForm = { bold: true, size: 11 }
const PLAIN: CellForm = {}
const BOLD: CellForm = { bold: true }
const STRONG: CellForm = { bold: true, align: 'center' }
const CENTER: CellForm = { align: 'center' }
const REMARK: CellForm = { quiet: true }
const WRAPPED: CellForm = { wrap: true }

/** A rule as it is said. */
export interface RuleWords {
  title: string
  sentence: string
}

/** Rows of cells that are markup already. */
const aboutRow = (cells: string): string => `<table:table-row table:style-name="about">${cells}</table:table-row>`
export const BLANK_ROW = aboutRow(EMPTY_CELL)

/** The rows above a table: titles, dates, and the strip of the page. */
export function headRows(page: Page, exhibit: Exhibit, about: string, styles: Styles, isFirst: boolean): string[] {
  const rows: string[] = []
  const line = (text: string, form: CellForm): void => {
    if (text !== '') rows.push(aboutRow(textCell(text, styles.cell(PLAIN_STYLE, form))))
  }
  if (isFirst) {
    line(page.title, TITLE)
    line(aboutPage(page).join(' · '), REMARK)
    line(page.note ?? '', PLAIN)
    for (const message of page.messages) line(message, REMARK)
    if (page.strip !== null) rows.push(...stripRows(page, styles))
    rows.push(BLANK_ROW)
  }
  line(exhibit.section ?? '', REMARK)
  line(exhibit.title, SECTION)
  line(
    [about, page.asOfText === null || isFirst ? '' : `as of ${page.asOfText}`]
      .filter((text) => text !== '')
      .join(' · '),
    REMARK,
  )
  rows.push(BLANK_ROW)
  return rows
}

/**
 * The statuses of one measure, counted, a row for each: side by side they would be cut at the
 * widths of the columns below.
 */
function stripRows({ strip, locale }: Page, styles: Styles): string[] {
  if (strip === null) return []
  const { caption, parts } = stripWords(strip, locale)
  const rows = parts.map(({ part, count }) => {
    const icon = part.style.icon ?? part.style.iconAfter
    const counted = [icon === null ? '' : glyph(icon), count].filter((one) => one !== '').join(' ')
    const words = part.limit === '' ? part.label : `${part.label}, ${part.limit}`
    return aboutRow(
      textCell(counted, styles.cell(part.style, STRONG)) + textCell(words, styles.cell(PLAIN_STYLE, PLAIN)),
    )
  })
  return [aboutRow(textCell(caption, styles.cell(PLAIN_STYLE, REMARK))), ...rows]
}

/** Messages below a table. */
export function messageRows(messages: readonly string[], styles: Styles): string[] {
  if (messages.length === 0) return []
  return [BLANK_ROW, ...messages.map((text) => aboutRow(textCell(text, styles.cell(PLAIN_STYLE, REMARK))))]
}

/** A row with one text, in place of a table without content. */
export function emptyRow(text: string, styles: Styles): string {
  return aboutRow(textCell(text, styles.cell(PLAIN_STYLE, REMARK)))
}

/** The legends of all exhibits, and the rules as sentences. */
export function legendRows({ exhibits }: Page, rules: readonly RuleWords[], styles: Styles): string[] {
  const cell = (text: string, form: CellForm, look: CellStyle = PLAIN_STYLE): string =>
    textCell(text, styles.cell(look, form))
  const rows: string[] = []
  for (const exhibit of exhibits) {
    if (exhibit.legends.length === 0) continue
    rows.push(aboutRow(cell(exhibit.title, SECTION)))
    for (const legend of exhibit.legends) {
      const { entries, ramp } = legendParts(legend, exhibit)
      const heading = [`${legend.measureLabel}: ${legend.title}`, legend.population]
        .filter((text) => text !== '')
        .join(', ')
      rows.push(aboutRow(cell(heading, BOLD)))
      for (const { style, icons, label, about } of entries)
        rows.push(
          aboutRow(
            cell(icons.map((icon) => glyph(icon)).join(' '), CENTER, style) + cell(label, PLAIN) + cell(about, PLAIN),
          ),
        )
      if (ramp !== undefined) {
        const colors = sampled(ramp.colors).map((color) =>
          cell('', PLAIN, { ...PLAIN_STYLE, ...NO_EFFECT, fill: color }),
        )
        rows.push(aboutRow(cell(ramp.marks.map(({ text }) => text).join(' – '), PLAIN)), aboutRow(colors.join('')))
      }
    }
    rows.push(BLANK_ROW)
  }
  if (rules.length > 0) rows.push(aboutRow(cell('Rules', SECTION)))
  for (const { title, sentence } of rules) rows.push(aboutRow(cell(title, BOLD)), aboutRow(cell(sentence, PLAIN)))
  return rows
}

/** Some colours of a ramp, its ends among them. */
function sampled(colors: readonly number[]): readonly number[] {
  const most = Math.min(RAMP_CELLS, colors.length)
  return Array.from({ length: most }, (_, i) => colors[Math.round((i * (colors.length - 1)) / Math.max(1, most - 1))])
}

const RAMP_CELLS = 9

/** What the page was made of: sources with their control totals, parameters, and its condition. */
export function sourceRows(page: Page, styles: Styles): string[] {
  const cell = (text: string, form: CellForm): string => textCell(text, styles.cell(PLAIN_STYLE, form))
  const rows = [aboutRow(cell('Sources', SECTION))]
  for (const { text } of page.controls) rows.push(aboutRow(cell(text, WRAPPED)))
  if (page.parameters.length > 0) rows.push(BLANK_ROW, aboutRow(cell('Parameters', SECTION)))
  for (const { label, text } of page.parameters) rows.push(aboutRow(cell(label, PLAIN) + cell(text, PLAIN)))
  return rows
}
