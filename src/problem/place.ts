/** A step in the report tree: a key or a 0-based position in a list. */
export type Path = readonly (string | number)[]

/** Where something went wrong; every part is left out when it is not known. */
export interface Place {
  /** The file as the user named it. */
  file?: string
  /** 1-based. */
  line?: number
  /** 1-based, in UTF-16 units. */
  column?: number
  /** The place in the report tree. */
  path?: Path
  /** The text that was read (an expression, or a line of the file). */
  text?: string
  /** Start of the span in `text`, 0-based. */
  from?: number
  /** End of the span in `text`, 0-based, exclusive. */
  to?: number
}

/** `report.yaml:12:3 (rules[2])`, as far as it is known; empty where nothing is. */
export function printPlace(place: Place): string {
  const parts: string[] = []
  if (place.file !== undefined) parts.push(place.file)
  if (place.line !== undefined) parts.push(`${place.line}`)
  if (place.line !== undefined && place.column !== undefined) parts.push(`${place.column}`)
  const where = parts.join(':')
  const path = printPath(place.path ?? [])
  if (path === '') return where
  return where === '' ? path : `${where} (${path})`
}

/** `rules[2].bands[0].atLeast` */
export function printPath(path: readonly (string | number)[]): string {
  let text = ''
  for (const step of path) text += typeof step === 'number' ? `[${step + 1}]` : text === '' ? step : `.${step}`
  return text
}
