import type { Trend } from '../../page/page.js'
import { escapeText } from '../../view/markup.js'
import { keysOfCell, type ShownCell } from '../dom/elements.js'
import type { CellRequest, Reasons, Session, Update } from '../session/model.js'

/** The popover that explains a cell. */
export interface Popover {
  /** Shows the explanation of a cell beside its element; undefined closes it. */
  show(cell: ShownCell | undefined, element?: Element): void
  remove(): void
}

/**
 * How long the pointer rests on a cell before its trend is asked for, in milliseconds. A pointer
 * that passes by asks for nothing.
 */
const TREND_DELAY_MS = 140

export function createPopover(box: HTMLElement, session: Session, current: () => Update): Popover {
  const page = box.ownerDocument
  /** Trends that were requested for the current update. */
  let trends = { of: undefined as Update | undefined, markup: new Map<string, Promise<string>>() }
  let shown: { cell: ShownCell['cell']; element: Element } | undefined
  let delay = 0
  const trendOf = (request: CellRequest): Promise<string> => {
    const now = current()
    if (trends.of !== now) trends = { of: now, markup: new Map() }
    const key = JSON.stringify(request)
    const markup = trends.markup.get(key) ?? session.trend(request).then(trendMarkup)
    trends.markup.set(key, markup)
    return markup
  }
  const explain = async (cell: ShownCell, mine: typeof shown, element: Element): Promise<void> => {
    const request = { exhibit: cell.exhibit, measure: cell.cell.measure, keys: keysOfCell(cell.cell) }
    const reasons = await session.reasons(request)
    if (shown !== mine) return
    box.innerHTML = reasonsMarkup(cell, reasons)
    box.hidden = false
    place(box, element)
    delay =
      page.defaultView?.setTimeout(async () => {
        const markup = await trendOf(request)
        if (markup === '' || shown !== mine) return
        const chart = page.createElement('div')
        chart.className = 'behind'
        chart.innerHTML = markup
        box.append(chart)
        place(box, element)
      }, TREND_DELAY_MS) ?? 0
  }
  return {
    show(cell, element) {
      page.defaultView?.clearTimeout(delay)
      if (cell === undefined || element === undefined) {
        box.hidden = true
        shown = undefined
        return
      }
      if (shown?.cell === cell.cell && shown.element === element && !box.hidden) return
      shown = { cell: cell.cell, element }
      void explain(cell, shown, element).catch(() => undefined)
    },
    remove() {
      page.defaultView?.clearTimeout(delay)
      shown = undefined
    },
  }
}

/** Value, status and reasons of a cell. */
function reasonsMarkup({ cell }: ShownCell, { title, sentences }: Reasons): string {
  const list = sentences.map((text) => `<li>${escapeText(text)}</li>`).join('')
  const status = cell.statusText === '' ? '' : ` · ${escapeText(cell.statusText)}`
  const value = cell.text === '' ? 'missing' : escapeText(cell.text)
  return `<p class="cap">${escapeText(title ?? cell.name)}</p><p>${escapeText(cell.measureLabel)} ${value}${status}</p>${
    list === '' ? '<p>No rule applies.</p>' : `<ul>${list}</ul>`
  }`
}

/** The measure of a cell month by month, as a small chart; empty where there is no such line. */
async function trendMarkup(trend: Trend | null): Promise<string> {
  if (trend === null) return ''
  const { trendChart } = await import('../../view/chart/trend.js')
  return `${trendChart(trend)}<p class="v">${escapeText(trend.hint)}</p>`
}

/**
 * Directly under or over the cell, without a gap: the pointer must reach the popover without
 * crossing another cell.
 */
function place(box: HTMLElement, element: Element): void {
  const anchor = (element.closest('td, article') ?? element).getBoundingClientRect()
  const page = box.ownerDocument
  // The containing block differs between pages; the position of the box at 0, 0 gives its origin.
  box.style.left = '0'
  box.style.top = '0'
  const base = box.getBoundingClientRect()
  const space = page.documentElement.clientWidth
  const left = Math.max(8, Math.min(anchor.left, space - box.offsetWidth - 12))
  const below =
    anchor.bottom + box.offsetHeight + 8 < (page.defaultView?.innerHeight ?? 0) || anchor.top < box.offsetHeight
  box.style.left = `${left - base.left}px`
  box.style.top = `${(below ? anchor.bottom : anchor.top - box.offsetHeight) - base.top}px`
}
