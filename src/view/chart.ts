import * as Plot from '@observablehq/plot'
import { colorText } from '../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../color/pigments.js'
import type { ChartExhibit, ChartPoint } from '../page/page.js'

/** What the plotting library draws with: the browser's document, or one made for a server. */
export type DrawingDocument = object

export interface ChartSize {
  /** In CSS pixels. */
  width: number
  height: number
}

/** About the width of a bold digit at the size of the labels, in pixels. */
const DIGIT = 6.4

/** A bar chart as an SVG element in text. Marks and labels wear the colours that the painting gave them. */
export function drawChart(exhibit: ChartExhibit, document: DrawingDocument, size: ChartSize): string {
  const points = exhibit.points.map((point, i) => ({ ...point, i }))
  const shown = points.filter((p) => p.value !== null)
  const marginLeft = 56
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
      tickFormat: (i: number) => thinned(points, i, step),
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
  marks.push(
    Plot.text(exhibit.lines, {
      y: 'value',
      text: (l: { label: string; text: string }) => `${l.label}\n${l.text}`,
      frameAnchor: 'right',
      textAnchor: 'start',
      dx: 8,
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
  svg.setAttribute('aria-label', `${exhibit.title}: ${exhibit.measureLabel}`)
  return svg.outerHTML
}

/** A label of a pigment's ink where the mark is a pigment: bodies are too pale for text. */
function inkOf(point: ChartPoint): string {
  const { pigment, ink } = point.look
  if (pigment !== null) return colorText(PIGMENTS[pigment].ink)
  return colorText(ink !== null && point.look.fill === null ? ink : SOOT)
}

/** Where a new year begins, in the middle of its bars. */
function yearStarts(points: readonly { outer: string; i: number }[]): { i: number; text: string }[] {
  const runs = new Map<string, number[]>()
  for (const { outer, i } of points) if (outer !== '') runs.set(outer, [...(runs.get(outer) ?? []), i])
  return [...runs].map(([text, own]) => ({ text, i: own[Math.floor((own.length - 1) / 2)] }))
}

/** Labels that would touch are thinned to every second, third and so on. */
function thinned(points: readonly ChartPoint[], i: number, step: number): string {
  const widest = Math.max(...points.map((p) => p.label.length)) * 7 + 6
  const every = Math.max(1, Math.ceil(widest / step))
  const { label } = points[i]
  return i % every === 0 ? (label.length > 18 ? `${label.slice(0, 17)}…` : label) : ''
}
