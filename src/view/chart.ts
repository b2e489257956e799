import * as Plot from '@observablehq/plot'
import { colorText } from '../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../color/pigments.js'
import type { ChartExhibit, ChartPoint } from '../page/page.js'
import { printable } from './markup.js'

/** What the plotting library draws with: the browser's document, or one made for a server. */
export type DrawingDocument = object

export interface ChartSize {
  /** In CSS pixels. */
  width: number
  height: number
}

/** Room for the two lines of a line's name, in pixels. */
const NAME_HEIGHT = 34
/** About the width of a bold digit at the size of the labels, in pixels. */
const DIGIT = 6.4

/** A bar chart as an SVG element in text. Marks and labels wear the colours that the painting gave them. */
export function drawChart(exhibit: ChartExhibit, document: DrawingDocument, size: ChartSize): string {
  // The plotting library escapes what it writes; what no markup may hold is taken out before.
  const points = exhibit.points.map((p, i) => ({ ...p, i, label: printable(p.label), hint: printable(p.hint) }))
  const lines = exhibit.lines.map((l) => ({ ...l, label: printable(l.label) }))
  const shown = points.filter((p) => p.value !== null)
  const marginLeft = Math.max(40, 18 + 6.8 * widestTick(exhibit))
  // The name of a line stands at its end, beside the bars, where it covers none.
  const marginRight = exhibit.lines.length > 0 ? 96 : 16
  const years = yearStarts(points)
  const step = (size.width - marginLeft - marginRight) / Math.max(1, points.length)
  const quiet = colorText(PIGMENTS.pebble.ink)
  const marks: unknown[] = [
    Plot.gridY({ ticks: 5, stroke: colorText(0xd8d1c4), strokeOpacity: 0.8 }),
    Plot.axisY({
      tickSize: 0,
      tickPadding: 8,
      tickFormat: (v: number) => exhibit.axisText(v),
      ticks: 5,
      fill: quiet,
      label: null,
    }),
    Plot.axisX({
      tickSize: 0,
      tickPadding: 7,
      tickFormat: (i: number) => tickLabel({ ...exhibit, points }, i, step),
      fill: quiet,
      label: null,
    }),
    Plot.barY(shown, {
      x: 'i',
      y: 'value',
      fill: (p: ChartPoint) => colorText(p.mark),
      stroke: (p: ChartPoint) => colorText(p.outline ?? p.mark),
      strokeWidth: 1,
      rx: 2,
      insetLeft: step > 18 ? 3 : 1,
      insetRight: step > 18 ? 3 : 1,
      title: (p: ChartPoint) => p.hint,
    }),
    Plot.ruleY([0], { stroke: colorText(SOOT), strokeWidth: 1 }),
    Plot.ruleY(exhibit.lines, { y: 'value', stroke: colorText(SOOT), strokeDasharray: '4 3', strokeWidth: 1.2 }),
  ]
  if (years.length > 1 || (years.length === 1 && years[0].text !== ''))
    marks.push(
      Plot.text(years, {
        x: 'i',
        text: 'text',
        frameAnchor: 'bottom',
        dy: 34,
        fill: quiet,
        fontWeight: 600,
        textAnchor: 'middle',
      }),
    )
  const widest = Math.max(0, ...shown.map((p) => exhibit.axisText(p.value ?? 0).length))
  if (exhibit.labels && step >= widest * DIGIT + 1) {
    const label = (up: boolean): object => ({
      x: 'i',
      y: 'value',
      text: (p: ChartPoint) => (p.look.hide === 'value' ? '' : exhibit.axisText(p.value ?? 0)),
      dy: up ? -8 : 10,
      fill: (p: ChartPoint) => inkOf(p),
      stroke: colorText(PAPER),
      strokeWidth: 3,
      fontWeight: 600,
      fontSize: 11.5,
    })
    marks.push(
      Plot.text(
        shown.filter((p) => (p.value ?? 0) >= 0),
        label(true),
      ),
    )
    marks.push(
      Plot.text(
        shown.filter((p) => (p.value ?? 0) < 0),
        label(false),
      ),
    )
  }
  for (const line of apart({ ...exhibit, lines }, size.height - 70))
    marks.push(
      Plot.text([line], {
        y: 'value',
        text: () => `${line.label}\n${line.text}`,
        frameAnchor: 'right',
        textAnchor: 'start',
        dx: 8,
        dy: line.shift,
        lineHeight: 1.25,
        fill: colorText(SOOT),
      }),
    )
  const svg = Plot.plot({
    document,
    width: size.width,
    height: size.height,
    marginLeft,
    marginRight,
    marginTop: 24,
    marginBottom: years.length > 0 ? 46 : 30,
    style: { fontFamily: 'inherit', fontSize: '12px', background: 'transparent' },
    color: { type: 'identity' },
    x: { type: 'band', domain: points.map((p) => p.i), padding: 0.08 },
    y: { nice: true, zero: true, label: null },
    marks,
  } as object)
  svg.setAttribute('role', 'img')
  svg.setAttribute('aria-label', printable(`${exhibit.title}: ${exhibit.measureLabel}`))
  return svg.outerHTML
}

/** A label of a pigment's ink where the mark is a pigment: bodies are too pale for text. */
function inkOf(point: ChartPoint): string {
  const { pigment, ink } = point.look
  if (pigment !== null) return colorText(pigment.ink)
  return colorText(ink !== null && point.look.fill === null ? ink : SOOT)
}

/** Where a new year begins, in the middle of its bars. */
function yearStarts(points: readonly { outer: string; i: number }[]): { i: number; text: string }[] {
  const runs = new Map<string, number[]>()
  for (const { outer, i } of points) if (outer !== '') runs.set(outer, [...(runs.get(outer) ?? []), i])
  return [...runs].map(([text, own]) => ({ text, i: own[Math.floor((own.length - 1) / 2)] }))
}

/** About how many characters the longest label of the value axis has. */
function widestTick(exhibit: ChartExhibit): number {
  const values = [...exhibit.points.map((p) => p.value ?? 0), ...exhibit.lines.map((l) => l.value)]
  // Ticks are round numbers: those near the ends have the most digits.
  return Math.max(...[Math.max(0, ...values), Math.min(0, ...values)].map((v) => exhibit.axisText(rounded(v)).length))
}

/** The number of one digit nearest to a value, and of as many places. */
function rounded(value: number): number {
  if (value === 0) return 0
  const place = 10 ** Math.floor(Math.log10(Math.abs(value)))
  return Math.round(value / place) * place
}

/** Time labels that would touch are thinned to every second, third and so on; names are cut to what fits. */
function tickLabel({ points, timed }: ChartExhibit, i: number, step: number): string {
  const { label } = points[i]
  if (!timed) {
    const most = Math.max(1, Math.floor((step - 6) / 6.6))
    return label.length > most ? `${label.slice(0, Math.max(1, most - 1))}…` : label
  }
  const widest = Math.max(...points.map((p) => p.label.length)) * 7 + 6
  return i % Math.max(1, Math.ceil(widest / step)) === 0 ? label : ''
}

/** The names of lines that stand close are moved apart, each by its `shift` in pixels. */
function apart(exhibit: ChartExhibit, height: number): { value: number; label: string; text: string; shift: number }[] {
  const values = [0, ...exhibit.points.map((p) => p.value ?? 0), ...exhibit.lines.map((l) => l.value)]
  const scale = height / (Math.max(...values) - Math.min(...values) || 1)
  let last = Number.NEGATIVE_INFINITY
  return [...exhibit.lines]
    .sort((a, b) => b.value - a.value)
    .map((line) => {
      const own = -line.value * scale
      const at = Math.max(own, last + NAME_HEIGHT)
      last = at
      return { ...line, shift: at - own }
    })
}
