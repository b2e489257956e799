/** A step of a path in the report: a key, or a 0-based index in a list. */
export type Path = readonly (string | number)[]

/** The place of a problem; unknown parts are left out. */
export interface Place {
  /** The name of the file. */
  file?: string
  /** 1-based. */
  line?: number
  /** 1-based, in UTF-16 units. */
  column?: number
  /** The place in the report tree. */
  path?: Path
  /** The text that was read: an expression, or a line of the file. */
  text?: string
  /** Start of the span in `text`, 0-based. */
  from?: number
  /** End of the span in `text`, 0-based, exclusive. */
  to?: number
}

/** `report.yaml:12:3 (rules[2])`, as far as it is known; empty if nothing is. */
export function printPlace({ file, line, column, path = [] }: Place): string {
  const where = [file, line, line && column].filter((part) => part !== undefined).join(':')
  const pathText = printPath(path)
  if (pathText === '') return where
  return where === '' ? pathText : `${where} (${pathText})`
}

/** `rules[2].bands[0].atLeast` */
export function printPath(path: readonly (string | number)[]): string {
  let text = ''
  for (const step of path) text += typeof step === 'number' ? `[${step + 1}]` : text === '' ? step : `.${step}`
  return text
}
