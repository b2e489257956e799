import type { Keys } from '../../page/page.js'
import type { Axis, AxisNode } from '../../summary/cells/axis.js'
import { periodText } from '../../time/period.js'
import { CellMaker } from '../layout/cells.js'
import { restNode } from '../layout/labels.js'
import type { AnsweredExhibit, PaintedLevel } from '../model/answered.js'

/** A cell of an exhibit, with what is needed to look it up. */
export interface Place {
  painted: PaintedLevel
  cell: number
  /** Row keys, then column keys. */
  keys: Keys
  row: AxisNode
  column: AxisNode
  /**
   * All its keys for readers, outermost first: `Coast, Larkmoor, Q2 2025`; `Total` for the whole.
   */
  name: string
}

/** The name of a cell for readers: the label of a card, the first text of a record, or all keys. */
export function placeTitle(
  { exhibit, report }: AnsweredExhibit,
  { painted, cell, name }: Place,
  measure: string,
): string {
  if (exhibit.cards !== undefined)
    return (
      exhibit.cards.find((card) => card.measure === measure)?.label ?? report.measures.get(measure)?.label ?? measure
    )
  if (exhibit.records === undefined) return name
  const { columns } = painted.cells.table
  for (const shown of exhibit.show) {
    const column = columns.get(shown)?.column
    if (column?.kind === 'text' && column.codes[cell] >= 0) return `${column.words[column.codes[cell]]}, row ${name}`
  }
  return `Row ${name}`
}

/** Every shown cell of an exhibit: details, then totals. */
export function placesOf(answered: AnsweredExhibit): Place[] {
  const make = new CellMaker(answered)
  return answered.levels.decided().flatMap((painted) => {
    if (painted.cells.part === 'headings') return []
    return Array.from({ length: painted.cells.table.length }, (_, cell) => placeOf(answered, make, painted, cell))
  })
}

/** The headings of a row key that match keys; none if no rule paints these headings. */
export function headingsFor(answered: AnsweredExhibit, key: string, keys: Readonly<Record<string, string>>): Place[] {
  const { exhibit, summary } = answered
  const depth = exhibit.rows.indexOf(key) + 1
  const painted = depth === 0 ? undefined : answered.levels.headings(depth)
  if (painted === undefined) return []
  const make = new CellMaker(answered)
  const [column] = summary.columns.depths[0]
  return summary.rows.depths[depth].flatMap((row, cell) => {
    const rowKeys = make.labels.keys(summary.rows, row)
    const fits = Object.entries(keys).every(([name, value]) =>
      rowKeys.some((k) => k.name === name && (k.value ?? '') === value),
    )
    return fits
      ? [
          {
            painted,
            cell,
            keys: rowKeys,
            row,
            column,
            name: make.labels.names(summary.rows, row).join(', '),
          },
        ]
      : []
  })
}

/** The place of a cell of a painted level. */
export function placeOf({ summary }: AnsweredExhibit, make: CellMaker, painted: PaintedLevel, cell: number): Place {
  const { level } = painted
  const columns = summary.columns.depths[level.columnDepth]
  const row = Math.floor(cell / columns.length)
  const rowNode =
    level.rest === undefined ? summary.rows.depths[level.rowDepth][row] : restNode(summary.rows, level.rest, row)
  const columnNode = columns[cell % columns.length]
  const keys = [...make.labels.keys(summary.rows, rowNode), ...make.labels.keys(summary.columns, columnNode)]
  const labels = [...make.labels.names(summary.rows, rowNode), ...make.labels.names(summary.columns, columnNode)]
  return { painted, cell, keys, row: rowNode, column: columnNode, name: labels.join(', ') || 'Total' }
}

/** The cells that match keys; a key that is left out is summed over. Empty if no cell matches. */
export function placesFor(
  answered: AnsweredExhibit,
  keys: Readonly<Record<string, string>>,
): { fitting: Place[]; one: Place | undefined } {
  const named = placeNamed(answered, keys)
  if (named !== undefined) return { fitting: [named], one: named }
  const fitting = placesOf(answered).filter((place) =>
    Object.entries(keys).every(([key, value]) =>
      place.keys.some((entry) => entry.name === key && (entry.value ?? '') === value),
    ),
  )
  const exact = fitting.filter((place) => place.keys.length === Object.keys(keys).length)
  return { fitting, one: exact.length === 1 ? exact[0] : fitting.length === 1 ? fitting[0] : undefined }
}

/**
 * The cell with exactly these keys; undefined if there is none, or more than one. Only the headings
 * of its level are searched.
 */
function placeNamed(answered: AnsweredExhibit, keys: Readonly<Record<string, string>>): Place | undefined {
  const { exhibit, summary } = answered
  const wanted = Object.keys(keys).length
  const matches: { painted: PaintedLevel; cell: number }[] = []
  for (const painted of answered.levels.decided()) {
    const { level, cells } = painted
    if (cells.part === 'headings' || level.rest !== undefined) continue
    const { rowDepth, columnDepth } = level
    if (rowDepth + columnDepth !== wanted) continue
    const names = [...exhibit.rows.slice(0, rowDepth), ...exhibit.columns.slice(0, columnDepth)]
    if (!names.every((name) => Object.hasOwn(keys, name))) continue
    const columns = nodesNamed(summary.columns, columnDepth, keys)
    for (const row of nodesNamed(summary.rows, rowDepth, keys))
      for (const column of columns)
        matches.push({ painted, cell: row * summary.columns.depths[columnDepth].length + column })
  }
  // The others of a key can be named by their label.
  if (matches.length !== 1 || summary.rests.some(({ rest }) => Object.values(keys).includes(rest.label)))
    return undefined
  return placeOf(answered, new CellMaker(answered), matches[0].painted, matches[0].cell)
}

/** The headings of a depth that have the given value of each of their keys. */
function nodesNamed(axis: Axis, depth: number, keys: Readonly<Record<string, string>>): number[] {
  const codes = axis.keys.slice(0, depth).map((key) => codesOf(key, keys[key.name]))
  const indexes: number[] = []
  axis.depths[depth].forEach((node, i) => {
    if (codes.every((code, k) => code.has(node.codes[k]))) indexes.push(i)
  })
  return indexes
}

function codesOf({ domain }: Axis['keys'][number], value: string): Set<number> {
  const code =
    domain.kind === 'text'
      ? domain.words.indexOf(value)
      : domain.periods.findIndex((period) => periodText(domain.unit, period, domain.calendar) === value)
  return new Set(value === '' ? [-1, code] : code < 0 ? [] : [code])
}
