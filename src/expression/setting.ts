import type { Calendar } from '../time/calendar.js'
import type { Reference, Type } from './bound.js'
import { unitText } from './unit.js'

/** A name that was found. `formula` is told where a measure stands in a wrong place. */
export interface Found {
  ref: Reference
  type: Type
  formula?: string
}

export interface Names {
  find(name: string, source?: string): Found | undefined
  /** Every name that could stand here, for the nearest one. */
  all(): string[]
}

/** Where an expression stands: what it may name, and whether it may aggregate. */
export interface Setting {
  /** For problems: `a field`, `a condition on rows`, `a measure`, `a rule`. */
  what: string
  names: Names
  /** What aggregates read; left out where none may stand. */
  inside?: Names
  /**
   * Whether this is a measure, where shares, places and looks back are worked out beside other
   * cells.
   */
  measure?: boolean
  /** Whether shares and places among the cells of a population can be asked for: in rules. */
  cells?: boolean
  /** Whether lag() and its like may look back here. */
  time?: boolean
  /** The month (1 to 12) in which years begin; default: 1. */
  calendar?: Calendar
  /** What a name is that is known elsewhere and not seen here: `a parameter`. */
  hidden?: (name: string) => string | undefined
  /** Row columns that would need an aggregate here, for the way out. */
  rows?: Names
  /** Whether an exhibit can be split by a name, for shares and places in measures. */
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
