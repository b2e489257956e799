import { bindExpression, type Names } from '../../expression/bind.js'
import { meet, unitText } from '../../expression/unit.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, problem } from '../../problem/problem.js'
import { comparable, keep, limitSource } from '../../rule/bind/checker.js'
import { ruleSetting } from '../../rule/bind/rules.js'
import { createTell } from '../../rule/diagnose.js'
import type {
  CardSpec,
  ChartSpec,
  ColumnSpec,
  KeySpec,
  ListSpec,
  ReadingSpec,
  RecordsSpec,
  SeriesSpec,
  TableSpec,
  TrendSpec,
} from '../../spec/exhibits.js'
import { flagNames } from '../../style/flag.js'
import { isPeriodUnit } from '../../time/period.js'
import type { BoundCard, BoundChart, BoundParts, BoundSlot, BoundTrend, ChartLabels } from '../model/bound.js'
import { DEFAULT_PARTS } from './exhibit-defaults.js'
import {
  asList,
  checkKeys,
  checkMeasure,
  checkMeasures,
  checkPeriod,
  type ExhibitContext,
  keepsOf,
  ordersOf,
  sortsOf,
} from './exhibit-keys.js'

/** Records of which no number is said. */
const DEFAULT_RECORDS = 200

export function bindTable(
  table: TableSpec,
  kind: 'table' | 'heatmap',
  context: ExhibitContext,
  at: Path,
  problems: Problem[],
): BoundParts {
  const rows = checkKeys(table.rows, [...at, 'rows'], context, problems)
  const columns = checkKeys(table.columns, [...at, 'columns'], context, problems)
  asList<KeySpec>(table.columns).forEach((key, i) => {
    const path = [...at, 'columns', ...(Array.isArray(table.columns) ? [i] : [])]
    if (rows.includes(columns[i])) problems.push(problem('key-twice', { key: columns[i] }, { path }))
    if (typeof key !== 'string' && key.first !== undefined)
      problems.push(problem('first-columns', {}, { path: [...path, 'first'] }))
  })
  if (kind === 'heatmap')
    for (const key of ['nest', 'spacing'] as const)
      if (table[key] !== undefined) problems.push(problem('heatmap-draws', { key }, { path: [...at, key] }))
  const slots = bindSlots(table.show, kind, context, [...at, 'show'], problems)
  const show = [...new Set(slots.flatMap((slot) => ('measure' in slot ? [slot.measure] : [])))]
  const written = typeof table.totals === 'string' ? { rows: table.totals } : (table.totals ?? {})
  const totalRows = written.rows ?? 'none'
  const keeps = keepsOf(table.rows)
  const { sort, turned } = sortsOf(table.sort, rows, show, [...at, 'sort'], problems, context.measures)
  // What keeps the first few is in their order.
  const byDefault = keeps.length > 0 && show[0] !== undefined ? { measure: show[0], falling: true } : undefined
  return {
    ...DEFAULT_PARTS,
    rows,
    columns,
    show,
    totals: {
      rows: totalRows,
      columns: written.columns ?? 'none',
      subtotals: written.subtotals ?? totalRows !== 'none',
    },
    sort: sort ?? byDefault,
    byDefault,
    turned,
    orders: ordersOf([...asList<KeySpec>(table.rows), ...asList<KeySpec>(table.columns)]),
    topN: keeps,
    slots,
    nest: table.nest ?? 'indented',
    spacing: table.spacing ?? 'normal',
  }
}

function bindSlots(
  show: TableSpec['show'],
  kind: 'table' | 'heatmap',
  context: ExhibitContext,
  at: Path,
  problems: Problem[],
): BoundSlot[] {
  const list = asList<ColumnSpec>(show)
  const first = list.map((own) => (typeof own === 'string' ? own : own.show)).find((name) => name !== undefined)
  return list.flatMap((own, i): BoundSlot[] => {
    const path = Array.isArray(show) ? [...at, i] : at
    if (typeof own === 'string') {
      checkMeasure(own, path, context, problems)
      return [{ measure: own, label: undefined, draw: 'number', icon: 'before' }]
    }
    const { label } = own
    const found = (['show', 'trend'] as const).filter((key) => own[key] !== undefined)
    if (found.length !== 1) problems.push(problem('show-or-trend', { found }, { path }))
    if (kind === 'heatmap')
      for (const key of ['trend', 'draw', 'icon'] as const)
        if (own[key] !== undefined) problems.push(problem('heatmap-draws', { key }, { path: [...path, key] }))
    if (own.trend !== undefined) {
      for (const key of ['draw', 'icon'] as const)
        if (own[key] !== undefined) problems.push(problem('trend-draws', { key }, { path: [...path, key] }))
      const trend = bindTrend(own.trend, first, context, [...path, 'trend'], problems)
      return trend === undefined ? [] : [{ trend, label }]
    }
    if (own.show === undefined) return []
    checkMeasure(own.show, [...path, 'show'], context, problems)
    return [{ measure: own.show, label, draw: own.draw ?? 'number', icon: own.icon ?? 'before' }]
  })
}

function bindTrend(
  trend: TrendSpec,
  standard: string | undefined,
  context: ExhibitContext,
  at: Path,
  problems: Problem[],
): BoundTrend | undefined {
  checkKeys(trend.along, [...at, 'along'], context, problems)
  checkPeriod(trend.period, [...at, 'period'], context, problems)
  const of = trend.of ?? standard
  if (of === undefined) {
    problems.push(problem('trend-of', {}, { path: at }))
    return undefined
  }
  if (trend.of !== undefined) checkMeasure(of, [...at, 'of'], context, problems)
  return { of, along: trend.along, period: trend.period === undefined ? undefined : String(trend.period) }
}

export function bindChart(chart: ChartSpec, context: ExhibitContext, at: Path, problems: Problem[]): BoundParts {
  const rows = checkKeys(chart.along, [...at, 'along'], context, problems)
  const list = asList<SeriesSpec>(chart.show)
  const single = list.length === 1 && chart.series === undefined
  const draws = list.map((own, i): BoundChart['draws'][number] => {
    const path = Array.isArray(chart.show) ? [...at, 'show', i] : [...at, 'show']
    const whole = typeof own === 'string' ? { show: own } : own
    checkMeasure(whole.show, typeof own === 'string' ? path : [...path, 'show'], context, problems)
    const draw = whole.draw ?? 'bar'
    if (chart.stacked === true && draw !== 'bar') problems.push(problem('stacked-draws', {}, { path }))
    if (chart.horizontal === true && draw === 'line') problems.push(problem('horizontal-draws', { draw }, { path }))
    const labels = labelsOf(whole.labels ?? (draw === 'bar' && (chart.labels ?? single)))
    return { measure: whole.show, draw, labels, label: whole.label }
  })
  checkUnits(draws, context, [...at, 'show'], problems)
  const extra = (['panels', 'series'] as const).flatMap((key) => {
    const name = chart[key]
    if (name === undefined) return []
    checkKeys(name, [...at, key], context, problems)
    if (rows.includes(name) || (key === 'series' && name === chart.panels))
      problems.push(problem('chart-key-twice', { key: name }, { path: [...at, key] }))
    return [name]
  })
  const show = [...new Set(draws.map(({ measure }) => measure))]
  const keeps = keepsOf(chart.along)
  return {
    ...DEFAULT_PARTS,
    rows,
    columns: extra,
    show,
    sort: keeps.length > 0 && show[0] !== undefined ? { measure: show[0], falling: true } : undefined,
    orders: ordersOf(asList<KeySpec>(chart.along)),
    topN: keeps,
    chart: {
      series: chart.series,
      panels: chart.panels,
      stacked: chart.stacked ?? false,
      horizontal: chart.horizontal ?? false,
      draws,
      references: bindLines(chart, show[0], [...rows, ...extra], context, at, problems),
    },
  }
}

function labelsOf(written: boolean | 'full' | 'short' | 'none'): ChartLabels {
  return typeof written === 'string' ? written : written ? 'fit' : 'none'
}

/** What shares a scale is of one unit. */
function checkUnits(draws: BoundChart['draws'], context: ExhibitContext, at: Path, problems: Problem[]): void {
  const [first, ...others] = draws.map(({ measure }) => context.measures.get(measure))
  for (const own of others)
    if (first !== undefined && own !== undefined && meet(first.unit, own.unit) === undefined)
      problems.push(
        problem(
          'chart-units',
          { left: unitText(first.unit), right: unitText(own.unit), measure: own.label },
          { path: at },
        ),
      )
}

/**
 * Lines are limits that are drawn: what may stand in a limit of the first measure may stand in
 * them, and of keys the chart's own.
 */
function bindLines(
  chart: ChartSpec,
  first: string | undefined,
  keys: readonly string[],
  { vocabulary }: ExhibitContext,
  at: Path,
  problems: Problem[],
): BoundChart['references'] {
  const drawn = vocabulary.measures.get(first ?? '')?.type ?? { kind: 'unknown' as const }
  const fields: Names = {
    find: (name, source) => (source === undefined && keys.includes(name) ? vocabulary.fields.find(name) : undefined),
    all: () => [...keys],
  }
  const setting = { ...ruleSetting({ ...vocabulary, fields }, drawn), what: 'a line' }
  const tell = createTell(problems)
  return (chart.references ?? []).flatMap(({ at: limit, label }, i) => {
    const path = [...at, 'references', i, 'at']
    const text = limitSource(limit)
    const bound = keep(bindExpression(text, setting), path, problems)
    if (bound === undefined || !comparable(bound, text, drawn, tell, path)) return []
    return [{ bound: bound.bound, text: bound.text, label }]
  })
}

export function bindCards(
  cards: readonly CardSpec[],
  context: ExhibitContext,
  at: Path,
  problems: Problem[],
): BoundParts {
  const show = new Set<string>()
  const own = cards.map((card, i): BoundCard => {
    const path = [...at, i]
    checkMeasure(card.show, [...path, 'show'], context, problems)
    show.add(card.show)
    if (card.versus !== undefined) {
      checkVersus(card.show, card.versus, context, [...path, 'versus'], problems)
      show.add(card.versus)
    }
    const known = ['value', 'status', ...context.vocabulary.measures.keys(), ...context.vocabulary.parameters.keys()]
    for (const name of flagNames(card.note ?? '')) {
      if (!known.includes(name))
        problems.push(
          problem('unknown-name', { name, nearest: nearest(name, known), known }, { path: [...path, 'note'] }),
        )
      else if (context.measures.has(name)) show.add(name)
    }
    return {
      measure: card.show,
      label: card.label,
      versus: card.versus,
      note: card.note,
      trend: card.trend && bindTrend(card.trend, card.show, context, [...path, 'trend'], problems),
    }
  })
  return { ...DEFAULT_PARTS, show: [...show], cards: own }
}

function checkVersus(of: string, versus: string, context: ExhibitContext, path: Path, problems: Problem[]): void {
  checkMeasure(versus, path, context, problems)
  const [left, right] = [context.measures.get(of), context.measures.get(versus)]
  if (left === undefined || right === undefined || meet(left.unit, right.unit) !== undefined) return
  const params = { of: left.label, left: unitText(left.unit), versus: right.label, right: unitText(right.unit) }
  problems.push(problem('unlike-versus', params, { path }))
}

export function bindRecords(records: RecordsSpec, context: ExhibitContext, at: Path, problems: Problem[]): BoundParts {
  const show = asList<string>(records.show)
  show.forEach((name, i) => {
    if (context.measures.has(name) || context.columns.find(name) !== undefined) return
    const known = [...context.columns.all(), ...context.measures.keys()]
    const path = typeof records.show === 'string' ? [...at, 'show'] : [...at, 'show', i]
    problems.push(problem('unknown-name', { name, nearest: nearest(name, known), known }, { path }))
  })
  const { sort } = sortsOf(records.sort, [], show, [...at, 'sort'], problems, context.measures)
  return {
    ...DEFAULT_PARTS,
    rows: ['record'],
    show,
    sort,
    records: { first: records.first ?? DEFAULT_RECORDS, one: records.oneAtATime ?? false },
  }
}

export function bindList(list: ListSpec, context: ExhibitContext, at: Path, problems: Problem[]): BoundParts {
  const rows = checkKeys(list.by, [...at, 'by'], context, problems)
  checkMeasure(list.of, [...at, 'of'], context, problems)
  const more = list.show === undefined ? [] : checkMeasures(list.show, [...at, 'show'], context, problems)
  const show = [...new Set([list.of, ...more])]
  const known = Object.keys(context.vocabulary.statuses)
  const statuses = asList<string>(list.status)
  statuses.forEach((name, i) => {
    const path = typeof list.status === 'string' ? [...at, 'status'] : [...at, 'status', i]
    if (!known.includes(name))
      problems.push(problem('unknown-status', { name, nearest: nearest(name, known), known }, { path }))
  })
  const { sort, turned } = sortsOf(list.sort, rows, show, [...at, 'sort'], problems, context.measures)
  const byDefault = { measure: list.of, falling: context.measures.get(list.of)?.better !== 'higher' }
  return {
    ...DEFAULT_PARTS,
    rows,
    show,
    sort: sort ?? byDefault,
    byDefault,
    turned,
    topN: keepsOf(list.by),
    orders: ordersOf(asList<KeySpec>(list.by)),
    slots: show.map((measure) => ({ measure, label: undefined, draw: 'number', icon: 'before' })),
    list: { statuses, of: list.of },
  }
}

export function bindReading(words: ReadingSpec, context: ExhibitContext, at: Path, problems: Problem[]): BoundParts {
  const rows = checkKeys(words.by, [...at, 'by'], context, problems)
  checkMeasure(words.of, [...at, 'of'], context, problems)
  if (words.versus !== undefined) checkVersus(words.of, words.versus, context, [...at, 'versus'], problems)
  if (words.along !== undefined) {
    checkKeys(words.along, [...at, 'along'], context, problems)
    if (!isPeriodUnit(words.along))
      problems.push(problem('words-along', { key: words.along }, { path: [...at, 'along'] }))
  }
  return {
    ...DEFAULT_PARTS,
    rows,
    show: [words.of, ...(words.versus === undefined ? [] : [words.versus])],
    sort: { measure: words.of, falling: true },
    topN: keepsOf(words.by),
    orders: ordersOf(asList<KeySpec>(words.by)),
    reading: { of: words.of, versus: words.versus, along: words.along ?? (context.hasDates ? 'month' : undefined) },
  }
}
