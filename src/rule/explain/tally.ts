import type { Painting } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import type { RuleResult } from '../model.js'
import { ROW } from '../row.js'
import { createPhrases, effectText, type PhraseContext } from './phrases.js'

/** How many cells of a measure show a status. */
export interface StatusCount {
  /** Null for a plain table. */
  exhibit: string | null
  measure: string
  status: string
  label: string
  count: number
  /** Cells of the measure that have a value. */
  of: number
}

/** How many cells one part of a rule takes: a band, a part of a rank, the missing, the rest. */
export interface PartCount {
  exhibit: string | null
  measure: string
  rule: string
  /** The status or style, and the limit as numbers. */
  part: string
  limit: string
  /** Cells that it was given to. */
  covered: number
  /** Of these, cells where the rule decided some channel. */
  painted: number
}

/** Counts of statuses, and of the parts of rules. */
export interface Tally {
  statuses: StatusCount[]
  parts: PartCount[]
}

/**
 * Counts the shown statuses and the parts of rules over the cells of one level. Statuses in the
 * order they were defined, zeros told.
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
    const own = results.filter((result) => result.measure === measure)
    const counts = countStatuses(painting, measure)
    if (counts === undefined) continue
    const of = valuesOf(own[0])
    for (const status of Object.keys(facts.statuses)) {
      const possible = own.some(({ effects: givens }) => givens.some((given) => given.status === status))
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
    for (const result of own) parts.push(...partCounts(exhibit, result, painting, facts))
  }
  // A rule of rows is counted once, whatever is shown in them.
  const once = parts.filter(
    (part, i) => part.measure !== ROW || parts.findIndex((p) => p.rule === part.rule && p.part === part.part) === i,
  )
  return { statuses, parts: once }
}

/** How many cells of a measure show each status; undefined for one that nothing painted. */
export function countStatuses(painting: Painting, measure: string): Map<string, number> | undefined {
  const painted = painting.get(measure)
  if (painted === undefined) return undefined
  const counts = new Map<string, number>()
  const shown = new Int32Array(painted.styles.length)
  for (const id of painted.ids) shown[id]++
  painted.styles.forEach(({ status }, id) => {
    if (status !== null) counts.set(status, (counts.get(status) ?? 0) + shown[id])
  })
  return counts
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

/** A gradient has no parts; arrows by sign make three classes of one. */
function partCounts(exhibit: string | null, result: RuleResult, painting: Painting, facts: PhraseContext): PartCount[] {
  const { rule, classes, effects: givens, judged, fit } = result
  const { measure } = result
  const told = rule.kind.legend(rule.plan, fit, judged, createPhrases(rule, facts))
  if (told.ramp !== undefined) return []
  const painted = painting.get(measure)
  const won = painted?.styles.map((look) => Object.values(look.paintedBy).includes(rule.name)) ?? []
  const spread = rule.effects.length === 0 ? 1 : Math.max(1, givens.length / rule.effects.length)
  const own = rule.effects.length === 0 ? givens : rule.effects
  return own.map((given, c): PartCount => {
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
      limit: told.limits[c] ?? '',
      covered: count,
      painted: painting,
    }
  })
}
