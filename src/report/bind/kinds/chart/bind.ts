import { bindExpression, type Names } from '../../../../expression/bind.js'
import { meet, unitText } from '../../../../expression/unit.js'
import type { Diagnostics } from '../../../../problem/diagnostics.js'
import { comparable, keep, limitSource } from '../../../../rule/bind/checker.js'
import { ruleSetting } from '../../../../rule/bind/rules.js'
import type { ChartSpec, KeySpec, SeriesSpec } from '../../../../spec/exhibits.js'
import type { BoundChart, ChartLabels } from '../../../model/bound.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import {
  asList,
  type BindKind,
  checkKeys,
  checkMeasure,
  type ExhibitContext,
  eachOf,
  keepsOf,
  ordersOf,
} from '../../exhibit-keys.js'

export const bind: BindKind<ChartSpec> = (chart, context, diagnostics) => {
  const rows = checkKeys(chart.along, context, diagnostics.at('along'))
  const single = asList<SeriesSpec>(chart.show).length === 1 && chart.series === undefined
  const draws: BoundChart['draws'][number][] = []
  eachOf<SeriesSpec>(chart.show, diagnostics.at('show'), (series, at) => {
    const whole = typeof series === 'string' ? { show: series } : series
    checkMeasure(whole.show, context, typeof series === 'string' ? at : at.at('show'))
    const draw = whole.draw ?? 'bar'
    if (chart.stacked === true && draw !== 'bar') at.report('stacked-draws', {})
    if (chart.horizontal === true && draw === 'line') at.report('horizontal-draws', { draw })
    const labels = labelsOf(whole.labels ?? (draw === 'bar' && (chart.labels ?? single)))
    draws.push({ measure: whole.show, draw, labels, label: whole.label })
  })
  checkUnits(draws, context, diagnostics.at('show'))
  const extra = (['panels', 'series'] as const).flatMap((key) => {
    const name = chart[key]
    if (name === undefined) return []
    checkKeys(name, context, diagnostics.at(key))
    if (rows.includes(name) || (key === 'series' && name === chart.panels))
      diagnostics.at(key).report('chart-key-twice', { key: name })
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
      references: bindReferences(chart, show[0], [...rows, ...extra], context, diagnostics.at('references')),
    },
  }
}

function labelsOf(written: boolean | 'full' | 'short' | 'ends' | 'none'): ChartLabels {
  return typeof written === 'string' ? written : written ? 'fit' : 'none'
}

/** Measures on one scale must have one unit. */
function checkUnits(draws: BoundChart['draws'], context: ExhibitContext, diagnostics: Diagnostics): void {
  const [first, ...others] = draws.map(({ measure }) => context.measures.get(measure))
  for (const other of others)
    if (first !== undefined && other !== undefined && meet(first.unit, other.unit) === undefined) {
      const params = { left: unitText(first.unit), right: unitText(other.unit), measure: other.label }
      diagnostics.report('chart-units', params)
    }
}

/**
 * Reference lines are limits: they may use what a limit of the first measure may use, and of keys
 * those of the chart.
 */
function bindReferences(
  chart: ChartSpec,
  first: string | undefined,
  keys: readonly string[],
  { vocabulary }: ExhibitContext,
  diagnostics: Diagnostics,
): BoundChart['references'] {
  const drawn = vocabulary.measures.get(first ?? '')?.type ?? { kind: 'unknown' as const }
  const fields: Names = {
    find: (name, source) => (source === undefined && keys.includes(name) ? vocabulary.fields.find(name) : undefined),
    all: () => [...keys],
  }
  const setting = { ...ruleSetting({ ...vocabulary, fields }, drawn), what: 'a line' }
  return (chart.references ?? []).flatMap(({ at: limit, label }, i) => {
    const at = diagnostics.at(i, 'at')
    const text = limitSource(limit)
    const bound = keep(bindExpression(text, setting), at)
    if (bound === undefined || !comparable(bound, text, drawn, at)) return []
    return [{ bound: bound.bound, text: bound.text, label }]
  })
}
