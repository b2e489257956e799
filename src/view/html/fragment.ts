import { colorText } from '../../color/color.js'
import { PIGMENTS, SOOT } from '../../color/pigments.js'
import type { CardsExhibit, Exhibit, Page, ReadingExhibit, Strip } from '../../page/page.js'
import { type CellStyle, iconOf } from '../../style/cell-style.js'
import { escapeText } from '../markup.js'
import { blockTrend } from '../model/blocks.js'
import { aboutExhibit, aboutPage } from '../model/captions.js'
import { cardLines, cardValue } from '../model/card-parts.js'
import { chartSheet } from '../model/chart-sheet.js'
import { checkGiven } from '../model/check-input.js'
import { glyph, glyphsOf, unclearWords } from '../model/glyph.js'
import { emptyText, type LegendParts, legendParts } from '../model/parts.js'
import { sentenceParts } from '../model/sentence-parts.js'
import { gridSheet, recordSheet, recordsSheet, type Sheet, type SheetCell } from '../model/sheet.js'
import { stripWords } from '../model/strip.js'

const QUIET = '#586079'
const HAIR = '#dfe4ec'
const FONT = 'font-family:Arial,Helvetica,sans-serif'

/**
 * A page as an HTML fragment for a mail or another page: tables with styles on their elements,
 * without scripts, style sheets, or drawings that mail readers drop. Icons are characters, charts
 * are bars in a table.
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
    page.strip === null ? '' : stripMarkup(page.strip, page.locale),
  ]
  // Exhibits before the first section have no section of their own.
  let heading: 'h3' | 'h4' = 'h3'
  for (const exhibit of page.exhibits) {
    if (exhibit.section !== null) {
      heading = 'h4'
      parts.push(sectionMarkup(exhibit.section))
    }
    parts.push(exhibitMarkup(exhibit, heading))
  }
  parts.push('</div>')
  return `${parts.filter((part) => part !== '').join('\n')}\n`
}

/** The strip as a table of one row. */
function stripMarkup(strip: Strip, locale: string): string {
  const { caption, parts } = stripWords(strip, locale)
  const cells = parts.map(({ part: { label, limit, count, style }, count: text }) => {
    const name = iconOf(style)
    const sign = name === null ? '' : `${escapeText(glyph(name))} `
    const plain = style.fill === null ? `;border:1px solid ${HAIR}` : ''
    return `<td width="${Math.max(1, Math.round((count / strip.count) * 100))}%" style="padding:8px 14px;vertical-align:top${plain}${lookStyle(style)}"><span style="font-size:20px;font-weight:bold">${sign}${text}</span><br><span style="font-size:13px">${escapeText(label)}${limit === '' ? '' : `, ${escapeText(limit)}`}</span></td>`
  })
  return `${small(caption)}\n<table role="presentation" width="100%" style="border-collapse:separate;border-spacing:2px;${FONT}"><tr>${cells.join('')}</tr></table>`
}

function small(text: string): string {
  return text === '' ? '' : `<p style="margin:2px 0;font-size:12px;color:${QUIET}">${escapeText(text)}</p>`
}

function sectionMarkup(text: string): string {
  return `<h3 style="margin:26px 0 0;font-size:19px;border-bottom:1px solid ${HAIR}">${escapeText(text)}</h3>`
}

function exhibitMarkup(exhibit: Exhibit, heading: 'h3' | 'h4'): string {
  return [
    `<${heading} style="margin:22px 0 2px;font-size:17px">${escapeText(exhibit.title)}</${heading}>`,
    small(aboutExhibit(exhibit)),
    inside(exhibit),
    ...exhibit.legends.map((legend) => legendMarkup(legendParts(legend, exhibit))),
    ...exhibit.messages.map(small),
  ]
    .filter((part) => part !== '')
    .join('\n')
}

function inside(exhibit: Exhibit): string {
  const empty = emptyText(exhibit)
  if (empty !== null) return small(empty)
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
      return tableMarkup(gridSheet(exhibit), exhibit.kind === 'heatmap')
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
  // A mail may be read without colours.
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
  const signs = glyphsOf(look, cell.icon)
  const icon = (sign: string): string =>
    sign === '' ? '' : `<span title="${escapeText(statusText)}">${escapeText(sign)}</span> `
  const picture = look.picture === null ? '' : `<img alt="" height="20" src="${escapeText(look.picture)}"> `
  // A mail has no tooltips: hidden numbers are shown.
  const text = `${escapeText(cell.text)}${flag === null ? '' : ` ${escapeText(flag)}`}${unclear === '' ? '' : ` (${escapeText(unclear)})`}`
  const before = icon(signs.before)
  const after = signs.after === '' ? '' : ` ${icon(signs.after)}`
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
  const cells = cards.map((card) => {
    const { label, cell, change, trend } = card
    const { before, after } = glyphsOf(cell.style, 'before')
    const icon = before === '' ? '' : `${escapeText(before)} `
    const second = after === '' ? '' : ` ${escapeText(after)}`
    const lines = cardLines(card).map(({ part, text }) =>
      part === 'change' && change !== null ? `${glyph(change.icon)} ${text}` : text,
    )
    const more = [...lines, ...(trend === null ? [] : [blockTrend(trend, false)])].map(
      (text) => `<br><span style="font-size:12px;font-weight:normal">${escapeText(text)}</span>`,
    )
    return `<td style="padding:10px 16px;vertical-align:top;border:1px solid ${HAIR}${lookStyle(cell.style)}"><span style="font-size:12px">${escapeText(label)}</span><br><span style="font-size:22px;font-weight:bold">${icon}${escapeText(cardValue(card))}${second}</span>${more.join('')}</td>`
  })
  return `<table role="presentation" style="border-collapse:separate;border-spacing:6px;${FONT}"><tr>${cells.join('')}</tr></table>`
}

function wordsMarkup({ sentences }: ReadingExhibit): string {
  const items = sentences.map((sentence) => {
    const { tag, rest } = sentenceParts(sentence)
    if (tag === null) return `<p style="margin:4px 0">${escapeText(rest)}</p>`
    const name = iconOf(tag.style)
    const sign = name === null ? '' : glyph(name)
    const icon = sign === '' ? '' : `${escapeText(sign)} `
    return `<p style="margin:4px 0"><span style="padding:1px 6px${lookStyle(tag.style)}">${icon}${escapeText(tag.text)}</span>${escapeText(rest)}</p>`
  })
  return items.join('\n')
}

function legendMarkup({ heading, entries, ramp }: LegendParts): string {
  const items = entries.map(({ style, icons, label, about }) => {
    const mark =
      icons.map((icon) => glyph(icon)).join('') || (style.bar === null ? (style.fill === null ? 'Aa' : ' ') : ' ')
    const ground = style.fill === null && style.bar !== null ? `;background:${colorText(style.bar.color)}` : ''
    return `<span style="white-space:nowrap;margin-right:14px"><span style="padding:0 5px${lookStyle(style)}${ground}">${escapeText(mark)}</span> <b style="color:${colorText(SOOT)}">${escapeText(label)}</b> ${escapeText(about)}</span>`
  })
  const scale = ramp === undefined ? '' : rampMarkup(ramp)
  const body = [escapeText(heading), items.join(' '), scale]
  return `<p style="margin:6px 0 0;font-size:12px;color:${QUIET}">${body.filter((part) => part !== '').join('<br>')}</p>`
}

function rampMarkup({ colors, marks }: NonNullable<LegendParts['ramp']>): string {
  const blocks = Array.from({ length: 16 }, (_, i) => {
    const color = colors[Math.round((i / 15) * (colors.length - 1))]
    return `<span style="background:${colorText(color)}">&nbsp;</span>`
  })
  return `${blocks.join('')} ${escapeText(marks.map(({ text }) => text).join(' … '))}`.trim()
}
