import type { DecidedReport } from '../../report/model/answered.js'
import { keysOfCell, type ShownCell } from '../dom/elements.js'

/** The box that says why a cell looks as it does. */
export interface Popover {
  /** Says it of a cell, beside its element; undefined hides the box. */
  show(own: ShownCell | undefined, element?: Element): void
  remove(): void
}

/**
 * How long a reader stays before what lies behind a cell is asked for, in milliseconds: who passes
 * by asks for nothing.
 */
const CLOSE_DELAY_MS = 140

export function createPopover(box: HTMLElement, decided: () => DecidedReport): Popover {
  const page = box.ownerDocument
  /** Lines that were asked for, of the report as it is decided now. */
  let lines = { of: undefined as DecidedReport | undefined, known: new Map<string, Promise<string>>() }
  let shown: { cell: ShownCell['cell']; element: Element } | undefined
  let staying = 0
  const lineOf = (own: ShownCell): Promise<string> => {
    const now = decided()
    if (lines.of !== now) lines = { of: now, known: new Map() }
    const key = JSON.stringify([own.exhibit, own.cell.measure, keysOfCell(own.cell)])
    const found = lines.known.get(key) ?? import('./content.js').then(({ lineBehind }) => lineBehind(now, own))
    lines.known.set(key, found)
    return found
  }
  const tell = async (own: ShownCell, mine: typeof shown, element: Element): Promise<void> => {
    const { explanation: reasons } = await import('./content.js')
    if (shown !== mine) return
    box.innerHTML = reasons(decided(), own)
    box.hidden = false
    place(box, element)
    staying =
      page.defaultView?.setTimeout(async () => {
        const line = await lineOf(own)
        if (line === '' || shown !== mine) return
        const made = page.createElement('div')
        made.className = 'behind'
        made.innerHTML = line
        box.append(made)
        place(box, element)
      }, CLOSE_DELAY_MS) ?? 0
  }
  return {
    show(own, element) {
      page.defaultView?.clearTimeout(staying)
      if (own === undefined || element === undefined) {
        box.hidden = true
        shown = undefined
        return
      }
      if (shown?.cell === own.cell && shown.element === element && !box.hidden) return
      shown = { cell: own.cell, element }
      void tell(own, shown, element)
    },
    remove() {
      page.defaultView?.clearTimeout(staying)
      shown = undefined
    },
  }
}

/**
 * Right under the cell or over it, without a gap: the pointer must reach the box without crossing
 * another cell.
 */
function place(box: HTMLElement, element: Element): void {
  const own = (element.closest('td, article') ?? element).getBoundingClientRect()
  const page = box.ownerDocument
  // What it is placed in differs from page to page; where it lies at nought tells.
  box.style.left = '0'
  box.style.top = '0'
  const base = box.getBoundingClientRect()
  const space = page.documentElement.clientWidth
  const left = Math.max(8, Math.min(own.left, space - box.offsetWidth - 12))
  const below = own.bottom + box.offsetHeight + 8 < (page.defaultView?.innerHeight ?? 0) || own.top < box.offsetHeight
  box.style.left = `${left - base.left}px`
  box.style.top = `${(below ? own.bottom : own.top - box.offsetHeight) - base.top}px`
}
