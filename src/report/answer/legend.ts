import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import { createPhrases } from '../../rule/explain/phrases.js'
import type { Phrases, RuleResult } from '../../rule/model.js'
import { applyStyle, type CellStyle, finished, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Legend, LegendEntry } from '../../style/legend.js'
import { countIds, type Painted } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import type { Table } from '../../table/table.js'
import type { ReuseCache } from '../model/answered.js'
import type { BoundReport } from '../model/bound.js'
import { phraseContextOf } from './facts.js'
import { firstFew, keyText, missingKey } from './value.js'

/** The painted cells of a legend. */
export interface LegendCells {
  results: readonly RuleResult[]
  painting: ReadonlyMap<string, Painted>
  table: Table
  /** The level, if they are totals. */
  level: string
  /** The shown cells, if not all are shown. */
  shown?: ReadonlySet<number>
}

/** The scale of each group, if scales differ: `Coast €1 to €5; Valley €2 to €9`. */
function scalesText(
  { labels }: BoundReport,
  { rule, fit, judged }: RuleResult,
  table: Table,
  { print }: Phrases,
): string {
  const ends = rule.within.length === 0 ? undefined : rule.kind.scale?.(fit)
  if (ends === undefined) return ''
  const names = new Map<number, string>()
  for (let i = 0; i < table.length && names.size < judged.groupCount; i++)
    if (!names.has(judged.groups[i]))
      names.set(judged.groups[i], rule.within.map((key) => keyText(table, key, i) || missingKey(key, labels)).join(' '))
  const texts = [...names].flatMap(([g, name]) =>
    Number.isNaN(ends.from[g]) ? [] : [`${name} ${print(ends.from[g])} to ${print(ends.to[g])}`],
  )
  return firstFew(texts, '; ')
}

/** The legends of an exhibit: one for each rule and measure, with limits as numbers. */
export function legendsOf(
  report: BoundReport,
  { results, painting, table, level, shown: cells }: LegendCells,
  memory?: ReuseCache,
): Legend[] {
  const facts = phraseContextOf(report)
  // A ramp without cells is left out: its population has fewer than two values.
  const shown = results.filter((result) => result.rule.kind.key !== 'gradient' || result.classes.some((c) => c >= 0))
  return shown.map((result) => {
    const { rule } = result
    const cached = memory?.legends.get(result)
    if (cached !== undefined) return cached
    const telling = createPhrases(rule, facts)
    const kindLegend = rule.kind.legend(rule.plan, result.fit, result.judged, telling)
    const legend: Legend = {
      rule: rule.name,
      title: rule.title,
      measure: result.measure,
      measureLabel: rule.target === 'row' ? 'Rows' : facts.label(result.measure),
      population: [level, populationText(result), scalesText(report, result, table, telling)]
        .filter((text) => text !== '')
        .join(', '),
      entries:
        kindLegend.ramp === undefined
          ? entriesOf(report, result, kindLegend.limits, painting.get(result.measure), cells)
          : [],
    }
    if (kindLegend.ramp !== undefined) {
      legend.ramp = kindLegend.ramp
      memory?.legends.set(result, legend)
    }
    return legend
  })
}

function populationText({ rule }: RuleResult): string {
  if (!rule.readsPopulation) return ''
  const among = rule.among === undefined ? '' : ` where ${rule.among.text}`
  const all = rule.amongUnfiltered === true ? 'everything, whatever is filtered' : 'all shown'
  if (rule.amongUnfiltered === true && rule.within.length > 0)
    return `within each ${rule.within.join(' and ')} among ${all}`
  return rule.within.length === 0 ? `among ${all}${among}` : `within each ${rule.within.join(' and ')}${among}`
}

function entriesOf(
  report: BoundReport,
  result: RuleResult,
  limits: readonly string[],
  painted: Painted | undefined,
  shown: ReadonlySet<number> | undefined,
): LegendEntry[] {
  const { rule } = result
  const counts = countShown(result, painted, shown)
  const print = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, report.locale)
  // Arrows by sign are three classes of one style; the legend shows one.
  const borrowed = rule.effects.length === 0
  const spread = borrowed ? 1 : result.effects.length / rule.effects.length
  const entries = (borrowed ? result.effects : rule.effects).map((given, c) => {
    const look: CellStyle = finished(applyStyle(PLAIN_STYLE, given, rule.name, false))
    let count = 0
    for (let k = 0; k < spread; k++) count += counts[c * spread + k]
    const label = given.status === null ? '' : statusLabel(report.statuses, given.status)
    return { style: look, label, limit: limits[c] ?? '', count, countText: print(count) }
  })
  // Sorted by the order of statuses in the report; styles without a status come last.
  const order = Object.keys(report.statuses)
  const place = ({ style: { status } }: LegendEntry): number => (status === null ? order.length : order.indexOf(status))
  return entries.sort((a, b) => place(a) - place(b))
}

/** The cells of each class in which the rule set some channel. */
function countShown(
  result: RuleResult,
  painted: Painted | undefined,
  shown: ReadonlySet<number> | undefined,
): Int32Array {
  const { rule, effects: givens, stepClasses } = result
  const counts = new Int32Array(givens.length)
  if (painted === undefined) return counts
  const won = painted.styles.map((look) => Object.values(look.paintedBy).includes(rule.name))
  if (painted.stepped === true && stepClasses !== undefined && shown === undefined) {
    // All cells of a step have its class.
    for (const [step, count] of countIds(painted).entries())
      if (won[step] && stepClasses[step] >= 0) counts[stepClasses[step]] += count
    return counts
  }
  const { classes } = result
  for (let i = 0; i < classes.length; i++)
    if (classes[i] >= 0 && won[painted.ids[i]] && shown?.has(i) !== false) counts[classes[i]]++
  return counts
}
