import { createCoder } from '../../column/column.js'
import { perOrder } from '../../column/order.js'
import { readsCells } from '../../expression/bound.js'
import { conditions, numbers, type Vector } from '../../expression/evaluate.js'
import { problem } from '../../problem/answering.js'
import type { Problem } from '../../problem/problem.js'
import { type Effect, iconOf } from '../../style/cell-style.js'
import { directionIcon } from '../../style/icons.js'
import type { BoundRule, Cells, Decided, Fitted, Judged, JudgedCells, RuleResult } from '../model.js'
import { evaluateRule } from './evaluate.js'
import { representatives, spreadSteps, type ValueCuts } from './value-cuts.js'

/** Why a rule does not apply to these cells, in words; undefined if it does. */
export function unreached(rule: BoundRule, cells: Cells): string | undefined {
  const judgedCells = rule.target === 'row' ? (cells.rows?.cells ?? cells) : cells
  for (const field of rule.fields) {
    if (judgedCells.mixed.has(field)) return `${field} differs inside its cells`
    if (!judgedCells.table.columns.has(field)) return `${field} is not known there`
  }
  for (const name of rule.measures) if (!judgedCells.table.columns.has(name)) return `${name} is not known there`
  return undefined
}

/** Whether a rule is meant for these cells: by exhibit, level and grain. */
export function meantFor(rule: BoundRule, cells: Cells): boolean {
  const judgedCells = rule.target === 'row' ? (cells.rows?.cells ?? cells) : cells
  if (rule.only !== undefined && judgedCells.exhibit !== undefined && !rule.only.includes(judgedCells.exhibit))
    return false
  if (!rule.grain.every((key) => judgedCells.keys.includes(key))) return false
  return rule.levels.includes(judgedCells.level)
}

/** Computes the population of a rule; undefined if its cells are not judged one by one in place. */
export function fitRule(rule: BoundRule, cells: Cells, notes: Problem[]): Fitted | undefined {
  if (rule.oneScale.length > 0 || rule.target === 'row' || isAmongEverything(rule, cells)) return undefined
  const judged = evaluateRule(rule, cells, rule.measure, notes)
  const fit = rule.kind.fit(rule.plan, judged)
  const cuts = cells.unfinished?.(rule) === undefined ? cutsOf(rule, judged, fit) : undefined
  return cuts === undefined ? { judged, fit } : { judged, fit, cuts }
}

/** With conditions, groups or `judge` the value of the cell is not enough. */
function cutsOf(rule: BoundRule, judged: JudgedCells, fit: unknown): readonly number[] | undefined {
  if (rule.kind.cuts === undefined || judged.value.kind !== 'number') return undefined
  if (rule.where !== undefined || rule.among !== undefined || rule.judge !== undefined || rule.within.length > 0)
    return undefined
  if (judged.length === 0 || judged.orders()[0].size === 0) return undefined
  const cuts = rule.kind.cuts(rule.plan, fit)
  if (cuts === undefined || !rule.effects.some(isBySign)) return cuts
  // An arrow by sign changes below and above zero.
  return [...cuts, 0, Number.MIN_VALUE]
}

/** The effect of a rule for each step of the value; classes of cells are computed on demand. */
export function stepRule(rule: BoundRule, { judged, fit }: Fitted, steps: ValueCuts, notes: Problem[]): RuleResult {
  const values = representatives(steps)
  const trial = judged.tried(0, { kind: 'number', constant: false, values }, values.length)
  const { classes: stepClasses, effects = rule.effects } = decideOver(rule, fit, trial, notes)
  const bars = rule.kind.extents?.(rule.plan, fit, judged)
  let classes: Int16Array | undefined
  return {
    rule,
    measure: rule.measure,
    stepClasses,
    ...(bars === undefined ? {} : { bars }),
    get classes() {
      classes ??= spreadSteps(steps, stepClasses)
      return classes
    },
    effects,
    judged,
    fit,
    judgedAt: (cell) => cell,
  }
}

/** Runs one rule cell by cell. */
export function runRule(rule: BoundRule, cells: Cells, notes: Problem[], fitted?: Fitted): RuleResult {
  const result = runAll(rule, cells, notes, fitted)
  const skipped = cells.unfinished?.(rule)
  return skipped === undefined
    ? result
    : { ...result, classes: result.classes.map((class_, cell) => (skipped[cell] === 1 ? -1 : class_)) }
}

function runAll(rule: BoundRule, cells: Cells, notes: Problem[], fitted?: Fitted): RuleResult {
  if (isAmongEverything(rule, cells)) return cells.unfiltered.run(rule, cells, cells.unfiltered.cells, notes, runRule)
  if (rule.oneScale.length > 0 && cells.oneScale !== undefined) return cells.oneScale(rule, cells, notes)
  const rows = rule.target === 'row' ? cells.rows : undefined
  const judged =
    fitted?.judged ?? evaluateRule(rule, rows?.cells ?? cells, rule.target === 'row' ? undefined : rule.measure, notes)
  const fit = fitted === undefined ? rule.kind.fit(rule.plan, judged) : fitted.fit
  const decided = decideOver(rule, fit, judged, notes)
  const result = {
    rule,
    measure: rule.measure,
    effects: rule.effects,
    ...decided,
    judged,
    fit,
    judgedAt: (cell: number) => cell,
  }
  if (rows === undefined) return result
  const { of } = rows
  const classes = Int16Array.from(of, (row) => decided.classes[row])
  const spreadOut = { ...result, classes, judgedAt: (cell: number) => of[cell] }
  if (decided.bars === undefined) return spreadOut
  const { from, to } = decided.bars
  return {
    ...spreadOut,
    bars: { from: Float32Array.from(of, (row) => from[row]), to: Float32Array.from(of, (row) => to[row]) },
  }
}

function isAmongEverything(rule: BoundRule, cells: Cells): cells is Cells & Required<Pick<Cells, 'unfiltered'>> {
  return rule.amongUnfiltered === true && rule.readsPopulation && cells.unfiltered !== undefined
}

/** The decision of a kind for judged cells, or for tried values, with the condition applied. */
export function decideOver(
  rule: BoundRule,
  fit: unknown,
  judged: Judged,
  notes?: Problem[],
  sizes: Float64Array | undefined = rule.readsPopulation ? populationSizes(judged) : undefined,
): Decided {
  const decided = rule.kind.decide(rule.plan, fit, judged)
  let { classes } = decided
  const effects = decided.effects ?? rule.effects
  if (sizes !== undefined) leaveSmall(rule, classes, judged, sizes, notes)
  if (rule.where !== undefined) {
    const holds = conditions(judged.run(rule.where.bound), judged.length)
    for (let i = 0; i < classes.length; i++) if (holds[i] !== 1) classes[i] = -1
  }
  if (judged.value.kind !== 'number' || !effects.some(isBySign)) return decided
  classes = withDirection(classes, numbers(judged.value, judged.length))
  return { ...decided, classes, effects: effects.flatMap((given) => [-1, 0, 1].map((sign) => directed(given, sign))) }
}

/** The number of values in each group of a population. */
export function populationSizes(judged: Judged): Float64Array {
  return perOrder(judged.orders(), (order) => order.size)
}

/** The effects of a rule for other values in place of a cell; undefined for none. */
export function tryValues(
  result: RuleResult,
  cell: number,
  values: readonly (number | string)[],
): (Effect | undefined)[] {
  const { rule, judged, fit } = result
  const at = result.judgedAt(cell)
  const trial = judged.tried(at, vectorOf(values, rule), values.length)
  const { classes, effects = rule.effects } = decideOver(rule, fit, trial)
  return Array.from(classes, (c) => (c < 0 ? undefined : effects[c]))
}

function vectorOf(values: readonly (number | string)[], rule: BoundRule): Vector {
  if (rule.judged.kind !== 'text')
    return {
      kind: 'number',
      constant: false,
      values: Float64Array.from(values, (v) => (v === '' ? Number.NaN : Number(v))),
    }
  const coder = createCoder()
  const codes = Int32Array.from(values, (v) => (v === '' ? -1 : coder.code(String(v))))
  return { kind: 'text', constant: false, codes, words: coder.words }
}

/** Splits each class into three, by the sign of the judged value. */
function withDirection(classes: Int16Array, values: Float64Array): Int16Array {
  return classes.map((c, i) => (c < 0 ? -1 : c * 3 + (Number.isNaN(values[i]) ? 1 : Math.sign(values[i]) + 1)))
}

function isBySign(given: Effect): boolean {
  return iconOf(given) === 'bySign'
}

function directed(given: Effect, sign: number): Effect {
  if (!isBySign(given)) return given
  return { ...given, [given.icon === null ? 'iconAfter' : 'icon']: directionIcon(sign) }
}

/**
 * The result of the part of a rule without comparisons between cells: limits that do not read the
 * population still hold.
 */
function classesAlone({ kind, plan, judge, where }: BoundRule, judged: Judged): Int16Array | undefined {
  if ([judge, where].some((part) => part !== undefined && readsCells(part.bound))) return undefined
  const alone = kind.alone?.(plan)
  return alone === undefined ? undefined : kind.decide(alone, kind.fit(alone, judged), judged).classes
}

/** A population of fewer than two values has no ranks and no scale. */
function leaveSmall(
  rule: BoundRule,
  classes: Int16Array,
  judged: Judged,
  sizes: Float64Array,
  notes: Problem[] | undefined,
): void {
  if (sizes.every((size) => size >= 2)) return
  const alone = classesAlone(rule, judged)
  let left = false
  for (let i = 0; i < classes.length; i++)
    if (sizes[judged.groups[i]] < 2) {
      const aloneCell = alone?.[i] ?? -1
      if (classes[i] >= 0 && aloneCell !== classes[i]) left = true
      classes[i] = aloneCell
    }
  if (left) notes?.push(problem('note-small-population', { rule: rule.name, measure: rule.measure }))
}
