import type {
  CardsExhibit,
  Cell,
  ChartExhibit,
  Exhibit,
  GridExhibit,
  RecordCell,
  RecordsExhibit,
  Row,
} from '../../page/page.js'
import { writtenRows } from './rows.js'

/**
 * The addresses of cells. A writer sets `data-row` on table rows, cards, single records and marks
 * of charts: the index in the exhibit. The columns of a row are defined here, for writers and for
 * looking up elements.
 */
export type ColumnPart = { is: 'heading'; level: number } | { is: 'cell'; at: number } | { is: 'trend'; at: number }

/** The columns of a table's rows, as they are written. */
export function columnParts({ styles, trends, nest, corners }: GridExhibit): readonly ColumnPart[] {
  const parts: ColumnPart[] = []
  const levels = nest === 'columns' ? corners.length : 1
  for (let level = 0; level < levels; level++) parts.push({ is: 'heading', level })
  let k = 0
  for (let at = 0; at < styles.length; at++) {
    for (; k < trends.length && trends[k].at <= at; k++) parts.push({ is: 'trend', at: k })
    parts.push({ is: 'cell', at })
  }
  for (; k < trends.length; k++) parts.push({ is: 'trend', at: k })
  return parts
}

/** The attribute with a row's index; empty if elements have no addresses. */
export function rowAddress(at: number, { addressed }: { addressed?: true }): string {
  return addressed === true ? ` data-row="${at}"` : ''
}

/** The attribute with a column's index, in a single record, which has a row for each column. */
export function columnAddress(at: number, { addressed }: { addressed?: true }): string {
  return addressed === true ? ` data-column="${at}"` : ''
}

/** The target of an address: a cell with its place (`page/places.ts`), or the heading of a row. */
export type Addressed = { cell: Cell | RecordCell; place: number } | { heading: Row }

/** Looks up the cell or heading at a row and column; undefined if there is none. */
export function createLocator(exhibit: Exhibit): (row: number, column: number) => Addressed | undefined {
  switch (exhibit.kind) {
    case 'chart':
      return (row) => found((exhibit satisfies ChartExhibit).points[row], row)
    case 'cards':
      return cardLocator(exhibit)
    case 'records':
      return recordLocator(exhibit)
    case 'reading':
      return () => undefined
    default:
      return gridLocator(exhibit)
  }
}

function recordLocator({ records, oneAtATime }: RecordsExhibit): ReturnType<typeof createLocator> {
  // In a single record the column selects the row.
  const before = oneAtATime ? 0 : 1
  return (row, column) => {
    const at = column - before
    return found(records[row]?.cells[at], row * (records[0]?.cells.length ?? 0) + at)
  }
}

function gridLocator(exhibit: GridExhibit): ReturnType<typeof createLocator> {
  const parts = columnParts(exhibit)
  const levels =
    exhibit.nest === 'indented'
      ? undefined
      : new Map(
          writtenRows(exhibit)
            .slice()
            .map(({ at, own: level }) => [at, level]),
        )
  return (row, column) => {
    const line = exhibit.rows[row]
    const part = parts[column]
    if (line === undefined || part === undefined) return undefined
    if (part.is === 'cell') return found(line.cells[part.at] ?? undefined, row * exhibit.styles.length + part.at)
    return part.is === 'heading' && part.level === (levels === undefined ? 0 : levels.get(row))
      ? { heading: line }
      : undefined
  }
}

function cardLocator({ cards }: CardsExhibit): ReturnType<typeof createLocator> {
  // The value that a card is compared with is a cell of its own.
  const before = (row: number): number => cards.slice(0, row).filter(({ versus }) => versus !== null).length
  return (row) => found(cards[row]?.cell, row + before(row))
}

function found(cell: Cell | RecordCell | undefined, place: number): Addressed | undefined {
  return cell === undefined ? undefined : { cell, place }
}
