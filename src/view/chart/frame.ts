import type { PackedColor } from '../../color/color.js'
import { numberPrinter } from '../../format/format.js'
import { type ChartExhibit, type ChartPoint, type ChartSeries, hintOf } from '../../page/page.js'

import { printable } from '../markup.js'
import { cutTo, textWidth } from './text-width.js'

/** A mark in the units of the chart: position along the key axis, value across it. */
export interface Drawn {
  draw: ChartSeries['draw']
  labels: ChartSeries['labels']
  place: number
  /** The ends of its bar along the key axis. */
  slot: readonly [number, number]
  /** Where its value begins: zero, or the value it is stacked on. */
  from: number
  /** Where it ends; null if missing. */
  at: number | null
  mark: PackedColor
  outline: PackedColor | null
  /** The colour of its series. */
  plain: PackedColor
  painted: boolean
  /** Whether its period ends after the date of the report: then its mark is hollow. */
  unfinished: boolean
  /** The group of its place, on an axis of several keys: a line ends with it. */
  group: string
  /** Whether it has no neighbours in its series and group: a line would not show it. */
  alone: boolean
  /**
   * Its value as in tables, and in the shortest form that distinguishes the values of the chart;
   * empty if its number is hidden.
   */
  text: string
  short: string
  hint: string
  point: ChartPoint
}

/** The measurements of one panel. */
export interface ChartFrame {
  /** The index of the panel. */
  panel: number
  /** How many panels stand side by side. */
  perRow: number
  label: string
  width: number
  height: number
  margins: { left: number; right: number; top: number; bottom: number }
  /** The ends of the value axis, round numbers. */
  domain: readonly [number, number]
  ticks: readonly number[]
  /** The texts of the ticks. */
  tickTexts: readonly string[]
  /** The label of each place, cut to fit. */
  places: readonly string[]
  /** Whether the labels of places are turned, as they do not fit side by side. */
  tilted: boolean
  years: readonly { at: number; text: string }[]
  series: readonly (readonly Drawn[])[]
}

const FONT_SIZE = 12
/** A narrower panel is not readable. */
const MIN_PANEL_WIDTH = 260
const GAP = 18
/** The longest turned name; the height and width that one needs by its length, and its line. */
const MAX_TILTED = 140
const SLOPE = 0.66
const REACH = 0.78
const LINE = 15

/** Measures a chart: one panel, or several of one size and scale. */
export function framesOf(exhibit: ChartExhibit, { width, height }: ChartOptions): ChartFrame[] {
  const count = Math.max(1, exhibit.panels.length)
  const fitting = Math.max(1, Math.floor((width + GAP) / (MIN_PANEL_WIDTH + GAP)))
  // Rows of equal length, but for the last: five panels are three and two.
  const perRow = Math.ceil(count / Math.ceil(count / fitting))
  const panelWidth = Math.floor((width - GAP * (perRow - 1)) / perRow)
  const stacks = exhibit.panels.map((_, panel) => seriesOf(exhibit, panel))
  const { domain, ticks } = niceDomain(exhibit, stacks.flat(2))
  const labels = shortTexts(exhibit, ticks)
  const widest = Math.max(...labels.map((text) => textWidth(text, FONT_SIZE)), 20)
  const { horizontal: lying } = exhibit
  // Beside bars from left to right there is no room for groups of their own.
  const names = exhibit.places.map((p) => printable(lying && p.nested ? `${p.outer}, ${p.label}` : p.label))
  const longest = Math.max(0, ...names.map((name) => textWidth(name, FONT_SIZE)))
  const narrow = lying ? Math.min(panelWidth * 0.36, longest + 14) : widest + 18
  // The name of a reference line is at its end, beside the bars, where it covers none.
  const right = lying ? Math.max(24, widest) : exhibit.references.length > 0 ? 100 : 16
  const yearsHeight = !lying && exhibit.places.some((p) => p.outer !== '') ? 16 : 0
  const rowHeight = Math.max(24, 16 * Math.max(1, groupedBars(exhibit)))
  const top = lying && exhibit.references.length > 0 ? 18 + 15 * exhibit.references.length : 24
  const stepFrom = (left: number): number => (panelWidth - left - right) / Math.max(1, names.length)
  // Names that do not fit side by side are turned.
  const tilted = !lying && !exhibit.timed && longest > stepFrom(narrow) - 6
  const room = Math.min(longest, MAX_TILTED)
  // The first of them reaches to the left of its place.
  const left = tilted ? Math.max(narrow, room * REACH - stepFrom(narrow) / 2) : narrow
  const step = stepFrom(left)
  const bottom = 30 + yearsHeight + (tilted ? room * SLOPE : 0)
  const plain = count > 1 ? Math.min(height, 220) : height
  const tall = lying ? top + bottom + rowHeight * exhibit.places.length : plain + (tilted ? room * SLOPE : 0)
  return exhibit.panels.map((panel, i) => ({
    panel: i,
    perRow,
    label: panel.label,
    width: panelWidth,
    height: tall,
    margins: { left, right, top, bottom },
    domain,
    ticks,
    tickTexts: labels,
    places: lying ? cutNames(names, left - 14) : tickLabels(names, tilted, step),
    tilted,
    years: lying ? [] : yearsOf(exhibit, step),
    series: stacks[i],
  }))
}

function groupedBars({ series, stacked }: ChartExhibit): number {
  return stacked ? 1 : series.filter(({ draw }) => draw === 'bar').length
}

/** A text is accurate enough if it differs from its value by less than this share. */
const TRUE_TO = 0.005

/** A short text of a value: `3.5k`. */
export function axisText({ axis }: ChartExhibit, value: number, digits = 0): string {
  return numberPrinter({ ...axis.format, digits: Math.max(axis.digits, digits) }, axis.locale)(value)
}

/** Short texts with the fewest digits that are accurate and distinct. */
function shortTexts(exhibit: ChartExhibit, values: readonly number[]): string[] {
  const distinct = new Set(values).size
  for (let digits = 0; ; digits++) {
    const texts = values.map((x) => axisText(exhibit, x, digits))
    const alike = new Set(texts).size < distinct
    if (digits === MOST_DIGITS || (!alike && values.every((x, i) => isTrue(x, texts[i], digits)))) return texts
  }
}

/**
 * Whether a text with so many digits is accurate enough; a word for thousands or millions may
 * follow.
 */
function isTrue(x: number, text: string, digits: number): boolean {
  const shown = Number(text.replace(/\D/g, '')) / 10 ** digits
  if (x === 0 || Number.isNaN(shown)) return true
  if (shown === 0) return false
  const power = 10 ** Math.round(Math.log10(Math.abs(x) / shown))
  return Math.abs(Math.abs(x) - shown * power) <= Math.abs(x) * TRUE_TO
}

/** With more digits it would be longer than the number. */
const MOST_DIGITS = 3

/** The marks of one panel, with bars side by side or stacked. */
function seriesOf(exhibit: ChartExhibit, panel: number): Drawn[][] {
  const shorts = shortOf(exhibit)
  const bars = Math.max(1, groupedBars(exhibit))
  const above = new Float64Array(exhibit.places.length)
  const below = new Float64Array(exhibit.places.length)
  const inset = exhibit.places.length > 30 ? 0.06 : 0.12
  let bar = 0
  const groupAt = (place: number): string => {
    const { nested, outer } = exhibit.places[place]
    return nested ? outer : ''
  }
  return exhibit.series.map((series, s) => {
    const points = exhibit.points.filter((p) => p.panel === panel && p.series === s)
    const places = new Set(points.flatMap((p) => (typeof p.value === 'number' ? [p.place] : [])))
    const at = series.draw === 'bar' && !exhibit.stacked ? bar++ : 0
    const wide = (1 - 2 * inset) / (series.draw === 'bar' ? bars : 1)
    return points.map((point): Drawn => {
      const { place } = point
      const value = typeof point.value === 'number' ? point.value : null
      let from = 0
      if (exhibit.stacked && value !== null) {
        const side = value < 0 ? below : above
        from = side[place]
        side[place] += value
      }
      const start = place + inset + at * wide
      const gap = bars > 1 ? wide * 0.06 : 0
      return {
        draw: series.draw,
        labels: series.labels,
        place,
        slot: [start + gap, start + wide - gap],
        from,
        at: value === null ? null : from + value,
        mark: point.mark,
        outline: point.outline,
        plain: series.mark,
        painted: point.painted,
        unfinished: (exhibit.places[place]?.until ?? '') !== '',
        group: groupAt(place),
        alone: ![place - 1, place + 1].some((next) => places.has(next) && groupAt(next) === groupAt(place)),
        text: value === null || point.style.hide === 'value' ? '' : printable(point.text),
        short: value === null || point.style.hide === 'value' ? '' : (shorts.get(value) ?? ''),
        hint: printable(hintOf(point)),
        point,
      }
    })
  })
}

/** The short texts of all values with labels. */
function shortOf(exhibit: ChartExhibit): Map<number, string> {
  const labelled = exhibit.points.filter(({ series }) => exhibit.series[series].labels !== 'none')
  const values = labelled.flatMap(({ value }) => (typeof value === 'number' ? [value] : []))
  const texts = shortTexts(exhibit, values)
  // If distinct short texts are as long as the numbers, the numbers are printed.
  const full = labelled.flatMap(({ value, text }) => (typeof value === 'number' ? [printable(text)] : []))
  const longest = (list: readonly string[]): number => list.reduce((most, text) => Math.max(most, text.length), 0)
  const best = longest(texts) < longest(full) ? texts : full
  return new Map(values.map((value, i) => [value, best[i]]))
}

/**
 * Round ends of the value axis and about five ticks: steps of 1, 2, 2.5 or 5 times a power of ten.
 * Bars need zero.
 */
function niceDomain(
  exhibit: ChartExhibit,
  drawn: readonly Drawn[],
): { domain: readonly [number, number]; ticks: number[] } {
  const values = [...drawn.flatMap((d) => (d.at === null ? [] : [d.at])), ...exhibit.references.map((l) => l.value)]
  if (exhibit.series.some(({ draw }) => draw === 'bar' || draw === 'mark')) values.push(0)
  const [low, high] = values.length === 0 ? [0, 1] : [Math.min(...values), Math.max(...values)]
  const reach = high > low ? high - low : Math.abs(high) || 1
  const rough = reach / 5
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = power * ([1, 2, 2.5, 5, 10].find((by) => by * power >= rough) ?? 10)
  const from = Math.floor(low / step + 1e-9) * step
  const to = Math.max(Math.ceil(high / step - 1e-9) * step, from + step)
  const count = Math.round((to - from) / step)
  const ticks = Array.from({ length: count + 1 }, (_, i) => Number((from + i * step).toPrecision(12)))
  return { domain: [ticks[0], ticks[count]], ticks }
}

/** Overlapping labels are reduced to every second, third and so on; turned names are cut. */
function tickLabels(names: readonly string[], tilted: boolean, step: number): string[] {
  if (tilted) {
    const every = Math.max(1, Math.ceil(LINE / step))
    return cutNames(names, MAX_TILTED).map((name, i) => (i % every === 0 ? name : ''))
  }
  const widest = Math.max(1, ...names.map((name) => textWidth(name, FONT_SIZE))) + 8
  const every = Math.max(1, Math.ceil(widest / step))
  return names.map((name, i) => (i % every === 0 ? name : ''))
}

/** Names cut to a width: at their ends, or in the middle where the ends tell them apart. */
function cutNames(names: readonly string[], width: number): string[] {
  const cut = names.map((name) => cutTo(name, FONT_SIZE, width))
  const distinct = (list: readonly string[]): number => new Set(list).size
  return distinct(cut) === distinct(names) ? cut : names.map((name) => cutMiddle(name, FONT_SIZE, width))
}

/** Text cut in its middle, with an ellipsis. */
function cutMiddle(text: string, size: number, width: number): string {
  if (textWidth(text, size) <= width) return text
  const characters = [...text]
  let [head, tail] = ['', '']
  for (let i = 0; i < characters.length >> 1; i++) {
    const [first, last] = [head + characters[i], (characters.at(-1 - i) ?? '') + tail]
    if (textWidth(`${first}…${tail}`, size) > width) break
    head = first
    if (textWidth(`${head}…${last}`, size) > width) break
    tail = last
  }
  return `${head.trimEnd()}…${tail.trimStart()}`
}

/** The year or group of each run of places, in its middle. */
function yearsOf({ places }: ChartExhibit, step: number): { at: number; text: string }[] {
  const runs = new Map<string, number[]>()
  places.forEach(({ outer }, i) => {
    if (outer !== '') runs.set(outer, [...(runs.get(outer) ?? []), i])
  })
  return [...runs].map(([text, places]) => ({
    text: cutTo(printable(text), FONT_SIZE, step * places.length - 8),
    at: (places[0] + places[places.length - 1] + 1) / 2,
  }))
}

/** The document of the plotting library: that of the browser, or one for servers. */
export type DrawingDocument = object

export interface ChartOptions {
  /** In CSS pixels. */
  width: number
  height: number
  /** Prints a colour: as it is, or as a variable of the theme. Default: as it is. */
  paint?: (color: PackedColor) => string
  /** Whether marks get the address of their point, as `data-row`; needs a browser's document. */
  addressed?: true
}
