/**
 * Formatters by what they are made of. They hold nothing but that, and making one takes as long as
 * printing hundreds of numbers: a page that is painted again with every move of a dial would do
 * little else. The only thing kept between calls in the whole core.
 */
const FORMATTERS = new Map<string, unknown>()

/** More than any report needs; beyond, all are made anew. */
const MAX_FORMATTERS = 500

export function cachedFormatter<T>(kind: string, locale: string, options: object, make: () => T): T {
  const key = `${kind} ${locale} ${JSON.stringify(options)}`
  const found = FORMATTERS.get(key)
  if (found !== undefined) return found as T
  if (FORMATTERS.size >= MAX_FORMATTERS) FORMATTERS.clear()
  const made = make()
  FORMATTERS.set(key, made)
  return made
}
