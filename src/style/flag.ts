/** Names that stand in braces in a flag, in their order. */
export function flagNames(flag: string): string[] {
  return [...flag.matchAll(NAMED)].map(([, name]) => name.trim())
}

/**
 * A flag with its values written in; null where one of them is missing, for half a sentence says
 * nothing.
 */
export function flagText(flag: string, read: (name: string) => string): string | null {
  let whole = true
  const text = flag.replace(NAMED, (_, name: string) => {
    const value = read(name.trim())
    if (value === '') whole = false
    return value
  })
  return whole ? text : null
}

const NAMED = /\{([^{}]*)\}/g
