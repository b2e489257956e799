import { finished, type Given, type Look, layOn, PLAIN_LOOK } from '../look/look.js'
import type { Painted } from '../look/painting.js'
import { type Problem, problem } from '../problem/problem.js'
import type { BoundRule } from './check.js'
import { type Cells, meantFor, type RuleResult, runRule, unreached } from './run.js'

export interface PaintResult {
  /** How the cells of each measure that some rule reached look. */
  painting: Map<string, Painted>
  /** What each rule gave, for legends and counts, in the order of the rules. */
  results: RuleResult[]
  /** What was said: rules that could not be applied here, and why. */
  notes: Problem[]
}

/** Decides how every cell of some measures looks. `rules` stand in order of precedence. */
export function paintCells(cells: Cells, rules: readonly BoundRule[], measures: readonly string[]): PaintResult {
  const painting = new Map<string, Painted>()
  const results: RuleResult[] = []
  const notes: Problem[] = []
  for (const measure of measures) {
    const own: RuleResult[] = []
    for (const rule of rules) {
      if (rule.measure !== measure || !meantFor(rule, cells)) continue
      const why = unreached(rule, cells)
      if (why === undefined) own.push(runRule(rule, cells, notes))
      else notes.push(problem('note-rule-skips', { rule: rule.name, level: cells.what, why }))
    }
    if (own.length > 0) painting.set(measure, layAll(own, cells.table.length))
    results.push(...own)
  }
  return { painting, results, notes }
}

/**
 * Lays the rules of one measure on each other. A cell is a small number into the list of looks met so far; each pair of
 * look and class is settled once, by `layOn`, and every further cell that meets it is a table look-up.
 */
export function layAll(results: readonly Pick<RuleResult, 'rule' | 'classes' | 'givens'>[], length: number): Painted {
  const ids = new Int32Array(length)
  let looks: Look[] = [PLAIN_LOOK]
  for (const { rule, classes, givens } of results) looks = layOne(ids, looks, classes, givens, rule)
  return { ids, looks: looks.map(finished) }
}

function layOne(
  ids: Int32Array,
  before: readonly Look[],
  classes: Int16Array,
  givens: readonly Given[],
  rule: Pick<BoundRule, 'name' | 'seal'>,
): Look[] {
  const width = givens.length + 1
  const settled = new Int32Array(before.length * width).fill(-1)
  const looks: Look[] = []
  const { length } = ids
  for (let i = 0; i < length; i++) {
    const slot = ids[i] * width + classes[i] + 1
    let id = settled[slot]
    if (id < 0) {
      const look = before[ids[i]]
      const c = classes[i]
      id = looks.push(c < 0 ? look : layOn(look, givens[c], rule.name, rule.seal)) - 1
      settled[slot] = id
    }
    ids[i] = id
  }
  return looks
}
