import * as Plot from '@observablehq/plot'
import { colorText, type PackedColor } from '../../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../../color/pigments.js'
import type { ChartExhibit } from '../../page/page.js'
import { printable } from '../markup.js'
import { axisText, type ChartFrame, type ChartOptions, type DrawingDocument, type Drawn, framesOf } from './frame.js'
import { apart, type PlacedLabel, panelLabels } from './labels.js'

/** One panel of a chart, as an SVG element in text. */
export interface DrawnPanel {
  /** The value of the panel key; empty for a single panel. */
  label: string
  svg: string
  /** How many panels stand side by side at the full width of a page. */
  perRow: number
}

const HAIR = 0xd3dae6
/** The opacity of the bar of an unfinished period, inside its outline. */
const HOLLOW = 0.25

/** Draws a chart, one panel at a time. Marks and labels have the colours of their rules. */
export function drawChart(exhibit: ChartExhibit, document: DrawingDocument, options: ChartOptions): DrawnPanel[] {
  const paint = options.paint ?? colorText
  const frames = framesOf(exhibit, options)
  const labels = panelLabels(exhibit, frames)
  return frames.map((frame, i) => ({
    label: frame.label,
    svg: drawPanel(exhibit, frame, labels[i], document, { ...options, paint }),
    perRow: frame.perRow,
  }))
}

/** The options of the marks of a panel. */
interface PanelStyle {
  paint(color: PackedColor): string
  quiet: string
  soot: string
  /**
   * The key is along one axis and the value across it: x and y of a vertical chart, y and x of a
   * horizontal one.
   */
  along: 'x' | 'y'
  across: 'x' | 'y'
}

function drawPanel(
  exhibit: ChartExhibit,
  frame: ChartFrame,
  labels: readonly PlacedLabel[],
  document: DrawingDocument,
  options: ChartOptions & { paint: (color: PackedColor) => string },
): string {
  const { paint } = options
  const { horizontal: lying } = exhibit
  const { width, height, margins } = frame
  const [along, across] = lying ? (['y', 'x'] as const) : (['x', 'y'] as const)
  const style: PanelStyle = { paint, quiet: paint(PIGMENTS.stone.ink), soot: paint(SOOT), along, across }
  const places = options.addressed === true ? new Map(exhibit.points.map((point, i) => [point, i])) : undefined
  const titleOf = ({ hint, point }: Drawn): string => (places === undefined ? hint : `${places.get(point)} ${hint}`)
  const zero = frame.domain[0] <= 0 && frame.domain[1] >= 0 ? [0] : []
  const marks: unknown[] = [
    ...axisMarks(exhibit, frame, style),
    ...frame.series.flatMap((series) => seriesMarks(exhibit, series, style, titleOf)),
    (lying ? Plot.ruleX : Plot.ruleY)(zero, { stroke: style.soot, strokeWidth: 1 }),
    ...textMarks(exhibit, frame, labels, style),
  ]
  const alongScale = { domain: lying ? [frame.places.length, 0] : [0, Math.max(1, frame.places.length)], label: null }
  const acrossScale = { domain: frame.domain, label: null }
  const svg = Plot.plot({
    document,
    width,
    height,
    marginLeft: margins.left,
    marginRight: margins.right,
    marginTop: margins.top,
    marginBottom: margins.bottom,
    style: { fontFamily: 'inherit', fontSize: '12px', background: 'transparent' },
    color: { type: 'identity' },
    x: lying ? acrossScale : alongScale,
    y: lying ? alongScale : acrossScale,
    marks,
  } as object)
  const name = [exhibit.title, frame.label, exhibit.measureLabel].filter((text) => text !== '')
  if (options.addressed === true) addressMarks(svg)
  svg.setAttribute('role', 'img')
  svg.setAttribute('aria-label', printable(name.join(': ')))
  return plainMarkup(svg.outerHTML)
}

/** The beginning of a mark's title, with its address. */
interface TitleElement {
  textContent: string | null
  parentElement: { setAttribute(name: string, value: string): void } | null
}

/** Moves the addresses of marks from their titles to the marks. */
function addressMarks(svg: { querySelectorAll(selector: string): Iterable<TitleElement> }): void {
  for (const title of svg.querySelectorAll('title')) {
    const [address, at] = /^(\d+) /.exec(title.textContent ?? '') ?? []
    if (address === undefined) continue
    title.parentElement?.setAttribute('data-row', at)
    title.textContent = (title.textContent ?? '').slice(address.length)
  }
}

function axisMarks(exhibit: ChartExhibit, frame: ChartFrame, { paint, quiet }: PanelStyle): unknown[] {
  const { horizontal: lying } = exhibit
  const value = {
    tickSize: 0,
    tickPadding: 8,
    ticks: frame.ticks,
    tickFormat: (v: number) => frame.tickTexts[frame.ticks.indexOf(v)] ?? axisText(exhibit, v),
    fill: quiet,
    label: null,
  }
  const place = {
    tickSize: 0,
    tickPadding: 7,
    ticks: frame.places.map((_, i) => i + 0.5),
    tickFormat: (v: number) => frame.places[Math.floor(v)] ?? '',
    fill: quiet,
    label: null,
    ...(frame.tilted && { tickRotate: -40 }),
  }
  const grid = { ticks: frame.ticks, stroke: paint(HAIR), strokeOpacity: 0.8 }
  // Groups of places are told apart by a line between them.
  const { places } = exhibit
  const edges = places.flatMap(({ nested, outer }, i) => (nested && i > 0 && places[i - 1].outer !== outer ? [i] : []))
  const edge = { stroke: quiet, strokeOpacity: 0.7, strokeWidth: 1 }
  return [
    lying ? Plot.gridX(grid) : Plot.gridY(grid),
    lying ? Plot.axisX(value) : Plot.axisY(value),
    lying ? Plot.axisY(place) : Plot.axisX(place),
    ...(edges.length === 0 ? [] : [lying ? Plot.ruleY(edges, edge) : Plot.ruleX(edges, edge)]),
  ]
}

/** The bars, points, marks or line of one series. */
function seriesMarks(
  exhibit: ChartExhibit,
  series: readonly Drawn[],
  style: PanelStyle,
  title: (drawn: Drawn) => string,
): unknown[] {
  const { paint, along, across } = style
  const drawn = series.filter((d) => d.at !== null)
  const [first] = series
  if (first === undefined) return []
  const fill = (d: Drawn): string => paint(d.mark)
  const stroke = (d: Drawn): string => paint(d.outline ?? d.mark)
  const to = (d: Drawn) => d.at
  const slot = { [`${along}1`]: (d: Drawn) => d.slot[0], [`${along}2`]: (d: Drawn) => d.slot[1] }
  if (first.draw === 'bar')
    return [
      Plot.rect(drawn, {
        ...slot,
        [`${across}1`]: (d: Drawn) => d.from,
        [`${across}2`]: to,
        fill,
        fillOpacity: (d: Drawn) => (d.unfinished ? HOLLOW : 1),
        stroke,
        strokeWidth: (d: Drawn) =>
          d.unfinished ? 1.6 : d.painted && d.outline !== null && exhibit.series.length > 1 ? 2.4 : 1,
        rx: exhibit.stacked ? 0 : 2,
        title,
      }),
    ]
  if (first.draw === 'mark') {
    const rule = exhibit.horizontal ? Plot.ruleX : Plot.ruleY
    return [rule(drawn, { ...slot, [across]: to, stroke: fill, strokeWidth: 3, title })]
  }
  const dots = { [along]: (d: Drawn) => d.place + 0.5, [across]: to }
  const isLine = first.draw === 'line'
  // On a line only painted points are marked, those without neighbours, and those of unfinished
  // periods.
  const shown = isLine ? drawn.filter((d) => d.painted || d.alone || d.unfinished) : drawn
  // The other points have invisible marks for the pointer.
  const unseen = drawn.filter((d) => !shown.includes(d))
  return [
    ...(isLine
      ? [
          Plot.line(series, {
            ...dots,
            z: (d: Drawn) => d.group,
            stroke: paint(first.plain),
            strokeWidth: 2.2,
            curve: 'linear',
          }),
        ]
      : []),
    Plot.dot(unseen, { ...dots, r: 7, fill: paint(first.plain), fillOpacity: 0, stroke: 'none', title }),
    Plot.dot(shown, {
      ...dots,
      r: isLine ? 4.2 : 5,
      fill: (d: Drawn) => (d.unfinished ? paint(PAPER) : fill(d)),
      stroke,
      strokeWidth: (d: Drawn) => (d.unfinished ? 2 : 1.2),
      title,
    }),
  ]
}

/** Reference lines with their texts, years under a calendar axis, and value labels. */
function textMarks(
  exhibit: ChartExhibit,
  frame: ChartFrame,
  labels: readonly PlacedLabel[],
  { paint, quiet, soot, across }: PanelStyle,
): unknown[] {
  const { horizontal: lying } = exhibit
  const lines = exhibit.references
    .filter(({ panel }) => panel === undefined || panel === frame.panel)
    .map((l) => ({ ...l, label: printable(l.label) }))
  const dashes = { [across]: 'value', stroke: soot, strokeDasharray: '4 3', strokeWidth: 1.2 }
  const marks: unknown[] = [(lying ? Plot.ruleX : Plot.ruleY)(lines, dashes)]
  const under = frame.margins.bottom - 12
  const years = { x: 'at', text: 'text', frameAnchor: 'bottom', dy: under, fill: quiet, fontWeight: 600 } as const
  if (!lying && frame.years.length > 0) marks.push(Plot.text(frame.years, { ...years, textAnchor: 'middle' }))
  for (const label of labels)
    marks.push(
      Plot.text([label], {
        x: () => label.x,
        y: () => label.y,
        text: () => label.text,
        dx: label.dx,
        dy: label.dy,
        textAnchor: label.anchor,
        fill: paint(label.ink),
        stroke: paint(PAPER),
        strokeWidth: 3,
        fontWeight: 600,
        fontSize: 11.5,
      }),
    )
  for (const line of apart(lines, frame, lying))
    marks.push(
      Plot.text([line], {
        ...(lying
          ? { x: 'value', frameAnchor: 'top', textAnchor: 'middle', dy: -14 - line.shift }
          : { y: 'value', frameAnchor: 'right', textAnchor: 'start', dx: 8, dy: line.shift }),
        text: () => (lying ? `${line.label} ${line.text}` : `${line.label}\n${line.text}`),
        lineHeight: 1.25,
        fill: soot,
      }),
    )
  return marks
}

/**
 * Removes group names, which assistive technology would read; properties that are no attributes of
 * SVG 1.1 become styles.
 */
function plainMarkup(svg: string): string {
  return svg
    .replace(/(<g\b[^>]*?) aria-label="([^"]*)"/g, '$1 data-mark="$2"')
    .replaceAll(' font-variant="tabular-nums"', '')
    .replaceAll(' paint-order="stroke"', ' style="paint-order:stroke"')
}
