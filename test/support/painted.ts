/** The painted data as documented in docs/painted-data.md, as far as tests read it. */
export interface PaintedCell {
  row: Record<string, string | null>
  column: Record<string, string | null>
  level: { row: string; column: string }
  measure: string
  value: number | null
  text: string
  style: Record<string, string | null>
  paintedBy: Record<string, string>
}

export interface Painted {
  acuarela: number
  title: string
  asOf: string
  parameters: Record<string, number>
  where: string | null
  messages: string[]
  exhibits: {
    name: string
    kind: string
    cells: PaintedCell[]
    headings: object[]
    legends: { rule: string; entries: { label: string; limit: string; count: number }[] }[]
    messages: string[]
  }[]
}

export function exhibitOf(painted: Painted, name: string): Painted['exhibits'][number] {
  const found = painted.exhibits.find((exhibit) => exhibit.name === name)
  if (found === undefined) throw new Error(`no exhibit ${name}`)
  return found
}

/** `row column measure` of a cell. */
export function nameOf(cell: PaintedCell): string {
  return [...Object.values(cell.row), ...Object.values(cell.column), cell.measure].join(' ')
}
