/**
 * Formatters by their options. They have no other state, and creating one takes as long as printing
 * hundreds of numbers; a live page would do little else. The only state that the core keeps between
 * calls.
 */
const FORMATTERS = new Map<string, unknown>()

/** More than any report needs; when it is full, it is emptied. */
const MAX_FORMATTERS = 500

export function cachedFormatter<T>(kind: string, locale: string, options: object, make: () => T): T {
  const key = `${kind} ${locale} ${JSON.stringify(options)}`
  const formatter = FORMATTERS.get(key)
  if (formatter !== undefined) return formatter as T
  if (FORMATTERS.size >= MAX_FORMATTERS) FORMATTERS.clear()
  const fresh = make()
  FORMATTERS.set(key, fresh)
  return fresh
}
