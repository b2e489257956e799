import { finished, type Given, type Look, layOn, PLAIN_LOOK } from '../look/look.js'
import type { Extents, Painted } from '../look/painting.js'
import { type Problem, problem } from '../problem/problem.js'
import { type BoundRule, ROW } from './check.js'
import { type Cells, meantFor, type RuleResult, runRule, unreached } from './run.js'

/** A rule that was to be applied and could not be. */
export interface Skipped {
  rule: BoundRule
  why: string
}

export interface PaintResult {
  /** How the cells of each measure that some rule reached look. */
  painting: Map<string, Painted>
  /** What each rule gave, for legends and counts, in the order of the rules. */
  results: RuleResult[]
  skipped: Skipped[]
  /** What was said: rules that could not be applied here, and why. */
  notes: Problem[]
}

/** Decides how every cell of some measures, or fields, looks. `rules` stand in order of precedence. */
export function paintCells(cells: Cells, rules: readonly BoundRule[], measures: readonly string[]): PaintResult {
  const painting = new Map<string, Painted>()
  const results: RuleResult[] = []
  const skipped: Skipped[] = []
  const notes: Problem[] = []
  const rows = new Map<BoundRule, RuleResult | undefined>()
  const run = (rule: BoundRule): RuleResult | undefined => {
    const why = unreached(rule, cells)
    if (why === undefined) return runRule(rule, cells, notes)
    skipped.push({ rule, why })
    notes.push(problem('note-rule-skips', { rule: rule.name, level: cells.what, why }))
    return undefined
  }
  for (const measure of measures) {
    const own: RuleResult[] = []
    for (const rule of rules) {
      const ofRow = rule.measure === ROW
      if (rule.paused || (rule.measure !== measure && !ofRow) || !meantFor(rule, cells)) continue
      // A row is decided once, whatever is shown in it.
      if (ofRow && !rows.has(rule)) rows.set(rule, run(rule))
      const found = ofRow ? rows.get(rule) : run(rule)
      if (found !== undefined) own.push(found.measure === measure ? found : { ...found, measure })
    }
    if (own.length > 0) painting.set(measure, layAll(own, cells.table.length))
    results.push(...own)
  }
  return { painting, results, skipped, notes }
}

type Layer = Pick<RuleResult, 'rule' | 'classes' | 'givens' | 'bars'>

/**
 * Lays the rules of one measure on each other. A cell is a small number into the list of looks met so far; each pair of
 * look and class is settled once, by `layOn`, and every further cell that meets it is a table look-up.
 */
export function layAll(results: readonly Layer[], length: number): Painted {
  const ids = new Int32Array(length)
  let looks: Look[] = [PLAIN_LOOK]
  for (const { rule, classes, givens } of results) looks = layOne(ids, looks, classes, givens, rule)
  const painted: Painted = { ids, looks: looks.map(finished) }
  const bars = barsOf(results, painted)
  return bars === undefined ? painted : { ...painted, bars }
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

/** Each cell's bar is that of the rule which won the channel there. */
function barsOf(results: readonly Layer[], { ids, looks }: Painted): Extents | undefined {
  const drawn = results.filter((result) => result.bars !== undefined)
  if (drawn.length < 2) return drawn[0]?.bars
  const { length } = ids
  const bars = { from: new Float32Array(length).fill(Number.NaN), to: new Float32Array(length).fill(Number.NaN) }
  for (const { rule, bars: own } of drawn) {
    if (own === undefined) continue
    const won = Uint8Array.from(looks, (look) => Number(look.paintedBy.bar === rule.name))
    for (let i = 0; i < length; i++)
      if (won[ids[i]] === 1) {
        bars.from[i] = own.from[i]
        bars.to[i] = own.to[i]
      }
  }
  return bars
}
