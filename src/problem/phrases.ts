/** Phrases that sentences share. */
export const some = (names: readonly string[]): string =>
  names.length > 12 ? `${names.slice(0, 12).join(', ')}, …` : names.join(', ')
export const meant = (nearest: string | undefined): string =>
  nearest === undefined ? '' : `; did you mean ${nearest}?`
/** The same, and the known names if none is near. */
export const meantOr = (nearest: string | undefined, candidates: readonly string[]): string =>
  nearest === undefined ? `; known: ${some(candidates)}` : meant(nearest)
export const quote = (text: string): string => (text.length > 40 ? `'${text.slice(0, 39)}…'` : `'${text}'`)
/** A name as written; a long text is cut. */
export const short = (name: string): string => (name.length > 40 ? `${name.slice(0, 39).replace(/\s+/g, ' ')}…` : name)
/** `a`, `a or b`, `a, b or c`. */
export const oneOf = (names: readonly string[]): string =>
  names.length < 2 ? names.join() : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`
