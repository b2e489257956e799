import { colorText } from '../../color/color.js'
import { PIGMENTS, SOOT } from '../../color/pigments.js'
import type { CardsExhibit, Exhibit, Page, ReadingExhibit } from '../../page/page.js'
import type { CellStyle } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'
import { escapeText } from '../markup.js'
import { blockTrend } from '../model/blocks.js'
import { aboutEntry, aboutExhibit, aboutPage } from '../model/captions.js'
import { chartSheet } from '../model/chart-sheet.js'
import { checkGiven } from '../model/check-input.js'
import { glyph, unclearWords } from '../model/glyph.js'
import { gridSheet, recordSheet, recordsSheet, type Sheet, type SheetCell } from '../model/sheet.js'

const QUIET = '#655f55'
const HAIR = '#e3dccf'
const FONT = 'font-family:Arial,Helvetica,sans-serif'

/**
 * A page as a piece of HTML for a mail, or for a page of one's own: tables with styles on their
 * elements, no script, no style sheet, no drawing that a mail reader would drop. Icons are signs of
 * the font, charts are bars in a table.
 */
export function toFragment(page: Page): string {
  checkGiven(page)
  const by = aboutPage({ ...page, sources: [] }).join(' · ')
  const parts = [
    `<div lang="${escapeText(page.locale)}" style="${FONT};font-size:14px;line-height:1.4;color:${colorText(SOOT)}">`,
    `<h2 style="margin:0 0 4px;font-size:22px">${escapeText(page.title)}</h2>`,
    by === '' ? '' : small(by),
    page.note === null ? '' : `<p style="margin:8px 0">${escapeText(page.note)}</p>`,
    ...page.messages.map(small),
  ]
  for (const exhibit of page.exhibits) parts.push(exhibitMarkup(exhibit))
  parts.push('</div>')
  return `${parts.filter((part) => part !== '').join('\n')}\n`
}

function small(text: string): string {
  return text === '' ? '' : `<p style="margin:2px 0;font-size:12px;color:${QUIET}">${escapeText(text)}</p>`
}

function exhibitMarkup(exhibit: Exhibit): string {
  return [
    `<h3 style="margin:22px 0 2px;font-size:17px">${escapeText(exhibit.title)}</h3>`,
    small(aboutExhibit(exhibit)),
    inside(exhibit),
    ...exhibit.legends.map((legend) => legendMarkup(legend, exhibit.legends.length === 1)),
    ...exhibit.messages.map(small),
  ]
    .filter((part) => part !== '')
    .join('\n')
}

function inside(exhibit: Exhibit): string {
  switch (exhibit.kind) {
    case 'chart':
      return tableMarkup(chartSheet(exhibit), false)
    case 'cards':
      return cardsMarkup(exhibit)
    case 'records':
      return exhibit.oneAtATime
        ? exhibit.records.map((record) => tableMarkup(recordSheet(exhibit, record), false)).join('\n')
        : tableMarkup(recordsSheet(exhibit), false)
    case 'reading':
      return wordsMarkup(exhibit)
    default:
      return exhibit.rows.length === 0 ? small('No rows.') : tableMarkup(gridSheet(exhibit), exhibit.kind === 'heatmap')
  }
}

function tableMarkup(sheet: Sheet, flat: boolean): string {
  const head = [
    ...sheet.tops.map((row) => {
      let at = 0
      const cells = row.map(({ text, from, span }) => {
        const blank = from > at ? `<td colspan="${from - at}"></td>` : ''
        at = from + span
        return `${blank}<th colspan="${span}" scope="colgroup" style="padding:2px 8px;font-size:12px;color:${QUIET};text-align:left">${escapeText(text)}</th>`
      })
      return `<tr>${cells.join('')}</tr>`
    }),
    `<tr>${sheet.columns.map(({ label, right }) => (label === '' ? `<td style="border-bottom:1px solid ${HAIR}"></td>` : `<th scope="col" style="padding:3px ${flat ? 3 : 8}px;font-size:12px;color:${QUIET};text-align:${right ? 'right' : 'left'};border-bottom:1px solid ${HAIR}">${escapeText(label)}</th>`)).join('')}</tr>`,
  ]
  // A mail may be read where no colour shows.
  const unclear = flat ? () => '' : unclearWords(sheet.rows.flatMap((row) => row.cells))
  const rows = sheet.rows.map((row) => {
    const bold = row.kind === 'detail' ? '' : ';font-weight:bold'
    const top = row.kind === 'group' || row.kind === 'total' ? `;border-top:1px solid ${HAIR}` : ''
    const cells = row.cells.map((cell, c) => {
      const heading = c < sheet.headings
      const tag = heading && cell.text !== '' ? 'th' : 'td'
      const scope = tag === 'th' ? ' scope="row"' : ''
      const align = sheet.columns[c].right ? 'right' : 'left'
      const left = c === 0 ? 8 + row.indent * 14 : flat ? 3 : 8
      const style = `padding:3px ${flat ? 3 : 8}px 3px ${left}px;text-align:${align};white-space:nowrap${tag === 'th' && bold === '' ? ';font-weight:normal' : bold}${top}${lookStyle(cell.look)}`
      return `<${tag}${scope} style="${style}">${cellInside(cell, unclear(cell))}</${tag}>`
    })
    return `<tr>${cells.join('')}</tr>`
  })
  return `<table style="border-collapse:collapse;${FONT};font-size:13px">${head.join('')}${rows.join('')}</table>`
}

function lookStyle({ fill, ink, weight }: CellStyle): string {
  const parts = [
    fill === null ? '' : `;background:${colorText(fill)}`,
    ink === null ? '' : `;color:${colorText(ink)}`,
    weight === null ? '' : `;font-weight:${weight}`,
  ]
  return parts.join('')
}

function cellInside(cell: SheetCell, unclear: string): string {
  const { look, bar, dot, flag, trend, statusText } = cell
  if (trend !== null) return `<span title="${escapeText(trend.hint)}">${blockTrend(trend, false)}</span>`
  const sign = look.icon === null || look.hide === 'icon' ? '' : glyph(look.icon)
  const icon = sign === '' ? '' : `<span title="${escapeText(statusText)}">${escapeText(sign)}</span> `
  const picture = look.picture === null ? '' : `<img alt="" height="20" src="${escapeText(look.picture)}"> `
  // Here nothing can be hovered: a hidden number is told where its colour stands.
  const text = `${escapeText(cell.text)}${flag === null ? '' : ` ${escapeText(flag)}`}${unclear === '' ? '' : ` (${escapeText(unclear)})`}`
  const before = cell.icon === 'after' ? '' : icon
  const after = cell.icon === 'after' ? ` ${icon}` : ''
  return `${picture}${before}${bar === null ? '' : barMarkup(bar, dot, look)}${text}${after}`
}

function barMarkup(bar: NonNullable<SheetCell['bar']>, dot: 'from' | 'to' | null, look: CellStyle): string {
  const width = 84
  const color = colorText(look.bar?.color ?? PIGMENTS.stone.body)
  const [from, to] = dot === null ? [bar.from, bar.to] : [Math.max(0, bar[dot] - 0.04), Math.min(1, bar[dot] + 0.04)]
  const cell = (share: number, ground: string): string =>
    `<span style="display:inline-block;width:${Math.round(share * width)}px;height:10px;background:${ground}"></span>`
  return `<span style="display:inline-block;width:${width}px;text-align:left;white-space:nowrap;background:${HAIR};line-height:10px;font-size:0">${cell(from, HAIR)}${cell(to - from, color)}</span>${bar.beyond === undefined ? '' : bar.beyond === 'high' ? '›' : '‹'} `
}

function cardsMarkup({ cards }: CardsExhibit): string {
  const cells = cards.map(({ label, cell, change, note, trend }) => {
    const sign = cell.style.icon === null ? '' : glyph(cell.style.icon)
    const icon = sign === '' ? '' : `${escapeText(sign)} `
    const lines = [
      cell.statusText,
      cell.flag ?? '',
      change === null ? '' : `${glyph(change.icon)} ${change.text}`,
      note ?? '',
      trend === null ? '' : blockTrend(trend, false),
    ]
    const more = lines
      .filter((text) => text !== '')
      .map((text) => `<br><span style="font-size:12px;font-weight:normal">${escapeText(text)}</span>`)
    return `<td style="padding:10px 16px;vertical-align:top;border:1px solid ${HAIR}${lookStyle(cell.style)}"><span style="font-size:12px">${escapeText(label)}</span><br><span style="font-size:22px;font-weight:bold">${icon}${escapeText(cell.text === '' ? 'no value' : cell.text)}</span>${more.join('')}</td>`
  })
  return `<table role="presentation" style="border-collapse:separate;border-spacing:6px;${FONT}"><tr>${cells.join('')}</tr></table>`
}

function wordsMarkup({ sentences }: ReadingExhibit): string {
  const items = sentences.map(({ text, style: look, statusText }) => {
    if (look === null) return `<p style="margin:4px 0">${escapeText(text)}</p>`
    const sign = look.icon === null ? '' : glyph(look.icon)
    const icon = sign === '' ? '' : `${escapeText(sign)} `
    const rest = text.startsWith(`${statusText}: `) ? text.slice(statusText.length + 1) : text
    return `<p style="margin:4px 0"><span style="padding:1px 6px${lookStyle(look)}">${icon}${escapeText(statusText)}</span>${escapeText(rest)}</p>`
  })
  return items.join('\n')
}

function legendMarkup(legend: Legend, alone: boolean): string {
  const of = [alone ? '' : `${legend.measureLabel}: ${legend.title}`, legend.population].filter((text) => text !== '')
  const entries = legend.entries.map((entry) => {
    const { style: look, label } = entry
    const icons = look.icon === 'bySign' ? ['up', 'sideways', 'down'] : look.icon === null ? [] : [look.icon]
    const mark =
      icons.map((icon) => glyph(icon)).join('') || (look.bar === null ? (look.fill === null ? 'Aa' : ' ') : ' ')
    const ground = look.fill === null && look.bar !== null ? `;background:${colorText(look.bar.color)}` : ''
    return `<span style="white-space:nowrap;margin-right:14px"><span style="padding:0 5px${lookStyle(look)}${ground}">${escapeText(mark)}</span> <b style="color:${colorText(SOOT)}">${escapeText(label)}</b> ${escapeText(aboutEntry(entry))}</span>`
  })
  const { ramp } = legend
  const marks = ramp === undefined ? [] : ramp.marks.map(({ text, what }) => `${text} ${what}`.trim())
  const blocks =
    ramp === undefined || ramp.marks.length === 0
      ? ''
      : Array.from(
          { length: 16 },
          (_, i) =>
            `<span style="background:${colorText(ramp.colors[Math.round((i / 15) * (ramp.colors.length - 1))])}">&nbsp;</span>`,
        ).join('')
  const body = [escapeText(of.join(', ')), entries.join(' '), `${blocks} ${escapeText(marks.join(' … '))}`.trim()]
  return `<p style="margin:6px 0 0;font-size:12px;color:${QUIET}">${body.filter((part) => part !== '').join('<br>')}</p>`
}
