import type { RecordPager } from './optional.js'

const ONE = 'article.one'

export function createRecordPager(root: ParentNode): RecordPager {
  /** The index of the visible record of each exhibit. */
  const places = new Map<string, number>()
  const nameOf = (list: Element): string => list.closest('section')?.getAttribute('aria-labelledby') ?? ''
  const all = (list: Element): HTMLElement[] => [...list.querySelectorAll<HTMLElement>(ONE)]
  const put = (list: Element): void => {
    const records = all(list)
    const at = Math.min(places.get(nameOf(list)) ?? 0, records.length - 1)
    for (const [i, record] of records.entries()) record.hidden = i !== at
  }
  const go = (list: Element, at: number, from: Element | null): void => {
    const records = all(list)
    if (at < 0 || at >= records.length) return
    places.set(nameOf(list), at)
    put(list)
    // The same link of the next record gets the focus; at an end, the record itself.
    const words = from?.textContent
    const same = [...records[at].querySelectorAll('a')].find((link) => link.textContent === words)
    records[at].tabIndex = -1
    ;(same ?? records[at]).focus({ preventScroll: true })
  }
  return {
    follow(link) {
      const list = link.closest(ONE)?.parentElement
      const id = link.getAttribute('href')?.slice(1)
      if (list == null || id === undefined) return false
      go(
        list,
        all(list).findIndex((record) => record.id === id),
        link,
      )
      return true
    },
    step(element, by) {
      const record = element.closest<HTMLElement>(ONE)
      const list = record?.parentElement
      if (record == null || list == null) return false
      go(list, all(list).indexOf(record) + by, element)
      return true
    },
    walk(element, by) {
      const record = element.closest(ONE)
      if (record === null) return false
      const values = [...record.querySelectorAll<HTMLElement>('tbody td:first-of-type')]
      const at = values.findIndex((value) => value.contains(element))
      const next = values[at < 0 ? 0 : Math.min(values.length - 1, Math.max(0, at + by))]
      if (next === undefined) return false
      next.tabIndex = -1
      next.focus()
      return true
    },
    show() {
      for (const list of root.querySelectorAll('.ones')) put(list)
    },
  }
}
