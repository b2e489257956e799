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
 * /
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
    sources: sources.map(({ name, from, date, match, grain }): PackedSource => ({ name, from, date, match, grain })),
  }
  return stringify(report, {
    // A name such as __proto__ is an ordinary key.
    Entries: (own) => isOdd(own) && Object.entries(own),
    // Plans refer to the palette.
    Palette: (own) => own === palette && 1,
    Kind: (own) => KINDS.includes(own) && own.key,
    Given: (own) => isGiven(own) && Object.entries(own).filter(([, given]) => given !== null),
    Ramp: rampOf,
    Numbers: (own) =>
      Array.isArray(own) &&
      own.length > MIN_SHARED_WORDS &&
      own.every((x) => Number.isInteger(x) && (x | 0) === x) &&
      Int32Array.from(own),
  })
}

function isGiven(own: unknown): own is Effect {
  return typeof own === 'object' && own !== null && Object.keys(NO_EFFECT).every((key) => key in own)
}

/** Styles that differ in one colour alone, as those of a gradient. */
function rampOf(own: unknown): [string, Int32Array] | undefined {
  if (!Array.isArray(own) || own.length <= MIN_SHARED_WORDS || !own.every(isGiven)) return undefined
  for (const key of ['fill', 'ink'] as const)
    if (own.every((given) => Object.entries(given).every(([name, value]) => (name === key) === (value !== null))))
      return [key, Int32Array.from(own, (given) => given[key] ?? 0)]
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
  const words = new Set(lists.flatMap(({ name, words: own = [] }) => (columns.has(name) ? own : [])))
  return Object.fromEntries(
    [...words].flatMap((word) => {
      const color = isPigment(palette, word) ? undefined : palette.color(word)
      return color === undefined ? [] : [[word, color]]
    }),
  )
}

/** Whether a plain object has a key that JavaScript would take for its prototype. */
function isOdd(own: unknown): own is object {
  return typeof own === 'object' && own !== null && Object.hasOwn(own, '__proto__')
}
