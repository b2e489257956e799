import { type CellMap, TABLES } from './elements.js'
import type { View } from './view.js'

const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  Home: [0, Number.NEGATIVE_INFINITY],
  End: [0, Number.POSITIVE_INFINITY],
}

/**
 * Arrow keys move between the cells of a table and the marks of a chart, Home and End to the ends
 * of a row; Escape closes the popover and leaves the cells.
 */
export function moveFocus(
  event: KeyboardEvent,
  view: View,
  cells: CellMap,
  explain: (element: Element | null) => void,
): void {
  const { target, key } = event
  if (!(target instanceof HTMLElement)) return
  const region = target.closest<HTMLElement>('[role=region]')
  if (region === null) return
  if (key === 'Escape') {
    explain(null)
    region.focus()
    return
  }
  const step = STEPS[key]
  if (step === undefined) return
  if (region.classList.contains('chart')) {
    event.preventDefault()
    explain(markBeside(region, step[0] + step[1], cells))
    return
  }
  const next = target === region ? firstOf(region, cells) : neighbour(target, region, step, view, cells)
  if (next === undefined) return
  event.preventDefault()
  if (target !== region) target.removeAttribute('tabindex')
  next.tabIndex = -1
  next.focus()
}

/**
 * The mark so many steps from the current one. The focus stays on the chart, which is a single
 * image for assistive technology.
 */
function markBeside(region: HTMLElement, steps: number, cells: CellMap): Element | null {
  const marks = [...region.querySelectorAll('[data-row]')].filter((element) => cells.of(element) !== undefined)
  const at = marks.findIndex((mark) => mark.classList.contains('here'))
  for (const mark of marks) mark.classList.remove('here')
  const next = marks[Math.min(marks.length - 1, Math.max(0, at < 0 ? 0 : at + steps))]
  next?.classList.add('here')
  return next ?? null
}

function focusableCells(row: Element | undefined, cells: CellMap): HTMLElement[] {
  return [...(row?.children ?? [])].filter((element): element is HTMLElement => cells.of(element) !== undefined)
}

/** The first visible cell, totals first. */
function firstOf(region: HTMLElement, cells: CellMap): HTMLElement | undefined {
  if (!region.querySelector('table')?.matches(TABLES)) return undefined
  for (const row of region.querySelectorAll('tbody tr')) {
    const [first] = focusableCells(row, cells)
    if (first !== undefined) return first
  }
  return undefined
}

function neighbour(
  target: HTMLElement,
  region: HTMLElement,
  [down, right]: readonly [number, number],
  view: View,
  cells: CellMap,
): HTMLElement | undefined {
  const row = target.closest('tr')
  const cell = cells.of(target)
  if (row === null || cell === undefined) return undefined
  const { windows } = view.extras()
  const all = windows.rowsOf(cell.exhibit)
  const rows = all === undefined ? [...region.querySelectorAll('tbody tr')] : []
  const size = all?.length ?? rows.length
  const at = focusableCells(row, cells).indexOf(target)
  // Rows without cells are skipped.
  for (
    let r = (all === undefined ? rows.indexOf(row) : (windows.indexOf(row) ?? -1)) + down;
    r >= 0 && r < size;
    r += down
  ) {
    const line = down === 0 ? row : all === undefined ? rows[r] : windows.reveal(cell.exhibit, r)
    const list = focusableCells(line, cells)
    const next = list[Math.min(list.length - 1, Math.max(0, at + right))]
    if (next !== undefined) return next
    if (down === 0) return undefined
  }
  return undefined
}
