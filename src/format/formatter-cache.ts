/**
 * Formatters by what they are made of. They hold nothing but that, and making one takes as long as printing hundreds of numbers: a page that
 * is painted again with every move of a dial would do little else. The only thing kept between calls in the whole core.
 */
const KEPT = new Map<string, unknown>()

/** More than any report needs; beyond, all are made anew. */
const MOST = 500

export function kept<T>(kind: string, locale: string, options: object, make: () => T): T {
  const key = `${kind} ${locale} ${JSON.stringify(options)}`
  const found = KEPT.get(key)
  if (found !== undefined) return found as T
  if (KEPT.size >= MOST) KEPT.clear()
  const made = make()
  KEPT.set(key, made)
  return made
}
