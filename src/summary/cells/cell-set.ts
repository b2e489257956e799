import { type Coded, groupRows } from '../../column/group.js'
import { isCounting, pickCodes } from '../../column/pick.js'
import { isPeriodUnit, periodOf, type Span, spanOf } from '../../time/period.js'
import type { Domain } from '../contract.js'

/** A key of a cell set: a code for each cell. */
export interface CellSetKey {
  name: string
  domain: Domain
  codes: Int32Array
}

/** The cells of a level, or those that shares are taken of. */
export interface CellSet {
  count: number
  keys: readonly CellSetKey[]
  /** Groups of a key that do not count: cell i is without those of `sets[shown[i]]`. */
  without?: { name: string; domain: Domain; shown: Int32Array; sets: readonly ReadonlySet<number>[] }
}

/**
 * The cells by some of their keys alone, with the new index of each cell. Excluded groups stay
 * excluded if their key is kept: the others of a key are one more value of it.
 */
export function coarser(frame: CellSet, names: readonly string[]): { frame: CellSet; into: Int32Array } {
  const kept = frame.keys.filter((key) => names.includes(key.name))
  const coded = kept.map(({ codes }): Coded => ({ codes, size: codes.reduce((most, c) => Math.max(most, c + 1), 0) }))
  const without = frame.without !== undefined && names.includes(frame.without.name) ? frame.without : undefined
  if (without !== undefined) coded.push({ codes: without.shown, size: without.sets.length })
  const { groups, count, first } = groupRows(coded, undefined, frame.count)
  const keys = kept.map((key) => ({ ...key, codes: pickCodes(key.codes, first) }))
  const unfiltered = without && { without: { ...without, shown: pickCodes(without.shown, first) } }
  return { frame: { count, keys, ...unfiltered }, into: groups }
}

/**
 * Whether a key is a time unit: it comes from the span of a cell, not from the rows. A month of the
 * year needs its year.
 */
export function tellsTime(name: string, names: readonly string[]): boolean {
  return isPeriodUnit(name) || (name === 'monthOfYear' && names.includes('year'))
}

/** The span of each cell, inside `whole`; empty ones have `from` after `to`. */
export function spansOf(frame: CellSet, whole: Span): Span[] {
  const names = frame.keys.map((key) => key.name)
  // Other date columns may be keys, too; only time dimensions give the span.
  const times = frame.keys.filter((key) => key.domain.kind === 'time' && tellsTime(key.name, names))
  const spans = new Map<string, Span>()
  return Array.from({ length: frame.count }, (_, cell) => {
    const codes = times.map((key) => key.codes[cell])
    const id = codes.join(' ')
    let span = spans.get(id)
    if (span === undefined) {
      span = spanFrom(times, codes, whole)
      spans.set(id, span)
    }
    return span
  })
}

function spanFrom(times: readonly CellSetKey[], codes: readonly number[], whole: Span): Span {
  let { from, to } = whole
  times.forEach(({ domain }, k) => {
    if (domain.kind !== 'time' || !isPeriodUnit(domain.unit)) return
    if (codes[k] < 0) {
      // Rows without a date have no span.
      to = from - 1
      return
    }
    const span = spanOf(domain.unit, domain.periods[codes[k]], domain.calendar)
    from = Math.max(from, span.from)
    to = Math.min(to, span.to)
  })
  times.forEach(({ domain }, k) => {
    if (domain.kind !== 'time' || domain.unit !== 'monthOfYear' || from > to) return
    const place = domain.periods[codes[k]]
    let month = periodOf('month', from)
    while (month % 12 !== place && month <= periodOf('month', to)) month++
    const span = spanOf('month', month)
    from = Math.max(from, span.from)
    to = Math.min(to, span.to)
  })
  return { from, to }
}

/**
 * The cell of each group of an answer, by their common keys; -1 if there is none. `taken` are the
 * answer's codes by key, in the domains of the cells.
 */
export function cellsOfGroups(
  frame: CellSet,
  keys: readonly CellSetKey[],
  taken: readonly Int32Array[],
  groups: number,
): Int32Array {
  if (keys.length === 0) return new Int32Array(groups).fill(frame.count === 0 ? -1 : 0)
  // The groups of a long axis are mostly its cells, in their order.
  if (keys.length === 1 && isCounting(taken[0], frame.count) && isCounting(keys[0].codes, groups))
    return taken[0].slice()
  const widths = keys.map(({ codes }, k) => largest(codes, largest(taken[k], 0)) + 2)
  const keyCodes = keys.map((key) => key.codes)
  const size = widths.reduce((product, width) => product * width, 1)
  // A table of all combinations where most of them occur.
  if (size <= MAX_TABLE * (frame.count + groups)) {
    const table = new Int32Array(size).fill(-1)
    const slots = packedAll(keyCodes, widths, frame.count)
    for (let cell = 0; cell < frame.count; cell++) table[slots[cell]] = cell
    const of = packedAll(taken, widths, groups)
    for (let g = 0; g < groups; g++) if (of[g] >= 0) of[g] = table[of[g]]
    return of
  }
  const places = new Map<number, number>()
  for (let cell = 0; cell < frame.count; cell++) places.set(packed(keyCodes, widths, cell), cell)
  return Int32Array.from({ length: groups }, (_, g) => places.get(packed(taken, widths, g)) ?? -1)
}

/** How many combinations a table may have for each cell and group. */
const MAX_TABLE = 4

/** Several codes as one number for each index, -1 if one of them is unknown; all fit in 32 bits. */
function packedAll(lists: readonly Int32Array[], widths: readonly number[], length: number): Int32Array {
  const all = new Int32Array(length)
  for (let k = 0; k < lists.length; k++) addCodes(all, lists[k], widths[k])
  return all
}

function addCodes(all: Int32Array, codes: Int32Array, width: number): void {
  for (let i = 0; i < all.length; i++) all[i] = all[i] < 0 || codes[i] < -1 ? -1 : all[i] * width + codes[i] + 1
}

function largest(codes: Int32Array, least: number): number {
  let most = least
  for (let i = 0; i < codes.length; i++) if (codes[i] > most) most = codes[i]
  return most
}

/**
 * Several codes as one number, -1 if one of them is unknown (-2). Exact while the product of the
 * widths stays below 2^53, far above
 * what a page can show.
 */
function packed(lists: readonly Int32Array[], widths: readonly number[], i: number): number {
  let id = 0
  for (let k = 0; k < lists.length; k++) {
    if (lists[k][i] < -1) return -1
    id = id * widths[k] + lists[k][i] + 1
  }
  return id
}
