import { isCounting } from '../../column/pick.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import {
  isPeriodUnit,
  isTimeUnit,
  type PeriodUnit,
  periodOf,
  periodText,
  type Span,
  spanOf,
} from '../../time/period.js'
import type { Domain } from '../contract.js'
import type { SharedKey } from './align-keys.js'

/** One axis of an exhibit: its keys, outermost first, and the headings of each depth. */
export interface Axis {
  keys: readonly AxisKey[]
  /** `depths[d]` are the headings of d keys; `depths[0]` is that of the total. */
  depths: readonly (readonly AxisNode[])[]
}

export interface AxisKey {
  name: string
  domain: Domain
}

export interface AxisNode {
  /** A code for each key down to this depth; -1 is the missing group. One list for each node. */
  readonly codes: readonly number[]
  /** The index of its parent heading. */
  readonly parent: number
  /** How many keys that are. */
  readonly depth: number
  /** The code of one of them, by its place. */
  code(key: number): number
}

/** A heading below another. Of a long axis few are looked at, and their lists are made then. */
class ChildNode implements AxisNode {
  readonly parent: number
  readonly #above: readonly number[]
  /** The last code, or all of them once they have been asked for. */
  #codes: number | readonly number[]

  constructor(above: readonly number[], codes: number | readonly number[], parent: number) {
    this.#above = above
    this.#codes = codes
    this.parent = parent
  }

  get depth(): number {
    return this.#above.length + 1
  }

  get codes(): readonly number[] {
    if (typeof this.#codes === 'number') this.#codes = [...this.#above, this.#codes]
    return this.#codes
  }

  code(key: number): number {
    if (key < this.#above.length) return this.#above[key]
    return typeof this.#codes === 'number' ? this.#codes : this.#codes[key]
  }
}

/** The heading of the total, above all others. */
export const ROOT_NODE: AxisNode = { codes: [], parent: -1, depth: 0, code: () => -1 }

/** The heading of a code under another heading, whose place is `parent`. */
export function childNode(above: AxisNode, code: number, parent: number): AxisNode {
  return new ChildNode(above.codes, code, parent)
}

/** The same heading with its parent at another place; its list of codes stays the same. */
export function placedBelow(node: AxisNode, parent: number): AxisNode {
  return new ChildNode(node.codes.slice(0, -1), node.codes, parent)
}

/** Compares two words in the report's locale. */
export type Collate = (a: string, b: string) => number

/**
 * Builds one axis from the groups with rows in any answer: labels in the order of the locale, time
 * by calendar, missing last. `orders` are written orders by key: their words come first. A period
 * axis is complete within `span`: a month without sales keeps its place. `groups` are the numbers
 * of groups of each answer.
 */
export function buildAxis(
  keys: readonly SharedKey[],
  groups: readonly number[],
  span: Span | undefined,
  collate: Collate,
  orders: ReadonlyMap<string, readonly string[]> = new Map(),
): Axis {
  const full = keys.map((key) => completed(key, span))
  const depths: AxisNode[][] = [[ROOT_NODE]]
  const at = groups.map((count): Int32Array[] => [new Int32Array(count)])
  for (let d = 0; d < full.length; d++) {
    const { name, codes, domain, complete } = full[d]
    const parents = depths[d]
    if (d === 0 && isInOrder(full[d], orders)) {
      const [code] = codes as [Int32Array]
      const firsts: AxisNode[] = []
      for (let i = 0; i < code.length; i++) firsts.push(childNode(ROOT_NODE, i, 0))
      at[0].push(code)
      depths.push(firsts)
      continue
    }
    const rank = ranks(domain, collate, orders.get(name) ?? [])
    const children = parents.map(() => createChildren(rank, parents.length === 1))
    codes.forEach((code, answer) => {
      if (code === undefined) return
      const under = at[answer][d]
      for (let g = 0; g < code.length; g++) if (under[g] >= 0) children[under[g]].add(code[g])
    })
    const nodes: AxisNode[] = []
    parents.forEach((parent, p) => {
      if (complete !== undefined) for (const code of within(complete, parent, full)) children[p].add(code)
      children[p].number((code) => nodes.push(childNode(parent, code, p)) - 1)
    })
    codes.forEach((code, answer) => {
      const under = at[answer][d]
      const next = new Int32Array(under.length).fill(-1)
      if (code !== undefined)
        for (let g = 0; g < next.length; g++) if (under[g] >= 0) next[g] = children[under[g]].at(code[g])
      at[answer].push(next)
    })
    depths.push(nodes)
  }
  return { keys: full.map(({ name, domain }) => ({ name, domain })), depths }
}

/**
 * Whether the groups of the only answer are the words of the key in their order, as in a long
 * table: nothing is searched or sorted then.
 */
function isInOrder(
  { name, codes, domain, complete }: FullKey,
  orders: ReadonlyMap<string, readonly string[]>,
): boolean {
  const isSorted = domain.kind === 'text' && domain.sorted === true && (orders.get(name) ?? []).length === 0
  return (
    isSorted &&
    complete === undefined &&
    codes.length === 1 &&
    codes[0] !== undefined &&
    isCounting(codes[0], domain.words.length)
  )
}

interface FullKey extends SharedKey {
  /** All periods of the axis with their codes, for a calendar key. */
  complete?: { unit: PeriodUnit; calendar: Calendar; periods: readonly { code: number; period: number }[] }
}

/** Adds every period of the span to a calendar key. */
function completed(key: SharedKey, span: Span | undefined): FullKey {
  const { domain } = key
  // Only the time of the source is complete, not other date columns.
  if (domain.kind !== 'time' || !isPeriodUnit(domain.unit) || !isTimeUnit(key.name) || span === undefined) return key
  const { unit, calendar = CIVIL_CALENDAR } = domain
  const periods = [...domain.periods]
  const codes = new Map(periods.map((period, code) => [period, code]))
  const complete: { code: number; period: number }[] = []
  const last = periodOf(unit, span.to, calendar)
  for (let period = periodOf(unit, span.from, calendar); period <= last; period++) {
    let code = codes.get(period)
    if (code === undefined) {
      code = periods.length
      periods.push(period)
    }
    complete.push({ code, period })
  }
  return { ...key, domain: { ...domain, periods }, complete: { unit, calendar, periods: complete } }
}

/** The periods that overlap every period of the parent: the months of its quarter. */
function within(complete: NonNullable<FullKey['complete']>, parent: AxisNode, keys: readonly FullKey[]): number[] {
  const spans: Span[] = []
  parent.codes.forEach((code, d) => {
    const { domain, complete: calendar } = keys[d]
    if (calendar !== undefined && domain.kind === 'time' && code >= 0)
      spans.push(spanOf(calendar.unit, domain.periods[code], calendar.calendar))
  })
  return complete.periods
    .filter(({ period }) => {
      const span = spanOf(complete.unit, period, complete.calendar)
      return spans.every((s) => span.from <= s.to && span.to >= s.from)
    })
    .map(({ code }) => code)
}

/** The codes under one heading: found, then numbered in the order of their ranks, missing last. */
interface Children {
  add(code: number): unknown
  /** Calls `next` for each code in order; what it gives is the place of the code. */
  number(next: (code: number) => number): void
  /** The place of a code; -1 if it was not added. */
  at(code: number): number
}

/** A single heading may have a table of all ranks; many have maps of the codes that occur. */
function createChildren(rank: Int32Array, alone: boolean): Children {
  if (alone) return childTable(rank)
  const places = new Map<number, number>()
  return {
    add: (code) => places.set(code, -1),
    number(next) {
      const order = [...places.keys()].sort((a, b) => position(rank, a) - position(rank, b))
      for (const code of order) places.set(code, next(code))
    },
    at: (code) => places.get(code) ?? -1,
  }
}

function childTable(rank: Int32Array): Children {
  const codes = new Int32Array(rank.length + 1).fill(NOTHING)
  const places = new Int32Array(codes.length).fill(-1)
  return {
    add(code) {
      codes[position(rank, code)] = code
    },
    number(next) {
      for (let r = 0; r < codes.length; r++) if (codes[r] !== NOTHING) places[r] = next(codes[r])
    },
    at: (code) => places[position(rank, code)],
  }
}

/** No code. */
const NOTHING = -2

/** The rank of each code: first a written order, then time by calendar and words by locale. */
function ranks(domain: Domain, collate: Collate, given: readonly string[]): Int32Array {
  if (domain.kind === 'text' && domain.sorted === true && given.length === 0) return counting(domain.words.length)
  const words =
    domain.kind === 'time' ? domain.periods.map((p) => periodText(domain.unit, p, domain.calendar)) : domain.words
  const places = new Map(given.map((word, place) => [word, place]))
  const wanted = words.map((word) => places.get(word) ?? given.length)
  const order = Array.from(words, (_, code) => code)
  const plain = (a: number, b: number): number =>
    domain.kind === 'time' ? domain.periods[a] - domain.periods[b] : compareWords(words[a], words[b], collate)
  order.sort((a, b) => wanted[a] - wanted[b] || plain(a, b))
  const rank = new Int32Array(words.length)
  order.forEach((code, place) => {
    rank[code] = place
  })
  return rank
}

/** 0, 1, 2, … */
function counting(length: number): Int32Array {
  const list = new Int32Array(length)
  for (let i = 0; i < length; i++) list[i] = i
  return list
}

function position(rank: Int32Array, code: number): number {
  return code < 0 ? rank.length : rank[code]
}

/**
 * Compares two words in the order of axes: in the locale; those that it takes for equal, as texts.
 */
export function compareWords(a: string, b: string, collate: Collate): number {
  return collate(a, b) || (a < b ? -1 : a > b ? 1 : 0)
}

/** A heading by the words of its keys, the same text in every summary. */
export function pathText(axis: Axis, { codes }: AxisNode): string {
  return JSON.stringify(
    codes.map((code, k) => {
      const { domain } = axis.keys[k]
      if (code < 0) return null
      return domain.kind === 'text'
        ? domain.words[code]
        : periodText(domain.unit, domain.periods[code], domain.calendar)
    }),
  )
}
