import { stringify } from 'devalue'
import type { FromColumnPlan } from '../../rule/kinds/from-column/run.js'
import { KINDS } from '../../rule/kinds/registry.js'
import { type Effect, NO_EFFECT } from '../../style/cell-style.js'
import { isPigment } from '../../style/palette.js'
import type { StoredSource } from '../../summary/memory/stored.js'
import type { BoundReport } from '../model/bound.js'
import type { PackedPalette, PackedReport, PackedSource } from './unpack.js'

/** Longer lists of numbers or styles are packed. */
const MIN_SHARED_WORDS = 8

/**
 * A bound report as JSON text for a page: everything in it is checked and resolved, so the page
 * only runs it. Engines are left out; `stored` has the data of their sources.
 *
 * @param pictures the pictures that were asked of its palette, by what they are called there.
 */
export function packReport(
  bound: BoundReport,
  stored: Readonly<Record<string, StoredSource>>,
  pictures: Readonly<Record<string, string>>,
): string {
  const { palette, sources, rules, ...rest } = bound
  const { pigments, icons } = palette
  const packed: PackedPalette = { pigments, icons, pictures, colors: borrowedColors(bound, stored) }
  const report: PackedReport = {
    ...rest,
    // The page explains rules by their plans.
    rules: rules.map((rule) => ({ ...rule, text: '' })),
    palette: packed,
    sources: sources.map(
      ({ name, from, date, match, grain, lookup, per, attributes }): PackedSource => ({
        name,
        from,
        date,
        match,
        grain,
        attributes,
        ...(lookup && { lookup }),
        ...(per && { per }),
      }),
    ),
  }
  return stringify(report, {
    // A name such as __proto__ is an ordinary key.
    Entries: (value) => isOdd(value) && Object.entries(value),
    // Plans refer to the palette.
    Palette: (value) => value === palette && 1,
    Kind: (value) => KINDS.includes(value) && value.key,
    Given: (value) => isGiven(value) && Object.entries(value).filter(([, given]) => given !== null),
    Ramp: rampOf,
    Numbers: (value) =>
      Array.isArray(value) &&
      value.length > MIN_SHARED_WORDS &&
      value.every((x) => Number.isInteger(x) && (x | 0) === x) &&
      Int32Array.from(value),
  })
}

function isGiven(value: unknown): value is Effect {
  return typeof value === 'object' && value !== null && Object.keys(NO_EFFECT).every((key) => key in value)
}

/** Styles that differ in one colour alone, as those of a gradient. */
function rampOf(candidate: unknown): [string, Int32Array] | undefined {
  if (!Array.isArray(candidate) || candidate.length <= MIN_SHARED_WORDS || !candidate.every(isGiven)) return undefined
  for (const key of ['fill', 'ink'] as const)
    if (candidate.every((given) => Object.entries(given).every(([name, value]) => (name === key) === (value !== null))))
      return [key, Int32Array.from(candidate, (given) => given[key] ?? 0)]
  return undefined
}

/** Colours in the data of `fromColumn`: a page has no parser for colours. */
function borrowedColors(
  { rules, palette }: BoundReport,
  stored: Readonly<Record<string, StoredSource>>,
): Record<string, number> {
  const columns = new Set(
    rules.flatMap(({ kind, plan }) =>
      kind.key === 'fromColumn'
        ? (plan as FromColumnPlan).columns.flatMap(({ channel, text: { bound } }) =>
            (channel === 'fill' || channel === 'ink') && bound.op === 'name' ? [bound.ref.name] : [],
          )
        : [],
    ),
  )
  const lists = Object.values(stored).flatMap(({ rows, records }) => [...rows.columns, ...(records?.columns ?? [])])
  const words = new Set(lists.flatMap(({ name, words: ownWords = [] }) => (columns.has(name) ? ownWords : [])))
  return Object.fromEntries(
    [...words].flatMap((word) => {
      const color = isPigment(palette, word) ? undefined : palette.color(word)
      return color === undefined ? [] : [[word, color]]
    }),
  )
}

/** Whether a plain object has a key that JavaScript would take for its prototype. */
function isOdd(value: unknown): value is object {
  return typeof value === 'object' && value !== null && Object.hasOwn(value, '__proto__')
}
