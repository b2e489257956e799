import type { PackedColor } from '../../../color/color.js'
import { contrast } from '../../../color/contrast.js'
import { PAPER, PIGMENTS } from '../../../color/pigments.js'
import { numbers } from '../../../expression/evaluate.js'
import type { ChartExhibit, ChartPlace, ChartPoint, ChartSeries, Keys, ReferenceLine } from '../../../page/page.js'
import { problem } from '../../../problem/optional.js'
import { formatFor, printerFor } from '../../../rule/explain/print.js'
import { evaluateRule } from '../../../rule/run/evaluate.js'
import type { CellStyle } from '../../../style/cell-style.js'
import type { Axis } from '../../../summary/cells/axis.js'
import type { Level, Summary } from '../../../summary/cells/summarise.js'
import { isPeriodUnit } from '../../../time/period.js'
import { answerExhibit } from '../../answer/exhibit.js'
import { parameterValues } from '../../answer/facts.js'
import type { AnsweredExhibit } from '../../model/answered.js'
import type { BoundChart } from '../../model/bound.js'
import { CellMaker } from '../cells.js'
import { headingText, restNode } from '../labels.js'
import { childOrder } from '../row-order.js'
import type { Prepare } from './prepare.js'

/** WCAG 2.2, success criterion 1.4.11: the minimum contrast of a mark with its ground. */
const MARK_CONTRAST = 3
/** The colours of series, in turn; aqua and coral are reserved for good and bad. */
const SERIES_PIGMENTS = ['indigo', 'straw', 'violet', 'sky', 'rose', 'stone'] as const

/** A place on the axis with its row of the summary. */
interface Place extends ChartPlace {
  level: (depth: number) => Level
  row: number
}

type Rest = Summary['rests'][number]

/** A column of the summary with its panel and series. */
interface Stripe {
  panel: number
  value: string
  column: number
}

/** Lays out a chart: one point for each panel, series and place. */
export function buildChart(answered: AnsweredExhibit): ChartExhibit {
  const { exhibit, report, summary } = answered
  const { chart } = exhibit
  if (chart === undefined) throw new Error('not a chart')
  const make = new CellMaker(answered)
  const axis = summary.rows
  const places = placesOf(answered, make)
  const { panels, stripes, values } = stripesOf(answered, make)
  const depth = exhibit.columns.length
  const series: ChartSeries[] = []
  const points: ChartPoint[] = []
  chart.draws.forEach((draw) => {
    for (const value of values) {
      const number = series.length
      const single = chart.draws.length * values.length === 1
      const color = single
        ? PIGMENTS.stone
        : PIGMENTS[draw.draw === 'mark' ? 'stone' : SERIES_PIGMENTS[number % SERIES_PIGMENTS.length]]
      const paint = single || draw.draw !== 'mark' ? color.body : color.ink
      const plain = { mark: paint, outline: contrast(paint, PAPER) < MARK_CONTRAST ? color.ink : null }
      series.push({ label: seriesLabel(answered, draw, value, chart), draw: draw.draw, labels: draw.labels, ...plain })
      for (const stripe of stripes.filter((s) => s.value === value))
        places.forEach((place, at) => {
          const cell = make.cell(place.level(depth), place.row, stripe.column, draw.measure)
          const painted = cell.style.pigment !== null || cell.style.fill !== null
          const worn = chart.series === undefined ? markOf(cell.style, plain) : outlined(cell.style, plain)
          points.push({ ...cell, panel: stripe.panel, series: number, place: at, painted, ...worn })
        })
    }
  })
  points.sort((a, b) => a.panel - b.panel || a.series - b.series || a.place - b.place)
  const [{ measure }] = chart.draws
  const facts = report.measures.get(measure)
  const unit = facts?.unit ?? { is: 'none' as const }
  const compact = { ...formatFor(facts?.format, unit), compact: true, signed: false }
  const least = unit.is === 'percent' ? 1 : 0
  const panelOf: number[] = []
  for (const { column, panel } of stripes) panelOf[column] = panel
  // Reference lines add messages, which are printed below.
  const lines = buildReferenceLines(answered, panelOf, printerFor(facts?.format, unit, report.locale))
  const { legends, notes } = answered.legendsAndMessages()
  return {
    ...answered.head,
    kind: 'chart',
    along: headingText(exhibit.rows, report.labels),
    measureLabel: exhibit.show.map((name) => report.measures.get(name)?.label ?? name).join(', '),
    places: places.map(({ label, outer, nested, until }) => ({ label, outer, ...(nested && { nested }), until })),
    panels,
    series,
    points,
    stacked: chart.stacked,
    horizontal: chart.horizontal,
    timed: axis.keys.length === 1 && axis.keys[0].domain.kind === 'time',
    references: lines,
    axis: { format: compact, digits: least, locale: report.locale },
    legends,
    messages: notes,
  }
}

/** The places along the axis: of several keys those of each group together, its others last. */
function placesOf(answered: AnsweredExhibit, make: CellMaker): Place[] {
  const { summary } = answered
  const axis = summary.rows
  const deepest = axis.keys.length
  const order = childOrder(answered)
  const visit = (depth: number, node: number): Place[] => {
    if (depth === deepest) return [placeOf(answered, make, node)]
    const rest = summary.rests.find((one) => one.rest.depth === depth + 1)
    const at = rest?.rest.parents.indexOf(node) ?? -1
    const others = rest === undefined || at < 0 ? [] : [restPlace(make, axis, rest, at)]
    return [...order(depth, node).flatMap((child) => visit(depth + 1, child)), ...others]
  }
  return visit(0, 0)
}

function placeOf({ summary }: AnsweredExhibit, make: CellMaker, row: number): Place {
  const axis = summary.rows
  const node = axis.depths[axis.keys.length][row]
  const named = { level: (depth: number) => summary.levels[axis.keys.length][depth], row }
  const until = make.labels.until(axis, node)
  const names = make.labels.names(axis, node)
  if (names.length > 1)
    return { ...named, label: names[names.length - 1], outer: names.slice(0, -1).join(', '), nested: true, until }
  const [code] = node.codes
  const [{ domain }] = axis.keys
  if (domain.kind !== 'time' || !isPeriodUnit(domain.unit) || domain.unit === 'year' || code < 0)
    return { ...named, label: make.labels.label(axis, node), outer: '', until }
  return {
    ...named,
    label: make.labels.periods.short(domain.unit, domain.periods[code]),
    outer: make.labels.periods.year(domain.unit, domain.periods[code]),
    until,
  }
}

/** The others of a key under one heading. */
function restPlace(make: CellMaker, axis: Axis, { rest, levels }: Rest, at: number): Place {
  const names = make.labels.names(axis, restNode(axis, rest, at)).slice(0, -1)
  const nested = axis.keys.length > 1 ? ({ nested: true } as const) : {}
  return { label: rest.label, outer: names.join(', '), ...nested, until: '', level: (depth) => levels[depth], row: at }
}

/** Every column of the summary by its panel and its series. */
function stripesOf(
  { exhibit, summary }: AnsweredExhibit,
  make: CellMaker,
): { panels: { label: string; keys: Keys }[]; stripes: Stripe[]; values: string[] } {
  const axis = summary.columns
  const { panels: each, series } = exhibit.chart ?? {}
  const deepest = axis.depths[axis.keys.length]
  const at = (key: string | undefined): number => (key === undefined ? -1 : axis.keys.findIndex((k) => k.name === key))
  const [eachAt, seriesAt] = [at(each), at(series)]
  const firsts = eachAt < 0 ? axis.depths[0] : axis.depths[1]
  const panels = firsts.map((node) => ({
    label: eachAt < 0 ? '' : make.labels.heading(axis, node),
    keys: eachAt < 0 ? [] : make.labels.keys(axis, node),
  }))
  const stripes = deepest.map((node, column) => ({
    panel: eachAt < 0 ? 0 : firsts.findIndex((candidate) => candidate.codes[0] === node.codes[0]),
    value: seriesAt < 0 ? '' : make.labels.label(axis, node),
    column,
  }))
  return { panels, stripes, values: seriesAt < 0 ? [''] : inAxisOrder(axis, seriesAt, stripes) }
}

/**
 * The values of the series key, each once; with panels, in the order of first occurrence, as a
 * panel may lack some.
 */
function inAxisOrder(axis: Axis, at: number, stripes: readonly Stripe[]): string[] {
  const { domain } = axis.keys[at]
  const order = new Map<string, number>()
  stripes.forEach(({ value, column }) => {
    const code = axis.depths[axis.keys.length][column].codes[at]
    order.set(value, domain.kind === 'time' && code >= 0 ? domain.periods[code] : (order.get(value) ?? order.size))
  })
  return [...order].sort((a, b) => a[1] - b[1]).map(([value]) => value)
}

function seriesLabel(
  { report }: AnsweredExhibit,
  draw: BoundChart['draws'][number],
  value: string,
  chart: BoundChart,
): string {
  const label = draw.label ?? report.measures.get(draw.measure)?.label ?? draw.measure
  if (value === '') return label
  return chart.draws.length === 1 ? value : `${label}, ${value}`
}

/**
 * A status colours the whole mark: a pigment by its body, any other fill as it is. A pale mark gets
 * an outline.
 */
function markOf(
  { pigment, fill, ink }: CellStyle,
  plain: { mark: PackedColor; outline: PackedColor | null },
): { mark: PackedColor; outline: PackedColor | null } {
  const mark = pigment?.body ?? fill
  if (mark === null) return plain
  if (contrast(mark, PAPER) >= MARK_CONTRAST) return { mark, outline: null }
  return { mark, outline: pigment?.ink ?? ink ?? PIGMENTS.stone.ink }
}

/** If colours distinguish series, the colour of a rule is drawn around the mark. */
function outlined(
  { pigment, fill }: CellStyle,
  plain: { mark: PackedColor; outline: PackedColor | null },
): { mark: PackedColor; outline: PackedColor | null } {
  const color = pigment?.body ?? fill
  return color === null ? plain : { mark: plain.mark, outline: color }
}

/**
 * Reference lines, computed over the cells like the limits of a rule: one across all panels, or one
 * for each panel if they differ. A value that differs from place to place is no line, which is
 * reported.
 */
function buildReferenceLines(
  answered: AnsweredExhibit,
  panelOf: readonly number[],
  print: (value: number) => string,
): ReferenceLine[] {
  const { report, exhibit, summary, notes } = answered
  const { draws, references: lines } = exhibit.chart as BoundChart
  if (lines.length === 0) return []
  const { table } = summary.levels[exhibit.rows.length][exhibit.columns.length]
  const judged = evaluateRule({ within: [] }, { table, parameters: parameterValues(report) }, draws[0].measure, notes)
  return lines.flatMap((line): ReferenceLine[] => {
    const values = numbers(judged.run(line.bound), table.length)
    const byPanel = new Map<number, Set<number>>()
    for (let i = 0; i < values.length; i++) {
      const panel = panelOf[i % panelOf.length]
      const lineValues = byPanel.get(panel) ?? new Set()
      byPanel.set(panel, lineValues)
      if (!Number.isNaN(values[i])) lineValues.add(values[i])
    }
    const panels = [...byPanel].sort(([a], [b]) => a - b)
    const lineLabel = report.parameters.get(line.text)?.label ?? report.measures.get(line.text)?.label
    const label = line.label ?? lineLabel ?? line.text
    if (panels.some(([, values]) => values.size > 1)) {
      notes.push(problem('note-line-differs', { line: label }))
      return []
    }
    const all = new Set(panels.flatMap(([, values]) => [...values]))
    const at = (value: number): ReferenceLine => ({ value, text: print(value), label })
    if (all.size === 1) return [...all].map(at)
    return panels.flatMap(([panel, values]) => [...values].map((value) => ({ ...at(value), panel })))
  })
}

export const prepare: Prepare = async (context, exhibit) => ({
  answered: await answerExhibit(context, exhibit),
  build: buildChart,
})
