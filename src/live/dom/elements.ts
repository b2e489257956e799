import {
  type Exhibit,
  type GridExhibit,
  hintOf,
  type RecordCell,
  type RecordsExhibit,
  type Row,
} from '../../page/page.js'
import { printable } from '../../view/markup.js'
import { type WrittenRow, writtenRows } from '../../view/model/rows.js'
import { exhibitId } from './address.js'
import type { VirtualTables } from './optional.js'

/** A cell of a page with the exhibit it stands in. */
export interface ShownCell {
  exhibit: string
  cell: Pick<RecordCell, 'row' | 'column' | 'measure' | 'measureLabel' | 'text' | 'style' | 'statusText' | 'name'>
}

/**
 * The elements of cells, both ways: which cell an element shows, and the elements of all cells that
 * are in the page.
 */
export interface CellMap {
  of(element: Element): ShownCell | undefined
  all(): Iterable<[Element, ShownCell]>
}

/**
 * What a table of an exhibit's own cells is: not the one of its numbers, nor one inside a reason.
 */
export const TABLES = 'section > .wide > table, article.one table'
const CELLS = 'td, tbody th, article.card, .chart [data-hint]'

/**
 * Finds the cell of every element of tables, records and cards; charts have a table of their
 * numbers.
 */
export function createCellMap(root: ParentNode, exhibits: readonly Exhibit[], windows: VirtualTables): CellMap {
  const byId = new Map(exhibits.map((exhibit) => [exhibitId(exhibit.name), exhibit]))
  const rows = new Map<GridExhibit, readonly WrittenRow[]>()
  const rowsOf = (exhibit: GridExhibit): readonly WrittenRow[] => {
    const found = rows.get(exhibit) ?? writtenRows(exhibit)
    rows.set(exhibit, found)
    return found
  }
  const points = new Map<Exhibit, Map<string, RecordCell>>()
  const pointOf = (exhibit: Exhibit, hint: string): RecordCell | undefined => {
    if (exhibit.kind !== 'chart') return undefined
    const known = points.get(exhibit) ?? new Map(exhibit.points.map((point) => [printable(hintOf(point)), point]))
    points.set(exhibit, known)
    return known.get(hint)
  }
  const headed = new Map<GridExhibit, boolean>()
  const isHeaded = (exhibit: GridExhibit): boolean => {
    const known =
      headed.get(exhibit) ?? exhibit.rows.some(({ heading }) => Object.keys(heading.style.paintedBy).length > 0)
    headed.set(exhibit, known)
    return known
  }
  const find = (own: Element): ShownCell['cell'] | null | undefined => {
    const section = own.closest('section[aria-labelledby]')
    const exhibit = byId.get(section?.getAttribute('aria-labelledby') ?? '')
    if (exhibit === undefined || section === null) return undefined
    const hint = own.getAttribute('data-hint')
    if (hint !== null) return pointOf(exhibit, hint)
    if (exhibit.kind === 'cards') {
      const cards = [...section.querySelectorAll('article.card')]
      return exhibit.cards[cards.indexOf(own)]?.cell
    }
    if (own.closest(TABLES) === null || !(own instanceof HTMLTableCellElement)) return undefined
    const line = own.parentElement as HTMLTableRowElement
    if (exhibit.kind === 'records') return cellOfRecord(exhibit, section, own, line)
    if (!('rows' in exhibit)) return undefined
    const index = windows.indexOf(line) ?? line.sectionRowIndex
    const written = rowsOf(exhibit)[index]
    if (written === undefined) return undefined
    const at = own.cellIndex - written.heads.length
    // Headings are asked like cells where some rule paints any of them.
    if (at < 0)
      return own.cellIndex === written.own && isHeaded(exhibit) ? headingCell(exhibit, written.row) : undefined
    const c = at - exhibit.trends.filter((trend, k) => trend.at + k < at).length
    return exhibit.trends.some((trend, k) => trend.at + k === at) ? undefined : written.row.cells[c]
  }
  const of = (element: Element): ShownCell | undefined => {
    const own = element.closest(CELLS)
    if (own === null) return undefined
    const cell = find(own)
    const name = own.closest('section')?.getAttribute('aria-labelledby') ?? ''
    return cell == null ? undefined : { exhibit: byId.get(name)?.name ?? '', cell }
  }
  return {
    of,
    *all() {
      for (const element of root.querySelectorAll(CELLS)) {
        const own = of(element)
        if (own !== undefined) yield [element, own]
      }
    },
  }
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

function cellOfRecord(
  exhibit: RecordsExhibit,
  section: Element,
  own: HTMLTableCellElement,
  line: HTMLTableRowElement,
): RecordCell | undefined {
  if (!exhibit.oneAtATime) return exhibit.records[line.sectionRowIndex]?.cells[own.cellIndex - 1]
  const r = [...section.querySelectorAll('article.one')].indexOf(own.closest('article.one') as Element)
  return own.cellIndex === 1 ? exhibit.records[r]?.cells[line.sectionRowIndex] : undefined
}

/** A cell's keys as `why` takes them. */
export function keysOfCell({ row, column }: ShownCell['cell']): Record<string, string> {
  return Object.fromEntries([...row, ...column].map(({ name, value }) => [name, value ?? '']))
}
