import type { Calendar } from '../time/calendar.js'
import { type BoundAggregate, type Reference, type Type, walk } from './bound.js'
import { unitText } from './unit.js'

/** A name that was found. `formula` is for the problem of a measure in a wrong place. */
export interface Found {
  ref: Reference
  type: Type
  formula?: string
}

export interface Names {
  find(name: string, source?: string): Found | undefined
  /** A column of a lookup table, as a source knows it; `base` is left out for home. */
  attribute?(base: string | undefined, name: string, source: string): Found | undefined
  /** Every name that is allowed here, for the nearest one. */
  all(): string[]
}

/** The context of an expression: the names that it may use, and whether it may aggregate. */
export interface Setting {
  /** The subject of problems: `a field`, `a condition on rows`, `a measure`, `a rule`. */
  what: string
  names: Names
  /** The names inside aggregates; left out where aggregates are not allowed. */
  inside?: Names
  /** Whether this is a measure, which may use shares, ranks and other periods. */
  measure?: boolean
  /** Whether shares and ranks within a population are allowed: in rules. */
  cells?: boolean
  /** Whether lag() and similar functions are allowed. */
  time?: boolean
  /** How years and quarters are cut; default: years from January. */
  calendar?: Calendar
  /** What a name is that exists but is not visible here: `a parameter`. */
  hidden?: (name: string) => string | undefined
  /** Columns that need an aggregate here, for the fix of a problem. */
  rows?: Names
  /** Whether a measure adds up over time: for `prorated` and `perPeriod`. */
  adds?: (measure: string) => boolean
  /** Whether an exhibit can be split by a name, for shares and ranks in measures. */
  keys?: (name: string) => boolean
  /** Whether `within` may follow an aggregate. */
  groups?: (name: string) => boolean
}

/** For readers. */
export function typeText(type: Type): string {
  if (type.kind === 'number') return unitText(type.unit)
  if (type.kind === 'blank') return 'a column without values'
  return type.kind === 'unknown' ? 'unknown' : `a ${type.kind}`
}

type Base = string | undefined

/**
 * Sets the source whose rows an aggregate reads: the one of its columns, or the one whose rows know
 * all of them. Columns of lookup tables beside its own are named as that source knows them.
 *
 * @returns the sources that it names if no row knows all of its columns; home is undefined
 */
export function readByOne(bound: BoundAggregate, names: Names | undefined): readonly Base[] | undefined {
  const refs: Reference[] = []
  eachField(bound, (ref) => {
    refs.push(ref)
    return ref
  })
  const sources = [...new Set(refs.map((ref) => ref.source))]
  const known = (base: Base, { name, source }: Reference): boolean =>
    source === base || (source !== undefined && names?.attribute?.(base, name, source) !== undefined)
  const base = sources.find((source) => refs.every((ref) => known(source, ref)))
  // Rows of home are read only where one of its own columns is named.
  if (sources.length > 0 && (!sources.includes(base) || !refs.every((ref) => known(base, ref)))) return sources
  eachField(bound, (ref) => {
    if (ref.source === base) return ref
    return { kind: 'field', name: `${ref.source}.${ref.name}`, ...(base !== undefined && { source: base }) }
  })
  if (base !== undefined) bound.source = base
  return undefined
}

/** Visits the columns of an aggregate and of its condition; what `visit` gives replaces each. */
function eachField({ of, where }: BoundAggregate, visit: (ref: Reference) => Reference): void {
  for (const part of [of, where])
    if (part !== undefined)
      walk(part, (inner) => {
        if (inner.op === 'name' && inner.ref.kind === 'field') inner.ref = visit(inner.ref)
      })
}
