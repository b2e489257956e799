import { round14 } from '../../column/round.js'
import { conditions, numbers } from '../../expression/evaluate.js'
import { readFormat } from '../../format/format.js'
import { applyStyle, type CellStyle, finished, PLAIN_STYLE } from '../../style/cell-style.js'
import { TRIALS } from '../kinds/trials.js'
import type { BoundRule, RuleResult } from '../model.js'
import { tryValues } from '../run/run.js'
import { createPhrases, effectText, type PhraseContext } from './phrases.js'

/** A rule tried on values at which its result changes. */
export interface Rehearsal {
  rule: string
  title: string
  measure: string
  /**
   * The cell in whose place the values are tried: limits that differ between cells are those of
   * this one.
   */
  cell: number
  trials: Trial[]
}

/** One tried value. */
export interface Trial {
  /** Null is missing. */
  value: number | string | null
  text: string
  /** Why it is tried: `just below the limit (target)`, `missing` … */
  what: string
  /** The result of the rule alone, in words; null for none. */
  gave: string | null
  style: CellStyle
}

/** The results that can be rehearsed; a rule of rows once. */
export function rehearsable(results: readonly RuleResult[]): RuleResult[] {
  return results.filter(
    (result, i) =>
      result.rule.kind.judges !== false &&
      (result.rule.target !== 'row' || results.findIndex((other) => other.rule === result.rule) === i),
  )
}

/**
 * Tries a rule on values just below, at and just above all its limits, on zero, missing, and the
 * ends of the population.
 */
export function rehearseRule(
  result: RuleResult,
  facts: PhraseContext,
  extra: readonly (number | string)[] = [],
): Rehearsal {
  const { rule, judged } = result
  const cell = middleCell(result)
  const at = cell === undefined ? undefined : result.judgedAt(cell)
  const telling = createPhrases(rule, facts)
  const kind = TRIALS[rule.kind.key]
  const tried = new Map<number | string, string[]>()
  const add = (value: number | string, what: string): void => {
    const key = typeof value === 'number' ? round14(value) : value
    const texts = tried.get(key) ?? []
    if (!texts.includes(what)) tried.set(key, [...texts, what])
  }
  if (rule.judged.kind === 'number' || rule.judged.kind === 'date') {
    const step = rule.judged.kind === 'date' ? 1 : shownStep(rule, facts)
    if (at !== undefined)
      for (const { value, what } of kind?.boundaries(rule.plan, result.fit, judged, at, telling) ?? []) {
        add(value - step, `just below: ${what}`)
        add(value, `at: ${what}`)
        add(value + step, `just above: ${what}`)
      }
    if (rule.judged.kind === 'number') add(0, 'zero')
    const ends = populationEnds(result, at)
    if (ends !== undefined) {
      add(ends.lowest, 'lowest of the population')
      add(ends.highest, 'highest of the population')
    }
  } else if (rule.judged.kind === 'text' && kind?.texts !== undefined) {
    for (const text of kind.texts(rule.plan)) add(text, 'named by the rule')
    add('something else', 'another text')
  }
  for (const value of extra) add(value, 'asked for')
  const values = [...tried.keys()].sort((a, b) => (typeof a === 'number' && typeof b === 'number' ? a - b : 0))
  const all: (number | string)[] = [...values, '']
  const givens = at === undefined || cell === undefined ? all.map(() => undefined) : tryValues(result, cell, all)
  const printed = (value: number, k: number): string => {
    // With as many digits as distinguish it from its neighbours.
    const beside = [values[k - 1], values[k + 1]].filter((value) => typeof value === 'number')
    const texts = beside.map((other) => telling.apart(value, other))
    return texts.reduce((a, b) => (b.length > a.length ? b : a), telling.print(value))
  }
  const trials = all.map((value, k): Trial => {
    const given = givens[k]
    const missing = value === ''
    return {
      value: missing ? null : value,
      text: missing ? '' : typeof value === 'number' ? printed(value, k) : value,
      what: missing ? 'missing' : (tried.get(value) ?? []).join('; '),
      gave: given === undefined ? null : effectText(given, facts),
      style: given === undefined ? PLAIN_STYLE : finished(applyStyle(PLAIN_STYLE, given, rule.name, false)),
    }
  })
  return { rule: rule.name, title: rule.title, measure: result.measure, cell: cell ?? -1, trials }
}

/** One unit of the last shown digit of the measure. */
function shownStep(rule: BoundRule, facts: PhraseContext): number {
  const written = facts.format(rule.measure)
  const format = written === undefined || rule.judge !== undefined ? undefined : readFormat(written)
  const percent = rule.judged.kind === 'number' && rule.judged.unit.is === 'percent'
  if (format === undefined) return percent ? 0.0001 : 0.01
  const digits = format.digits ?? 2
  return 10 ** -(format.kind === 'percent' ? digits + 2 : digits)
}

/** The cell with the median of the values that the rule covers, as a typical one. */
function middleCell({ rule, judged, classes, judgedAt }: RuleResult): number | undefined {
  const { value } = judged
  const where = rule.where === undefined ? undefined : conditions(judged.run(rule.where.bound), judged.length)
  const reached = Array.from(classes, (_, i) => i).filter((i) => where === undefined || where[judgedAt(i)] === 1)
  if (value.kind !== 'number') return reached[0]
  const cells = reached.filter((i) => !Number.isNaN(value.values[judgedAt(i)]) && judged.population[judgedAt(i)] >= 0)
  cells.sort((a, b) => value.values[judgedAt(a)] - value.values[judgedAt(b)])
  return cells[cells.length >> 1]
}

function populationEnds(
  { judged }: RuleResult,
  at: number | undefined,
): { lowest: number; highest: number } | undefined {
  if (at === undefined || judged.value.kind !== 'number') return undefined
  const values = numbers(judged.value, judged.length)
  let [lowest, highest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (let i = 0; i < values.length; i++)
    if (judged.population[i] === judged.groups[at] && !Number.isNaN(values[i])) {
      lowest = Math.min(lowest, values[i])
      highest = Math.max(highest, values[i])
    }
  return lowest <= highest ? { lowest, highest } : undefined
}
