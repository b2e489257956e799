import { problem } from '../../problem/answering.js'
import type { Problem } from '../../problem/problem.js'
import type { Painted } from '../../style/painting.js'
import type { BoundRule, CachedRun, Cells, RuleResult, RunCache, StyleCache } from '../model.js'
import { ROW } from '../row.js'
import { composeStyles, createStyleCache } from './compose.js'
import { fitRule, meantFor, runRule, stepRule, unreached } from './run.js'
import { createRunCache } from './run-cache.js'
import { createValueCuts, type ValueCuts } from './value-cuts.js'

/** A rule that should apply but could not be applied. */
export interface Skipped {
  rule: BoundRule
  why: string
}

export interface PaintResult {
  /** The styles of the cells of each painted measure. */
  painting: Map<string, Painted>
  /** The result of each rule in order, for legends and counts. */
  results: RuleResult[]
  skipped: Skipped[]
  /** Messages: rules that could not be applied here, and why. */
  notes: Problem[]
}

/**
 * Decides the style of every cell of some measures or fields. `rules` are in order of precedence.
 */
export function paintCells(cells: Cells, rules: readonly BoundRule[], measures: readonly string[]): PaintResult {
  const kept = cells.runCache ?? createRunCache()
  const cached: Cells = { ...cells, runCache: kept }
  const painting = new Map<string, Painted>()
  const results: RuleResult[] = []
  const skipped: Skipped[] = []
  const notes: Problem[] = []
  const reached = new Map<BoundRule, boolean>()
  const reaches = (rule: BoundRule): boolean => {
    const reaches = reached.get(rule)
    if (reaches !== undefined) return reaches
    const why = unreached(rule, cached)
    if (why !== undefined) {
      skipped.push({ rule, why })
      notes.push(problem('note-rule-skips', { rule: rule.name, level: cached.levelText, why }))
    }
    reached.set(rule, why === undefined)
    return why === undefined
  }
  for (const measure of measures) {
    const meant = rules.filter(
      (rule) =>
        !rule.paused && (rule.measure === measure || rule.measure === ROW) && meantFor(rule, cached) && reaches(rule),
    )
    if (meant.length === 0) continue
    const { layers, steps } = runAll(meant, cached, kept, notes)
    const ofMeasure = layers.map((result) => (result.measure === measure ? result : atMeasure(result, measure)))
    painting.set(measure, composeStyles(ofMeasure, cached.table.length, steps, looksOf(cached, measure)))
    results.push(...ofMeasure)
  }
  kept.tidy()
  return { painting, results, skipped, notes }
}

/** A rule of rows, for one of the columns shown in them. */
function atMeasure(result: RuleResult, measure: string): RuleResult {
  return { ...result, classes: result.classes, measure }
}

function looksOf({ styleCaches: looks }: Cells, measure: string): StyleCache | undefined {
  let look = looks?.get(measure)
  if (looks !== undefined && look === undefined) {
    look = createStyleCache()
    looks.set(measure, look)
  }
  return look
}

/**
 * The results of the rules of one measure. Rules whose class depends on steps of the value share
 * one sorting of the cells into steps; the others run cell by cell. Results without a changed
 * parameter are reused.
 */
function runAll(
  rules: readonly BoundRule[],
  cells: Cells,
  kept: RunCache,
  notes: Problem[],
): { layers: RuleResult[]; steps: ValueCuts | undefined } {
  const fitted = rules.map((rule) => {
    const result = kept.results.get(rule)
    if (
      result !== undefined &&
      rule.parameters.every((name) => result.parameters.get(name) === cells.parameters.get(name))
    )
      return result
    const said: Problem[] = []
    const entry: CachedRun = { fitted: fitRule(rule, cells, said), notes: said, parameters: cells.parameters }
    kept.results.set(rule, entry)
    return entry
  })
  const cuts = fitted.flatMap((entry) => entry.fitted?.cuts ?? [])
  const stepped = fitted.find((entry) => entry.fitted?.cuts !== undefined)?.fitted
  const values = stepped?.judged.value
  const steps =
    values?.kind === 'number' ? createValueCuts(values.values, cuts, kept.order(values.values).bins?.()) : undefined
  const layers = rules.map((rule, k) => {
    const entry = fitted[k]
    if (steps !== undefined && entry.fitted?.cuts !== undefined) {
      notes.push(...entry.notes)
      return stepRule(rule, entry.fitted, steps, notes)
    }
    entry.result ??= runRule(rule, cells, entry.notes, entry.fitted)
    notes.push(...entry.notes)
    return entry.result
  })
  return { layers, steps }
}
