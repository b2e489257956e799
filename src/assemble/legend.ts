import type { Legend, LegendEntry } from '../look/legend.js'
import { finished, type Look, layOn, PLAIN_LOOK } from '../look/look.js'
import type { Painted } from '../look/painting.js'
import { statusLabel } from '../look/style.js'
import type { RuleResult } from '../rule/run.js'
import { createTelling } from '../rule/telling.js'
import type { BoundReport } from './bind.js'
import { factsOf } from './facts.js'
import type { Memory } from './memory.js'

/** What the rules did to an exhibit, for its readers: one legend a rule and measure, limits as numbers. */
export function legendsOf(
  report: BoundReport,
  results: readonly RuleResult[],
  painting: ReadonlyMap<string, Painted>,
  memory?: Memory,
): Legend[] {
  const facts = factsOf(report)
  // A ramp that no cell has, for want of others to be compared with, is no key to anything.
  const shown = results.filter((result) => result.rule.kind.key !== 'gradient' || result.classes.some((c) => c >= 0))
  return shown.map((result) => {
    const { rule } = result
    const known = memory?.legends.get(result)
    if (known !== undefined) return known
    const told = rule.kind.legend(rule.plan, result.fit, result.judged, createTelling(rule, facts))
    const legend: Legend = {
      rule: rule.name,
      title: rule.title,
      measure: result.measure,
      measureLabel: rule.target === 'row' ? 'Rows' : facts.label(result.measure),
      population: populationText(result),
      entries: told.ramp === undefined ? entriesOf(report, result, told.limits, painting.get(result.measure)) : [],
    }
    if (told.ramp !== undefined) {
      legend.ramp = told.ramp
      memory?.legends.set(result, legend)
    }
    return legend
  })
}

function populationText({ rule }: RuleResult): string {
  if (!rule.readsPopulation) return ''
  const among = rule.among === undefined ? '' : ` where ${rule.among.text}`
  const all = rule.everything === true ? 'everything, whatever is filtered' : 'all shown'
  if (rule.everything === true && rule.within.length > 0) return `within each ${rule.within.join(' and ')} among ${all}`
  return rule.within.length === 0 ? `among ${all}${among}` : `within each ${rule.within.join(' and ')}${among}`
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
  const borrowed = rule.givens.length === 0
  const spread = borrowed ? 1 : result.givens.length / rule.givens.length
  return (borrowed ? result.givens : rule.givens).map((given, c) => {
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
