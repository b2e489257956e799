import type { Exhibit, GridExhibit } from '../../page/page.js'
import { type WrittenRows, writtenRows } from '../../view/model/rows.js'
import { exhibitId } from './address.js'
import type { TextFinder, VirtualTables } from './optional.js'

interface Search {
  exhibit: GridExhibit
  text: string
  hits: readonly number[]
  /** The index of the current hit. */
  at: number
}

/** @param windows returns the virtual tables. */
export function createTextFinder(root: ParentNode, windows: () => VirtualTables): TextFinder {
  let exhibits: readonly Exhibit[] = []
  const searches = new Map<string, Search>()
  const mark = (row: Element | undefined): void => {
    for (const before of root.querySelectorAll('tr.found')) before.classList.remove('found')
    row?.classList.add('found')
  }
  const say = (input: HTMLInputElement, text: string): void => {
    const status = input.parentElement?.querySelector('[role=status]')
    if (status != null) status.textContent = text
  }
  return {
    find(input, step) {
      const exhibit = exhibits.find(({ name }) => name === input.dataset.find)
      if (exhibit === undefined || !('rows' in exhibit)) return
      const text = input.value.trim().toLocaleLowerCase()
      if (text === '') {
        searches.delete(exhibit.name)
        mark(undefined)
        say(input, '')
        return
      }
      const previous = searches.get(exhibit.name)
      const same = previous !== undefined && previous.exhibit === exhibit && previous.text === text
      const search = same ? previous : begin(exhibit, text, windows().rowsOf(exhibit.name) ?? writtenRows(exhibit))
      if (same) search.at = (search.at + step + search.hits.length) % Math.max(1, search.hits.length)
      searches.set(exhibit.name, search)
      const index = search.hits[search.at]
      say(input, index === undefined ? 'none' : `${search.at + 1} of ${search.hits.length}`)
      if (index === undefined) mark(undefined)
      else mark(reveal(root, exhibit, index, windows()))
    },
    drawn(rows) {
      for (const search of searches.values())
        for (const row of rows)
          if (windows().indexOf(row) === search.hits[search.at] && isOf(row, search.exhibit)) row.classList.add('found')
    },
    show(shown) {
      exhibits = shown
      for (const [name, { exhibit }] of [...searches]) if (!shown.includes(exhibit)) searches.delete(name)
    },
  }
}

function begin(exhibit: GridExhibit, text: string, rows: WrittenRows): Search {
  const has = (contains: string | undefined): boolean => contains?.toLocaleLowerCase().includes(text) === true
  const hits: number[] = []
  rows.slice().forEach(({ row, heads }, r) => {
    if (heads.some(has) || row.cells.some((cell) => has(cell?.text))) hits.push(r)
  })
  return { exhibit, text, hits, at: 0 }
}

function isOf(row: Element, exhibit: GridExhibit): boolean {
  return row.closest('section')?.getAttribute('aria-labelledby') === exhibitId(exhibit.name)
}

function reveal(root: ParentNode, exhibit: GridExhibit, index: number, windows: VirtualTables): Element | undefined {
  if (windows.rowsOf(exhibit.name) !== undefined) return windows.reveal(exhibit.name, index)
  const section = [...root.querySelectorAll('section')].find(
    (element) => element.getAttribute('aria-labelledby') === exhibitId(exhibit.name),
  )
  const row = section?.querySelectorAll('tbody tr')[index]
  row?.scrollIntoView({ block: 'nearest' })
  return row
}
