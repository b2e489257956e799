import type { ChartExhibit, Exhibit, Page, Strip } from '../../page/page.js'
import type { DrawnPanel } from '../chart/chart.js'
import type { DrawingDocument } from '../chart/frame.js'
import { escapeText } from '../markup.js'
import { aboutExhibit, aboutPage } from '../model/captions.js'
import { iconSymbols } from '../model/icon.js'
import { type LegendList, legendLists } from '../model/legend-list.js'
import { legendParts } from '../model/parts.js'
import { unpaintedTwin } from '../model/unpainted.js'
import type { Writing } from './cells/cell.js'
import { createStyleClasses } from './cells/style-classes.js'
import type { ExhibitLine } from './flow.js'
import { gridMarkup, numbersMarkup } from './kinds/grid.js'
import { legendMarkup } from './legend.js'
import { STRIP_FILTER, stripMarkup } from './strip.js'
import { themed } from './style.js'

/** Options of HTML output. */
export interface HtmlOptions {
  /**
   * The document for charts, such as that of the browser. Default: one that needs no browser,
   * loaded for a page with charts; so they can be drawn on a server and in a worker.
   */
  document?: DrawingDocument
  /** `auto` follows the reader's system; default. Print is always light. */
  theme?: 'auto' | 'light' | 'dark'
  /** The paper size; default: that of the printer. */
  paper?: 'A4' | 'Letter'
}

/** Widths of a chart across the page, and of one beside another exhibit, in pixels. */
const FULL_CHART_WIDTH = 1150
const HALF_CHART_WIDTH = 550
/** The parts of a page, for programs that assemble it. */
export interface HtmlParts {
  /** Symbols that icons refer to. */
  symbols: string
  header: string
  /** The band of statuses; empty without one. */
  strip: string
  /** One element each: an exhibit, several side by side, or the heading of a section. */
  exhibits: readonly string[]
  sources: string
  /** Variables and style classes, to follow the common style sheet. */
  css: string
  /** The exhibits, with those without colours. */
  shown: readonly Exhibit[]
}

/**
 * The context of a page; if it is reused, equal styles keep their classes.
 *
 * @param mark see `createStyleClasses`.
 */
export function createWriting(page: Page, mark?: string): Writing {
  return { classes: createStyleClasses(mark), icons: page.icons }
}

/**
 * The pieces of a page.
 *
 * @param opened the strip of the report as it was opened, to compare with.
 */
export async function htmlParts(
  page: Page,
  options: HtmlOptions = {},
  writing: Writing = createWriting(page),
  opened?: Strip | null,
): Promise<HtmlParts> {
  const shown = page.exhibits.flatMap((exhibit): Exhibit[] =>
    exhibit.besideUnpainted ? [unpaintedTwin(exhibit), { ...exhibit, beside: true }] : [exhibit],
  )
  if (shown.some(hasLines)) writing.lines ??= await import('../chart/trend.js')
  const inside = await insides(shown, writing, options)
  // Exhibits before the first section have no section of their own.
  let heading: 'h2' | 'h3' = 'h2'
  const parts: string[] = []
  const lists = legendLists(page.exhibits)
  const { placement } = writing
  const lines =
    placement === undefined ? (await import('./flow.js')).exhibitLines(shown) : placedLines(shown, placement)
  for (const { exhibits, written, aside } of lines) {
    const line = exhibits.map((exhibit) => {
      if (exhibit.section !== null) {
        heading = 'h3'
        parts.push(`<h2 class="sec">${escapeText(exhibit.section)}</h2>`)
      }
      return exhibitMarkup(exhibit, writing, inside(exhibit), { heading, aside, legends: lists.get(exhibit.name) })
    })
    parts.push(line.length === 1 ? line[0] : `<div class="pair${written ? '' : ' flow'}">${line.join('')}</div>`)
  }
  return { ...headParts(page, options, writing, opened, shown), exhibits: parts, sources: sourcesMarkup(page), shown }
}

/**
 * The pieces above the exhibits, with the classes and symbols of all that was written so far.
 *
 * @param shown the exhibits that were written.
 */
export function headParts(
  page: Omit<Page, 'exhibits'>,
  options: HtmlOptions,
  writing: Writing,
  opened?: Strip | null,
  shown: readonly Exhibit[] = [],
): Pick<HtmlParts, 'symbols' | 'header' | 'strip' | 'css'> {
  const { title, note, asOfText, where, messages } = page
  const strip = stripMarkup(page, writing, opened)
  const by = aboutPage({ asOfText, where, sources: [] }).map(escapeText).join(' · ')
  const from = page.sources.map(escapeText).join(', ')
  const lead = note === null ? '' : `<p class="lead">${escapeText(note)}</p>`
  return {
    symbols: `<svg width="0" height="0" class="v" aria-hidden="true">${iconSymbols(iconsOf(shown, writing))}${strip === '' ? '' : STRIP_FILTER}</svg>`,
    header: `<header><h1>${escapeText(title)}</h1>
<p class="by"><span>${by}</span><span>${from}</span></p>${lead}${saidMarkup(messages)}</header>`,
    strip,
    css: themed(writing.classes.css(), options.theme ?? 'auto'),
  }
}

/** The lines of a page that was written before. */
function placedLines(shown: readonly Exhibit[], placement: NonNullable<Writing['placement']>): ExhibitLine[] {
  const lines: { exhibits: Exhibit[]; written: boolean; aside: boolean }[] = []
  for (const exhibit of shown) {
    const last = lines.at(-1)
    const place = placement.get(exhibit.name)
    if (last !== undefined && (exhibit.beside || place?.joins === true)) {
      last.exhibits.push(exhibit)
      last.written ||= exhibit.beside
    } else lines.push({ exhibits: [exhibit], written: false, aside: place?.aside === true })
  }
  return lines
}

async function drawCharts(
  exhibits: readonly Exhibit[],
  { classes, charts: chartCache, addressed }: Writing,
  { document }: HtmlOptions,
): Promise<Map<Exhibit, DrawnPanel[]>> {
  const charts = exhibits.filter((exhibit): exhibit is ChartExhibit => exhibit.kind === 'chart')
  const drawn = new Map<Exhibit, DrawnPanel[]>()
  if (charts.length === 0) return drawn
  if (document === undefined) throw new Error('no document')
  const { drawChart } = await import('../chart/chart.js')
  for (const exhibit of charts) {
    const next = exhibits[exhibits.indexOf(exhibit) + 1]
    const shares = exhibit.beside || next?.beside === true
    const size = {
      width: shares ? HALF_CHART_WIDTH : FULL_CHART_WIDTH,
      height: 330,
      paint: classes.paint,
      ...(addressed && { addressed }),
    }
    // Comparing is faster than drawing an unchanged chart.
    const key = chartCache && JSON.stringify([exhibit, size.width])
    const before = chartCache?.get(exhibit.name)
    const panels = before !== undefined && before.key === key ? before.panels : drawChart(exhibit, document, size)
    if (key !== undefined) chartCache?.set(exhibit.name, { key, panels })
    drawn.set(exhibit, panels)
  }
  return drawn
}

/** How an exhibit is written. */
interface ExhibitFrame {
  heading: 'h2' | 'h3'
  /** Whether the legend is at its right. */
  aside: boolean
  legends: LegendList | undefined
}

function exhibitMarkup(
  exhibit: Exhibit,
  writing: Writing,
  inside: string,
  { heading, aside, legends: { shown, references } = { shown: exhibit.legends, references: [] } }: ExhibitFrame,
): string {
  const id = idOf(exhibit.name)
  const about = aboutExhibit(exhibit)
  const keys = [
    ...shown.map((legend) => legendMarkup(legend.title, legendParts(legend, exhibit), writing.classes, writing.icons)),
    missingMarkup(exhibit),
    ...references.map(
      ({ text, exhibit: name, title }) =>
        `<p class="same">${escapeText(text)} <a href="#${idOf(name)}">${escapeText(title)}</a></p>`,
    ),
  ].join('')
  const fit = exhibit.kind === 'table' || exhibit.kind === 'list' || exhibit.kind === 'reading'
  const className = fit ? ` class="fit${aside && shown.length > 0 ? ' aside' : ''}"` : ''
  const legend = keys === '' ? '' : `<div class="keys">${keys}</div>`
  const said = about === '' ? '' : `<p class="note">${escapeText(about)}</p>\n`
  return `<section${className} aria-labelledby="${id}"><${heading} id="${id}">${escapeText(exhibit.title)}</${heading}>
${said}${inside}${legend}${saidMarkup(exhibit.messages)}</section>`
}

function idOf(name: string): string {
  return escapeText(`x-${encodeURIComponent(name.toWellFormed())}`)
}

/** Whether it has trends in rows or cards. */
function hasLines(exhibit: Exhibit): boolean {
  return exhibit.kind === 'cards'
    ? exhibit.cards.some(({ trend }) => trend !== null)
    : 'rows' in exhibit && exhibit.trends.length > 0
}

/** The writers of exhibits; those other than tables are loaded on demand. */
async function insides(
  exhibits: readonly Exhibit[],
  writing: Writing,
  options: HtmlOptions,
): Promise<(exhibit: Exhibit) => string> {
  const has = (kind: Exhibit['kind']): boolean => exhibits.some((exhibit) => exhibit.kind === kind)
  const charts = await drawCharts(exhibits, writing, options)
  const [chart, cards, records, words] = await Promise.all([
    has('chart') ? import('./kinds/chart.js') : undefined,
    has('cards') ? import('./kinds/cards.js') : undefined,
    has('records') ? import('./kinds/records.js') : undefined,
    has('reading') ? import('./kinds/words.js') : undefined,
  ])
  return (exhibit) => {
    switch (exhibit.kind) {
      case 'chart':
        return chart?.chartMarkup(exhibit, charts.get(exhibit) ?? [], writing.classes) ?? ''
      case 'cards':
        return cards?.cardsMarkup(exhibit, writing) ?? ''
      case 'records':
        return records?.recordsMarkup(exhibit, writing) ?? ''
      case 'reading':
        return words?.wordsMarkup(exhibit, writing) ?? ''
      default:
        return gridMarkup(exhibit, writing) + numbersMarkup(exhibit, writing)
    }
  }
}

/** The legend of hatching, if a heatmap has some. */
function missingMarkup(exhibit: Exhibit): string {
  if (exhibit.kind !== 'heatmap') return ''
  const some = exhibit.rows.some((row) => row.cells.some((cell) => cell?.value === null))
  return some ? '<ul class="key"><li><span class="sw no"></span>no value</li></ul>' : ''
}

/** The control totals of every source. */
function sourcesMarkup({ controls }: Page): string {
  if (controls.length === 0) return ''
  const items = controls.map(({ text }) => `<li>${escapeText(text)}</li>`)
  return `<footer><h2>Sources</h2><ul>${items.join('')}</ul></footer>\n`
}

function saidMarkup(notes: readonly string[]): string {
  if (notes.length === 0) return ''
  return `<ul class="said">${notes.map((note) => `<li>${escapeText(note)}</li>`).join('')}</ul>`
}

/** The icons of everything that was written: those of styles, and the arrows of cards. */
function iconsOf(exhibits: readonly Exhibit[], { classes }: Writing): Set<string> {
  const names = new Set<string>()
  for (const { icon, iconAfter } of classes.looks())
    for (const name of [icon, iconAfter]) if (name !== null) names.add(name)
  for (const exhibit of exhibits)
    if (exhibit.kind === 'cards') for (const { change } of exhibit.cards) if (change !== null) names.add(change.icon)
  // `bySign` in a legend stands for its three arrows.
  if (names.delete('bySign')) for (const name of ['up', 'sideways', 'down']) names.add(name)
  return names
}
