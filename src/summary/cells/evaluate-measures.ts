import { decimalsOfNumber, settleAll } from '../../column/decimals.js'
import { type Coded, groupRows } from '../../column/group.js'
import { pickNumbers } from '../../column/pick.js'
import { competitionRanks } from '../../column/rank.js'
import { type Bound, operandsOf } from '../../expression/bound.js'
import { decimalsOf, type KnownDecimals } from '../../expression/decimals.js'
import { constantNumber, evaluate, numbers, type Scope, type Vector } from '../../expression/evaluate.js'
import { type Step, stepsKey } from '../../time/step.js'
import type { Measure } from '../plan/measures.js'
import { type CellSet, coarser } from './cell-set.js'
import { partDecimals, valuesAt } from './merge.js'
import { partKey, type SourceAnswers, sameKeysKey } from './question.js'

/** The values of measures' parts at some cells, and at the coarser cells of shares. */
export interface Parts {
  frame: CellSet
  values: ReadonlyMap<string, Float64Array>
  /** The decimals of each part by its text. */
  decimals: ReadonlyMap<string, number | undefined>
  /** By the names of the kept keys. */
  coarser: ReadonlyMap<string, { parts: Parts; into: Int32Array }>
  streaks: ReadonlyMap<string, Float64Array>
  /** The periods in each cell, and the share of them that is over, by time and kind. */
  spanned?: ReadonlyMap<string, Float64Array> | undefined
  /** The parts over the same keys at two times alone. */
  same?: ReadonlyMap<string, Parts> | undefined
}

/** Fetches the parts of measures at some cells. */
export async function partsAt(
  answers: SourceAnswers,
  frame: CellSet,
  measures: readonly Measure[],
  streaks: readonly StreakAnswer[],
): Promise<Parts> {
  const below = new Map<string, { parts: Parts; into: Int32Array }>()
  for (const names of sharedBy(measures, frame)) {
    if (names.length === frame.keys.length + (frame.without === undefined ? 0 : 1)) continue
    const { frame: coarse, into } = coarser(frame, names)
    below.set(names.join(' '), { parts: await partsAt(answers, coarse, measures, []), into })
  }
  const counted = new Map<string, Float64Array>()
  const has = (op: Bound['op']): boolean => measures.some(({ bound }) => hasOp(bound, op))
  for (const streak of streaks) counted.set(streak.key, await streak.at(frame))
  return {
    frame,
    values: await valuesAt(answers, frame),
    decimals: partDecimals(answers),
    coarser: below,
    streaks: counted,
    spanned: has('spanned') ? (await import('./spanned.js')).spannedAt(frame, measures, answers.time) : undefined,
    same: has('sameKeys')
      ? await (await import('./same-keys.js')).sameAt(answers, frame, measures, (cells, plain) =>
          partsAt(answers, cells, plain, []),
        )
      : undefined,
  }
}

function hasOp(bound: Bound, op: Bound['op']): boolean {
  return bound.op === op || operandsOf(bound).some((part) => hasOp(part, op))
}

/** The sets of keys within which shares are taken. */
function sharedBy(measures: readonly Measure[], frame: CellSet): string[][] {
  const byName = new Map<string, string[]>()
  const visit = (bound: Bound): void => {
    if (bound.op === 'beside' && bound.how === 'share') {
      const names = keptKeys(frame, bound.within ?? [])
      byName.set(names.join(' '), names)
    }
    for (const part of operandsOf(bound)) visit(part)
  }
  for (const { bound } of measures) visit(bound)
  return [...byName.values()]
}

function keptKeys(frame: CellSet, within: readonly string[]): string[] {
  const names = frame.keys.map((key) => key.name)
  // The others of a key are one more value of it.
  if (frame.without !== undefined) names.push(frame.without.name)
  return names.filter((name) => within.includes(name))
}

/** Evaluates measures after aggregation, so that a ratio is a ratio of sums at every level. */
export function worker(
  measures: readonly Measure[],
  parameters: ReadonlyMap<string, number>,
): (parts: Parts, measure: Measure) => Float64Array {
  const byName = new Map(measures.map((m) => [m.name, m]))
  const done = new Map<Parts, Map<string, Float64Array>>()
  const work = (parts: Parts, name: string, steps: readonly Step[]): Float64Array => {
    const cache = done.get(parts) ?? new Map<string, Float64Array>()
    done.set(parts, cache)
    const key = partKey(steps, name)
    const cached = cache.get(key)
    if (cached !== undefined) return cached
    const measure = byName.get(name)
    if (measure === undefined) throw new Error(`no measure ${name}`)
    const worked = numbers(evaluate(measure.bound, scopeOf(parts, steps)), parts.frame.count)
    // The values of an aggregate are settled where they are computed.
    const isSettled = measure.bound.op === 'aggregate'
    const values = isSettled ? worked : settleAll(worked, decimals(parts, measure.bound))
    cache.set(key, values)
    return values
  }
  // Measures refer to measures, so values are cached.
  const byParts = new Map<Parts['decimals'], Map<string, number | undefined>>()
  const decimals = (parts: Parts, bound: Bound): number | undefined => {
    const byKey = byParts.get(parts.decimals) ?? new Map<string, number | undefined>()
    byParts.set(parts.decimals, byKey)
    const decimals: KnownDecimals = {
      name(ref) {
        if (ref.kind === 'parameter') return decimalsOfNumber(parameters.get(ref.name) ?? Number.NaN)
        const measure = byName.get(ref.name)
        if (measure !== undefined && !byKey.has(ref.name)) byKey.set(ref.name, decimalsOf(measure.bound, decimals))
        return byKey.get(ref.name)
      },
      aggregate: (part) => parts.decimals.get(part.key),
    }
    return decimalsOf(bound, decimals)
  }
  const scopeOf = (parts: Parts, steps: readonly Step[]): Scope => ({
    length: parts.frame.count,
    decimals: (bound) => decimals(parts, bound),
    read(ref): Vector {
      if (ref.kind === 'parameter') return constantNumber(parameters.get(ref.name) ?? Number.NaN)
      return vectorOf(work(parts, ref.name, steps))
    },
    aggregate(part) {
      const values = parts.values.get(partKey(steps, part.key))
      if (values === undefined) throw new Error(`not asked for: ${stepsKey(steps)} ${part.key}`)
      return vectorOf(values)
    },
    moved: (step) => scopeOf(parts, [...steps, step]),
    beside(bound) {
      if (bound.op === 'spanned')
        return vectorOf(parts.spanned?.get(partKey(steps, bound.key)) ?? nothing(parts.frame.count))
      if (bound.op === 'sameKeys') {
        const inside = parts.same?.get(sameKeysKey(steps, bound))
        return inside ? evaluate(bound.of, scopeOf(inside, steps)) : vectorOf(nothing(parts.frame.count))
      }
      if (bound.op === 'streak') return vectorOf(parts.streaks.get(bound.key) ?? nothing(parts.frame.count))
      const worked = numbers(evaluate(bound.of, scopeOf(parts, steps)), parts.frame.count)
      const settled = settleAll(worked, decimals(parts, bound.of))
      const names = keptKeys(parts.frame, bound.within ?? [])
      // The others together have no rank among the shown ones.
      if (bound.how === 'rank' && parts.frame.without !== undefined) return vectorOf(nothing(parts.frame.count))
      if (bound.how === 'rank') return vectorOf(places(settled, parts.frame, names))
      const below = parts.coarser.get(names.join(' '))
      // Split by those keys alone a cell is its own whole.
      const whole =
        below === undefined
          ? settled
          : coarseToFine(numbers(evaluate(bound.of, scopeOf(below.parts, steps)), below.parts.frame.count), below.into)
      return vectorOf(settled.map((x, i) => (whole[i] === 0 ? Number.NaN : x / whole[i])))
    },
  })
  return (parts, measure) => work(parts, measure.name, [])
}

function vectorOf(values: Float64Array): Vector {
  return { kind: 'number', constant: false, values }
}

function nothing(count: number): Float64Array {
  return new Float64Array(count).fill(Number.NaN)
}

function coarseToFine(values: Float64Array, into: Int32Array): Float64Array {
  return pickNumbers(values, into)
}

/**
 * The rank of each value among the cells that agree on some keys, from 1, highest first; ties share
 * the better rank.
 */
function places(values: Float64Array, frame: CellSet, names: readonly string[]): Float64Array {
  const kept = frame.keys.filter((key) => names.includes(key.name))
  const coded = kept.map(({ codes }): Coded => ({ codes, size: codes.reduce((most, c) => Math.max(most, c + 1), 0) }))
  const { groups, count } = groupRows(coded, undefined, frame.count)
  return competitionRanks(values, groups, count)
}

/** A streak that can be counted at any cells. */
export interface StreakAnswer {
  key: string
  at(frame: CellSet): Promise<Float64Array>
}
