import type { Cell, Exhibit, StripPart } from '../../page/page.js'
import { eachPlace } from '../../page/places.js'
import { escapeText } from '../../view/markup.js'
import { focusCell } from '../dom/reveal.js'
import type { View } from '../dom/view.js'
import type { Update } from '../session/model.js'

/** The most cells that are listed. */
const MAX_LISTED = 200

/** A cell with its place in its exhibit. */
interface PlacedCell {
  cell: Cell
  place: number
}

/** The list of the cells of one part of the strip. */
export interface StripCells {
  /** Opens the list of a part under its link, or closes it. */
  toggle(link: HTMLElement): void
  /** Goes to a cell of the open list. */
  go(button: HTMLElement): void
  close(): void
}

export function createStripCells(view: View, current: () => Update): StripCells {
  let open: { link: HTMLElement; box: HTMLElement; exhibit: Exhibit; cells: readonly PlacedCell[] } | undefined
  const close = (): void => {
    open?.link.setAttribute('aria-expanded', 'false')
    open?.box.remove()
    open = undefined
  }
  return {
    close,
    toggle(link) {
      // An update takes the list away.
      const again = open?.link === link && open.box.isConnected
      close()
      const { strip, exhibits } = current().page
      const part = strip?.parts.find(
        ({ kind, status }) => kind === link.dataset.kind && (status ?? '') === link.dataset.part,
      )
      const exhibit = exhibits.find(({ name }) => name === strip?.exhibit)
      if (again || strip === null || part === undefined || exhibit === undefined) return
      const cells = cellsOfPart(exhibit, strip.measure, part)
      const box = view.main.ownerDocument.createElement('div')
      box.className = 'cells'
      box.innerHTML = listMarkup(part, cells)
      const nav = link.closest<HTMLElement>('nav')
      nav?.append(box)
      link.setAttribute('aria-expanded', 'true')
      open = { link, box, exhibit, cells }
      box.querySelector('button')?.focus()
    },
    go(button) {
      const listed = open?.cells[Number(button.dataset.cell)]
      if (open === undefined || listed === undefined) return
      const { exhibit } = open
      close()
      focusCell(view, exhibit, listed.place)
    },
  }
}

/** The first cells of a part. A long table makes no more of its cells than these need. */
function cellsOfPart(exhibit: Exhibit, measure: string, { kind, status }: StripPart): PlacedCell[] {
  const found: PlacedCell[] = []
  const add = (cell: Cell, place: number): void => {
    const { level, style, value, measure: own } = cell
    if (own !== measure || level.row !== 'detail' || level.column !== 'detail' || style.status !== status) return
    if (kind === 'status' || (value === null) === (kind === 'missing')) found.push({ cell, place })
  }
  if (!('rows' in exhibit)) eachPlace(exhibit, (place, cell) => add(cell as Cell, place))
  else
    for (const [r, row] of exhibit.rows.entries()) {
      if (found.length >= MAX_LISTED) break
      for (const [c, cell] of row.cells.entries()) if (cell !== null) add(cell, r * exhibit.styles.length + c)
    }
  return found.slice(0, MAX_LISTED)
}

function listMarkup({ label, count }: StripPart, cells: readonly PlacedCell[]): string {
  const items = cells.map(
    ({ cell: { name, text } }, i) =>
      `<li><button type="button" data-cell="${i}">${escapeText(name)} <b>${escapeText(text === '' ? 'missing' : text)}</b></button></li>`,
  )
  const rest = count - items.length
  const more = rest > 0 ? `<p>${rest} more</p>` : ''
  return `<p class="cap">${escapeText(label)}</p><ul>${items.join('')}</ul>${more}`
}
