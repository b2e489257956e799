import { statusLabel } from '../look/given.js'
import type { Legend, LegendEntry } from '../look/legend.js'
import { finished, type Look, layOn, PLAIN_LOOK } from '../look/look.js'
import type { Painted } from '../look/painting.js'
import { printerFor } from '../rule/print.js'
import type { RuleResult } from '../rule/run.js'
import type { BoundReport } from './bind.js'

/** What the rules did to an exhibit, for its readers: one legend a rule and measure, limits as numbers. */
export function legendsOf(
  report: BoundReport,
  results: readonly RuleResult[],
  painting: ReadonlyMap<string, Painted>,
): Legend[] {
  return results.map((result) => {
    const { rule } = result
    const measure = report.measures.get(result.measure)
    const unit = rule.judged.kind === 'number' ? rule.judged.unit : { is: 'none' as const }
    // A judged value of its own has no format but its unit's.
    const format = rule.judge === undefined ? measure?.format : judgedFormat(report, result)
    const told = rule.kind.legend(rule.plan, result.fit, result.judged, printerFor(format, unit, report.locale))
    const legend: Legend = {
      rule: rule.name,
      title: rule.title,
      measure: result.measure,
      measureLabel: measure?.label ?? result.measure,
      population: populationText(result),
      entries: told.ramp === undefined ? entriesOf(report, result, told.limits, painting.get(result.measure)) : [],
    }
    if (told.ramp !== undefined) legend.ramp = told.ramp
    return legend
  })
}

function judgedFormat(report: BoundReport, { rule }: RuleResult): string | undefined {
  const bound = rule.judge?.bound
  return bound?.op === 'name' && bound.ref.kind === 'measure' ? report.measures.get(bound.ref.name)?.format : undefined
}

function populationText({ rule }: RuleResult): string {
  if (!rule.readsPopulation) return ''
  const among = rule.among === undefined ? '' : ` where ${rule.among.text}`
  return rule.within.length === 0 ? `among all shown${among}` : `within each ${rule.within.join(' and ')}${among}`
}

function entriesOf(
  report: BoundReport,
  result: RuleResult,
  limits: readonly string[],
  painted: Painted | undefined,
): LegendEntry[] {
  const { rule, classes } = result
  const counts = countShown(result, painted)
  // Arrows by sign make three classes of one; readers are told the one.
  const spread = result.givens.length / rule.givens.length
  return rule.givens.map((given, c) => {
    const look: Look = finished(layOn(PLAIN_LOOK, given, rule.name, false))
    let count = 0
    for (let k = 0; k < spread; k++) count += counts[c * spread + k]
    const label = given.status === null ? '' : statusLabel(report.statuses, given.status)
    return { look, label, limit: limits[c] ?? '', count: classes.length === 0 ? 0 : count }
  })
}

/** Cells of each class in which the rule won at least one channel. */
function countShown({ rule, classes, givens }: RuleResult, painted: Painted | undefined): Int32Array {
  const counts = new Int32Array(givens.length)
  if (painted === undefined) return counts
  const won = painted.looks.map((look) => Object.values(look.paintedBy).includes(rule.name))
  for (let i = 0; i < classes.length; i++) if (classes[i] >= 0 && won[painted.ids[i]]) counts[classes[i]]++
  return counts
}
