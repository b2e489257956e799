/** A place in the report. */
export type Path = readonly (string | number)[]

export function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** `rules.#.bands.#.status`: a path with its indexes left out. */
export function pattern(path: Path): string {
  return path.map((key) => (typeof key === 'number' ? '#' : key)).join('.')
}
