/** The names in braces in a flag, in order. */
export function flagNames(flag: string): string[] {
  return [...flag.matchAll(NAMED)].map(([, name]) => name.trim())
}

/** A flag with its values; null if one of them is missing, as half a text says nothing. */
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
