/**
 * The unit of a number. `like` marks the quotient of two amounts of one unit: a plain number that
 * is comparable with a percent. Bare numbers, raw columns and parameters without a format have
 * none.
 */
export type Unit =
  | { is: 'none'; like?: boolean }
  | { is: 'percent' }
  | { is: 'count' }
  | { is: 'money'; currency: string }

export const NONE: Unit = { is: 'none' }
export const LIKE: Unit = { is: 'none', like: true }
export const PERCENT: Unit = { is: 'percent' }
export const COUNT: Unit = { is: 'count' }

export function sameUnit(a: Unit, b: Unit): boolean {
  return a.is === b.is && (a.is !== 'money' || b.is !== 'money' || a.currency === b.currency)
}

/** For readers: `money EUR`, `a percent`, `a count`, `a plain number`. */
export function unitText(unit: Unit): string {
  if (unit.is === 'money') return `money ${unit.currency}`
  if (unit.is === 'percent') return 'a percent'
  return unit.is === 'count' ? 'a count' : 'a plain number'
}

/** The unit of two amounts that are added or compared; undefined if they differ. */
export function meet(a: Unit, b: Unit): Unit | undefined {
  if (sameUnit(a, b)) return a.is === 'none' && b.is === 'none' && !(a.like && b.like) ? NONE : a
  const [none, other] = a.is === 'none' ? [a, b] : [b, a]
  if (none.is !== 'none') return undefined
  return other.is === 'percent' && !none.like ? undefined : other
}

export function times(a: Unit, b: Unit): Unit {
  const plain = (unit: Unit): boolean => unit.is === 'none' || unit.is === 'percent'
  if (plain(a) && plain(b)) return a.is === 'percent' && b.is === 'percent' ? PERCENT : a.is === 'percent' ? b : a
  if (plain(a)) return b
  if (plain(b)) return a
  if (a.is === 'count') return b
  return b.is === 'count' ? a : NONE
}

export function over(a: Unit, b: Unit): Unit {
  if (sameUnit(a, b)) return LIKE
  if (b.is === 'none' || b.is === 'percent' || b.is === 'count') return a
  return NONE
}
