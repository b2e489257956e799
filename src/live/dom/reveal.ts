import type { Exhibit } from '../../page/page.js'
import { exhibitId } from './address.js'
import type { ShownCell } from './elements.js'
import type { View } from './view.js'

/** The element of a cell in the page; rows out of view are written first. */
export function revealCell(view: View, exhibit: Exhibit, cell: ShownCell['cell']): Element | undefined {
  const { windows } = view.extras()
  const all = windows.rowsOf(exhibit.name)
  if (all !== undefined) {
    const row = all.findIndex((written) => written.row.cells.some((each) => each === cell))
    const line = row < 0 ? undefined : windows.reveal(exhibit.name, row)
    return [...(line?.children ?? [])].find((element) => view.cells().of(element)?.cell === cell)
  }
  const name = exhibitId(exhibit.name)
  for (const [element, shown] of view.cells().all())
    if (shown.cell === cell && element.closest('section')?.getAttribute('aria-labelledby') === name) return element
  return undefined
}

/** Scrolls a cell into view and moves the focus to it; false where it has no element. */
export function focusCell(view: View, exhibit: Exhibit, cell: ShownCell['cell']): boolean {
  const element = revealCell(view, exhibit, cell)
  if (element === undefined) return false
  element.scrollIntoView({ block: 'center', inline: 'nearest' })
  for (const mark of view.exhibits.querySelectorAll('.here')) mark.classList.remove('here')
  // A mark of a chart cannot have the focus: its chart has it.
  const target = element.closest<HTMLElement>('td, th, article') ?? element.closest<HTMLElement>('[role=region]')
  element.classList.add('here')
  if (target === null) return true
  if (target.getAttribute('tabindex') === null) target.tabIndex = -1
  target.focus({ preventScroll: true })
  return true
}
