import { countStatuses, type Painting } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import type { RuleResult } from '../model.js'
import { ROW } from '../row.js'
import { createPhrases, effectText, type PhraseContext } from './phrases.js'

/** The number of cells of a measure with a status. */
export interface StatusCount {
  /** Null for a plain table. */
  exhibit: string | null
  measure: string
  status: string
  label: string
  count: number
  /** Cells of the measure with a value. */
  of: number
}

/**
 * The number of cells of one part of a rule: a band, a part of a rank, missing values, the rest.
 */
export interface PartCount {
  exhibit: string | null
  measure: string
  rule: string
  /** The status or style, and the limit with its number. */
  part: string
  limit: string
  /** Cells that meet the part. */
  covered: number
  /** Cells of these in which the rule set some channel. */
  painted: number
}

/** Counts of statuses, and of the parts of rules. */
export interface Tally {
  statuses: StatusCount[]
  parts: PartCount[]
}

/**
 * Counts the statuses and the parts of rules over the cells of one level. Statuses in the order of
 * the report, with zeros.
 */
export function tallyCells(
  exhibit: string | null,
  painting: Painting,
  results: readonly RuleResult[],
  facts: PhraseContext,
): Tally {
  const statuses: StatusCount[] = []
  const parts: PartCount[] = []
  for (const measure of new Set(results.map((result) => result.measure))) {
    const ofMeasure = results.filter((result) => result.measure === measure)
    const counts = countStatuses(painting, measure)
    if (counts === undefined) continue
    const of = valuesOf(ofMeasure[0])
    for (const status of Object.keys(facts.statuses)) {
      const possible = ofMeasure.some(({ effects: givens }) => givens.some((given) => given.status === status))
      if (possible)
        statuses.push({
          exhibit,
          measure,
          status,
          label: statusLabel(facts.statuses, status),
          count: counts.get(status) ?? 0,
          of,
        })
    }
    for (const result of ofMeasure) parts.push(...partCounts(exhibit, result, painting, facts))
  }
  // A rule of rows is counted once, whatever the rows show.
  const once = parts.filter(
    (part, i) => part.measure !== ROW || parts.findIndex((p) => p.rule === part.rule && p.part === part.part) === i,
  )
  return { statuses, parts: once }
}

function valuesOf({ judged, classes, judgedAt }: RuleResult): number {
  const { value } = judged
  let count = 0
  for (let i = 0; i < classes.length; i++) {
    const at = judgedAt(i)
    if (
      value.kind === 'number'
        ? !Number.isNaN(value.values[at])
        : (value.kind === 'text' ? value.codes : value.values)[at] >= 0
    )
      count++
  }
  return count
}

/** A gradient has no parts; arrows by sign are three classes of one part. */
function partCounts(exhibit: string | null, result: RuleResult, painting: Painting, facts: PhraseContext): PartCount[] {
  const { rule, classes, effects: givens, judged, fit } = result
  const { measure } = result
  const kindLegend = rule.kind.legend(rule.plan, fit, judged, createPhrases(rule, facts))
  if (kindLegend.ramp !== undefined) return []
  const painted = painting.get(measure)
  const won = painted?.styles.map((look) => Object.values(look.paintedBy).includes(rule.name)) ?? []
  const spread = rule.effects.length === 0 ? 1 : Math.max(1, givens.length / rule.effects.length)
  const effects = rule.effects.length === 0 ? givens : rule.effects
  return effects.map((given, c): PartCount => {
    let [count, painting] = [0, 0]
    for (let i = 0; i < classes.length; i++) {
      if (classes[i] < 0 || Math.floor(classes[i] / spread) !== c) continue
      count++
      if (painted !== undefined && won[painted.ids[i]]) painting++
    }
    const part = effectText(given, facts)
    return {
      exhibit,
      measure: rule.measure === ROW ? ROW : measure,
      rule: rule.name,
      part,
      limit: kindLegend.limits[c] ?? '',
      covered: count,
      painted: painting,
    }
  })
}
