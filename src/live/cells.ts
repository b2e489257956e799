import type { Exhibit, Page, RecordCell } from '../page/page.js'
import { writtenRows } from '../view/rows.js'

/** A cell of a page with the exhibit it stands in. */
export interface ShownCell {
  exhibit: string
  cell: Pick<RecordCell, 'row' | 'column' | 'measure' | 'measureLabel' | 'text' | 'look' | 'statusText' | 'name'>
}

/** The elements of cells, both ways: which cell an element shows, and the elements of an exhibit's cells. */
export interface CellMap {
  of(element: Element): ShownCell | undefined
  all(): Iterable<[Element, ShownCell]>
}

/** Finds the element of every cell of tables, records and cards; charts have a table of their numbers. */
export function mapCells(root: ParentNode, page: Page): CellMap {
  const known = new Map<Element, ShownCell>()
  const sections = new Map<string, Element>()
  for (const section of root.querySelectorAll('section[aria-labelledby]'))
    sections.set(section.getAttribute('aria-labelledby') ?? '', section)
  for (const exhibit of page.exhibits) {
    const section = sections.get(`x-${encodeURIComponent(exhibit.name.toWellFormed())}`)
    if (section !== undefined) mapExhibit(exhibit, section, known)
  }
  return {
    of(element) {
      const own = element.closest('td, article.card')
      return own === null ? undefined : known.get(own)
    },
    all: () => known,
  }
}

function mapExhibit(exhibit: Exhibit, section: Element, known: Map<Element, ShownCell>): void {
  if ('rows' in exhibit) {
    const rows = section.querySelector('tbody')?.rows
    writtenRows(exhibit).forEach(({ row, heads }, r) => {
      const cells = rows?.[r]?.cells
      row.cells.forEach((cell, c) => {
        const lines = exhibit.trends.filter(({ at }) => at <= c).length
        const element = cells?.[heads.length + c + lines]
        if (cell !== null && element !== undefined) known.set(element, { exhibit: exhibit.name, cell })
      })
    })
  } else if (exhibit.kind === 'records') {
    const tables = exhibit.one ? [...section.querySelectorAll('article.one tbody')] : []
    const rows = section.querySelector('tbody')?.rows
    exhibit.records.forEach(({ cells }, r) => {
      cells.forEach((cell, c) => {
        const element = exhibit.one
          ? (tables[r] as HTMLTableSectionElement | undefined)?.rows[c]?.cells[1]
          : rows?.[r]?.cells[c + 1]
        if (element !== undefined) known.set(element, { exhibit: exhibit.name, cell })
      })
    })
  } else if (exhibit.kind === 'cards') {
    const cards = section.querySelectorAll('article.card')
    exhibit.cards.forEach(({ cell }, c) => {
      if (cards[c] !== undefined) known.set(cards[c], { exhibit: exhibit.name, cell })
    })
  }
}

/** A cell's keys as `why` takes them. */
export function keysOfCell({ row, column }: ShownCell['cell']): Record<string, string> {
  return Object.fromEntries([...row, ...column].map(({ name, value }) => [name, value ?? '']))
}
