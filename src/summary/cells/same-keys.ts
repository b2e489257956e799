import { type Bound, operandsOf } from '../../expression/bound.js'
import { type Step, stepsKey } from '../../time/step.js'
import type { Measure } from '../plan/measures.js'
import { type CellSet, cellsOfGroups } from './cell-set.js'
import { type SourceAnswers, sameKeysKey } from './question.js'
import { insideData } from './shift-keys.js'
import { isMoved, leftOut, takenCodes } from './spread.js'

type SameKeys = Bound & { op: 'sameKeys' }

/** Every `sameKeys` that measures read, with the time at which they read it. */
export function sameKeysOf(measures: readonly Measure[]): Map<string, { bound: SameKeys; steps: readonly Step[] }> {
  const list = new Map<string, { bound: SameKeys; steps: readonly Step[] }>()
  const byName = new Map(measures.map((measure) => [measure.name, measure]))
  const visit = (bound: Bound, steps: readonly Step[]): void => {
    if (bound.op === 'sameKeys') list.set(sameKeysKey(steps, bound), { bound, steps })
    if (bound.op === 'moved') visit(bound.of, [...steps, bound.step])
    else if (bound.op === 'name' && bound.ref.kind === 'measure') {
      const measure = byName.get(bound.ref.name)
      if (measure !== undefined && steps.length > 0) visit(measure.bound, steps)
    } else for (const part of operandsOf(bound)) visit(part, steps)
  }
  for (const { bound } of measures) visit(bound, [])
  return list
}

/**
 * The parts of measures over the same keys at two times alone, as `at` makes them: each cell has
 * keys of its own.
 */
export async function sameAt<Parts>(
  answers: SourceAnswers,
  frame: CellSet,
  measures: readonly Measure[],
  at: (frame: CellSet, measures: readonly Measure[]) => Promise<Parts>,
): Promise<Map<string, Parts>> {
  const same = new Map<string, Parts>()
  // What is restricted once is not restricted again.
  const plain = measures.map((measure) => ({ ...measure, bound: unwrapped(measure.bound) }))
  for (const [key, { bound, steps }] of sameKeysOf(measures)) {
    const keys = keysAt(answers, frame, steps, bound)
    if (keys === undefined) continue
    const { domain, both } = keys
    const size = domain.kind === 'text' ? domain.words.length : domain.periods.length
    const sets = both.map((shown) => {
      const absent = new Set<number>()
      for (let code = -1; code < size; code++) if (!shown.has(code)) absent.add(code)
      return absent
    })
    const without = { name: bound.by, domain, shown: Int32Array.from(sets, (_, cell) => cell), sets }
    same.set(key, await at({ ...frame, without }, plain))
  }
  return same
}

/** An expression without `sameKeys`. */
function unwrapped(bound: Bound): Bound {
  if (bound.op === 'sameKeys') return unwrapped(bound.of)
  return Object.fromEntries(
    Object.entries(bound).map(([key, value]) => [
      key,
      Array.isArray(value) ? value.map(part) : isBound(value) ? unwrapped(value) : value,
    ]),
  ) as Bound
}

function part(value: unknown): unknown {
  return isBound(value) ? unwrapped(value) : value
}

function isBound(value: unknown): value is Bound {
  return typeof value === 'object' && value !== null && 'op' in value
}

/** The values of a key that have rows at both times in each cell, and at one of them alone. */
function keysAt(
  answers: SourceAnswers,
  frame: CellSet,
  steps: readonly Step[],
  { by, shift }: SameKeys,
): { domain: NonNullable<CellSet['without']>['domain']; both: Set<number>[]; alone: Set<number>[] } | undefined {
  const key = answers.shared.find(({ name }) => name === by)
  const now = rowsAt(answers, frame, steps, by)
  const past = rowsAt(answers, frame, [...steps, { kind: 'lag', shift }], by)
  if (key === undefined || now === undefined || past === undefined) return undefined
  return {
    domain: key.domain,
    both: now.map((codes, cell) => new Set([...codes].filter((code) => past[cell].has(code)))),
    alone: now.map(
      (codes, cell) => new Set([...codes, ...past[cell]].filter((code) => codes.has(code) !== past[cell].has(code))),
    ),
  }
}

/**
 * The values of a key that have rows of home in each cell at one time; undefined if that is
 * unknown.
 */
function rowsAt(answers: SourceAnswers, frame: CellSet, steps: readonly Step[], by: string): Set<number>[] | undefined {
  const [home] = answers.list
  const a = answers.list.findIndex(
    ({ query, windows }) =>
      query.engine === home.query.engine && windows === undefined && stepsKey(query.steps) === stepsKey(steps),
  )
  const codes = answers.shared.find(({ name }) => name === by)?.codes[a]
  if (a < 0 || codes === undefined || (frame.without !== undefined && frame.without.name !== by)) return undefined
  const { query, groups } = answers.list[a]
  const taken = takenCodes(answers, a, frame.keys)
  if (taken === undefined) return undefined
  const left = frame.without && leftOut(answers, a, frame.without)
  const inside = isMoved(query) ? insideData(query, frame) : undefined
  const sets = Array.from({ length: frame.count }, () => new Set<number>())
  cellsOfGroups(frame, frame.keys, taken, groups.groups).forEach((cell, group) => {
    if (cell >= 0 && inside?.[cell] !== 0 && left?.(group, cell) !== true) sets[cell].add(codes[group])
  })
  return sets
}

/** The values of keys that are left out of the whole: they have rows at one of two times alone. */
export function leftOutOf(
  answers: SourceAnswers,
  whole: CellSet,
  measures: readonly Measure[],
): { by: string; words: string[] }[] {
  return [...sameKeysOf(measures).values()].flatMap(({ bound, steps }) => {
    const keys = keysAt(answers, whole, steps, bound)
    if (keys === undefined || keys.domain.kind !== 'text') return []
    const { words } = keys.domain
    const names = [...keys.alone[0]].flatMap((code) => words[code] ?? [])
    return names.length === 0 ? [] : [{ by: bound.by, words: names.sort() }]
  })
}
