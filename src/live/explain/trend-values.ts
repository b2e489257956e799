import type { Exhibit, Trend } from '../../page/page.js'
import { lineEnds, nearestPoint, pointedMarkup } from '../../view/chart/trend.js'
import { exhibitId } from '../dom/address.js'

/** Trends that answer with the number of the month that is pointed at. */
export interface TrendValues {
  /** Shows the value under the pointer; false outside of trends. */
  point(event: PointerEvent): boolean
  /** Moves to the value before or after, for the arrow keys; false outside of trends. */
  step(element: Element, by: number): boolean
  /** Takes the value away. */
  leave(element: Element): void
}

/** @param exhibits returns those that are shown. */
export function createTrendValues(exhibits: () => readonly Exhibit[]): TrendValues {
  /** The value that each trend shows. */
  const places = new WeakMap<Element, number>()
  const show = (box: Element, trend: Trend, at: number): void => {
    const chart = box.querySelector('svg.trend')
    if (chart === null || at < 0 || places.get(box) === at) return
    places.set(box, at)
    leaveChart(chart)
    const group = chart.ownerDocument.createElementNS('http://www.w3.org/2000/svg', 'g')
    group.classList.add('at')
    group.innerHTML = pointedMarkup(trend, at)
    chart.append(group)
    const { label, text } = trend.points[at]
    box.setAttribute('aria-label', `${trend.name}, ${label}: ${trend.measureLabel} ${text}`)
  }
  return {
    point({ target, clientX }) {
      const box = target instanceof Element ? target.closest('.tr') : null
      const trend = box === null ? undefined : trendOf(box, exhibits())
      const drawing = target instanceof Element ? target.closest('svg') : null
      if (box === null || trend === undefined) return false
      const { left, width } = (drawing ?? box).getBoundingClientRect()
      const [from, to] = lineEnds(trend, drawing?.classList.contains('trend') === true)
      const share = ((clientX - left) / Math.max(1, width) - from) / (to - from)
      show(box, trend, nearestPoint(trend, Math.min(1, Math.max(0, share))))
      return true
    },
    step(element, by) {
      const box = element.closest('.tr')
      const trend = box === null ? undefined : trendOf(box, exhibits())
      if (box === null || trend === undefined) return false
      const before = places.get(box) ?? trend.last
      let at = before + by
      while (trend.points[at]?.value === null) at += by
      show(box, trend, trend.points[at] === undefined ? before : at)
      return true
    },
    leave(element) {
      const box = element.closest('.tr')
      const trend = box === null ? undefined : trendOf(box, exhibits())
      if (box === null || trend === undefined || !places.delete(box)) return
      const chart = box.querySelector('svg.trend')
      if (chart !== null) leaveChart(chart)
      box.setAttribute('aria-label', trend.hint)
    },
  }
}

function leaveChart(chart: Element): void {
  chart.querySelector('.at')?.remove()
}

/** The trend of an element: by its row and its place in it, or of its card. */
function trendOf(box: Element, exhibits: readonly Exhibit[]): Trend | undefined {
  const id = box.closest('section')?.getAttribute('aria-labelledby')
  const exhibit = exhibits.find(({ name }) => exhibitId(name) === id)
  const row = box.closest<HTMLElement>('[data-row]')
  const at = Number(row?.dataset.row)
  if (exhibit === undefined || row === null) return undefined
  if (exhibit.kind === 'cards') return exhibit.cards[at]?.trend ?? undefined
  if (!('rows' in exhibit)) return undefined
  return exhibit.rows[at]?.trends[[...row.querySelectorAll('.tr')].indexOf(box)] ?? undefined
}
