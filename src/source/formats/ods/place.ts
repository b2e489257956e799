/** Columns by letters, as in addresses of cells: A is 0, AB is 27. */
export function columnName(column: number): string {
  let name = ''
  for (let rest = column + 1; rest > 0; rest = Math.floor((rest - 1) / 26))
    name = String.fromCharCode(65 + ((rest - 1) % 26)) + name
  return name
}

function columnOf(letters: string): number {
  let column = 0
  for (const letter of letters.toUpperCase()) column = column * 26 + letter.charCodeAt(0) - 64
  return column - 1
}

/** Rows and columns from 0, ends included; infinite where a range is open. */
export interface Range {
  top: number
  left: number
  bottom: number
  right: number
}

/** Parses `A3:H200`, or whole columns as `A:H`; undefined for other text. */
export function parseRange(text: string): Range | undefined {
  const parts = /^\$?([A-Za-z]{1,4})\$?([1-9]\d{0,8})?:\$?([A-Za-z]{1,4})\$?([1-9]\d{0,8})?$/.exec(text.trim())
  if (parts === null || (parts[2] === undefined) !== (parts[4] === undefined)) return undefined
  const [left, right] = [columnOf(parts[1]), columnOf(parts[3])]
  const top = parts[2] === undefined ? 0 : Number(parts[2]) - 1
  const bottom = parts[4] === undefined ? Number.POSITIVE_INFINITY : Number(parts[4]) - 1
  return left > right || top > bottom ? undefined : { top, left, bottom, right }
}

/** `B7`. */
export function cellName(row: number, column: number): string {
  return `${columnName(column)}${row + 1}`
}
