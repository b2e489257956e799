import type { Exhibit, GridExhibit, RecordCell, Row } from '../../page/page.js'
import { createLocator } from '../../view/model/address.js'
import { exhibitId } from './address.js'

/** A cell of a page with the name of its exhibit. */
export interface ShownCell {
  exhibit: string
  /** Its place in the exhibit (`page/places.ts`); undefined for a heading. */
  place?: number
  cell: Pick<RecordCell, 'row' | 'column' | 'measure' | 'measureLabel' | 'text' | 'style' | 'statusText' | 'name'>
}

/** Maps elements to cells and lists the elements of all cells in the page. */
export interface CellMap {
  of(element: Element): ShownCell | undefined
  all(): Iterable<[Element, ShownCell]>
}

/**
 * The tables of an exhibit's cells: not the one of hidden numbers, nor one inside an explanation.
 */
export const TABLES = 'section > .wide > table, article.one table'
const CELLS = 'td, tbody th, article.card, .chart [data-row]'

/** Finds the cell of an element in the tables, cards and charts of the exhibits. */
export function createCellMap(root: ParentNode, exhibits: readonly Exhibit[]): CellMap {
  const byId = new Map(exhibits.map((exhibit) => [exhibitId(exhibit.name), exhibit]))
  const locators = new Map<Exhibit, ReturnType<typeof createLocator>>()
  const locatorOf = (exhibit: Exhibit): ReturnType<typeof createLocator> => {
    const locate = locators.get(exhibit) ?? createLocator(exhibit)
    locators.set(exhibit, locate)
    return locate
  }
  const headed = new Map<GridExhibit, boolean>()
  const isHeaded = (exhibit: GridExhibit): boolean => {
    const isCurrent =
      headed.get(exhibit) ??
      // Painted headings are made with their rows.
      exhibit.rows.some((row) => row.place === undefined && Object.keys(row.heading.style.paintedBy).length > 0)
    headed.set(exhibit, isCurrent)
    return isCurrent
  }
  const find = (element: Element, exhibit: Exhibit): Omit<ShownCell, 'exhibit'> | undefined => {
    const row = element.closest('[data-row]')
    if (row === null) return undefined
    const at = addressOf(element, row)
    const addressed = at && locatorOf(exhibit)(at.row, at.column)
    if (addressed === undefined) return undefined
    if ('cell' in addressed) return { cell: addressed.cell, place: addressed.place }
    // Headings can be explained if some rule paints them.
    const cell = 'rows' in exhibit && isHeaded(exhibit) ? headingCell(exhibit, addressed.heading) : undefined
    return cell && { cell }
  }
  const of = (element: Element): ShownCell | undefined => {
    const cellElement = element.closest(CELLS)
    const exhibit = byId.get(cellElement?.closest('section[aria-labelledby]')?.getAttribute('aria-labelledby') ?? '')
    if (cellElement === null || exhibit === undefined) return undefined
    const cell = find(cellElement, exhibit)
    return cell && { exhibit: exhibit.name, ...cell }
  }
  return {
    of,
    *all() {
      for (const element of root.querySelectorAll(CELLS)) {
        const shown = of(element)
        if (shown !== undefined) yield [element, shown]
      }
    },
  }
}

/**
 * The row and column of an element. In a single record each column of the record is a row, whose
 * values are in the second column.
 */
function addressOf(element: Element, row: Element): { row: number; column: number } | undefined {
  const at = Number(row.getAttribute('data-row'))
  if (!(element instanceof HTMLTableCellElement)) return { row: at, column: 0 }
  const line = element.parentElement
  if (line === row) return { row: at, column: element.cellIndex }
  const column = line?.getAttribute('data-column') ?? null
  return column === null || element.cellIndex !== 1 ? undefined : { row: at, column: Number(column) }
}

function headingCell({ corners }: GridExhibit, { heading }: Row): ShownCell['cell'] | undefined {
  const { keys, text, style: look, statusText } = heading
  const key = keys.at(-1)
  if (key === undefined) return undefined
  return {
    row: keys,
    column: [],
    measure: key.name,
    measureLabel: corners[keys.length - 1] ?? key.name,
    text,
    style: look,
    statusText,
    name: text,
  }
}

/** The keys of a cell in the form of `why`. */
export function keysOfCell({ row, column }: ShownCell['cell']): Record<string, string> {
  return Object.fromEntries([...row, ...column].map(({ name, value }) => [name, value ?? '']))
}
