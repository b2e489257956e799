import type { Exhibit } from '../../page/page.js'
import { exhibitId } from './address.js'
import type { View } from './view.js'

/** The element of the cell at a place of its exhibit; rows out of view are written first. */
function revealCell(view: View, exhibit: Exhibit, place: number): Element | undefined {
  const { windows } = view.extras()
  const all = windows.rowsOf(exhibit.name)
  if (all !== undefined && 'rows' in exhibit) {
    const at = Math.floor(place / exhibit.styles.length)
    const row = all.slice().findIndex((written) => written.at === at)
    const line = row < 0 ? undefined : windows.reveal(exhibit.name, row)
    return [...(line?.children ?? [])].find((element) => view.cells().of(element)?.place === place)
  }
  const name = exhibitId(exhibit.name)
  for (const [element, shown] of view.cells().all())
    if (shown.place === place && element.closest('section')?.getAttribute('aria-labelledby') === name) return element
  return undefined
}

/** Scrolls a cell into view and moves the focus to it. */
export function focusCell(view: View, exhibit: Exhibit, place: number): void {
  const element = revealCell(view, exhibit, place)
  if (element === undefined) return
  element.scrollIntoView({ block: 'center', inline: 'nearest' })
  for (const mark of view.exhibits.querySelectorAll('.here')) mark.classList.remove('here')
  element.classList.add('here')
  // A mark of a chart cannot have the focus: its chart has it.
  const target = element.closest<HTMLElement>('td, th, article') ?? element.closest<HTMLElement>('[role=region]')
  if (target === null) return
  if (target.getAttribute('tabindex') === null) target.tabIndex = -1
  target.focus({ preventScroll: true })
}
