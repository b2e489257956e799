import { elementScroll, observeElementOffset, observeElementRect, Virtualizer } from '@tanstack/virtual-core'
import type { GridExhibit } from '../../page/page.js'
import type { Writing } from '../../view/html/cell.js'
import { createRowWriter, type RowWriter, totalsOf } from '../../view/html/grid.js'
import type { WrittenRow } from '../../view/model/rows.js'
import type { Windows } from './optional.js'
import { patchNode } from './patch.js'

/** Rows written beyond each end of what is in sight. */
const BEYOND = 3
/** A row before the first one is measured, in pixels. */
const GUESSED = 37

interface Win {
  show(exhibit: GridExhibit, writing: Writing): void
  body: HTMLTableSectionElement
  rows(): readonly WrittenRow[]
  indexOf(row: Element): number
  reveal(index: number): HTMLTableRowElement | undefined
  remove(): void
}

/** @param drawn called with rows that came in sight, or were written anew. */
export function createWindows(root: ParentNode, drawn: (rows: readonly HTMLTableRowElement[]) => void): Windows {
  const wins = new Map<string, Win>()
  const winOf = (row: Element): Win | undefined => {
    const body = row.closest('table')?.querySelector<HTMLElement>('tbody[data-rows]')
    const own = wins.get(body?.dataset.rows ?? '')
    return own?.body === body ? own : undefined
  }
  return {
    show(exhibits, writing) {
      const bodies = new Map(
        [...root.querySelectorAll<HTMLTableSectionElement>('tbody[data-rows]')].map((own) => [
          own.dataset.rows ?? '',
          own,
        ]),
      )
      for (const [name, own] of [...wins])
        if (bodies.get(name) !== own.body) {
          own.remove()
          wins.delete(name)
        }
      for (const exhibit of exhibits) {
        const body = bodies.get(exhibit.name)
        if (body === undefined || !('rows' in exhibit)) continue
        let own = wins.get(exhibit.name)
        if (own === undefined) {
          own = createWin(body, drawn)
          wins.set(exhibit.name, own)
        }
        own.show(exhibit, writing)
      }
    },
    indexOf: (row) => winOf(row)?.indexOf(row),
    rowsOf: (exhibit) => wins.get(exhibit)?.rows(),
    reveal: (exhibit, index) => wins.get(exhibit)?.reveal(index),
    remove() {
      for (const own of wins.values()) own.remove()
      wins.clear()
    },
  }
}

function createWin(body: HTMLTableSectionElement, drawn: (rows: readonly HTMLTableRowElement[]) => void): Win {
  const page = body.ownerDocument
  const table = body.closest('table') as HTMLTableElement
  const region = table.parentElement as HTMLElement
  const head = table.tHead as HTMLTableSectionElement
  let writer: RowWriter = { rows: [], write: () => '' }
  let exhibit: GridExhibit | undefined
  let totals = { top: 0, bottom: 0 }
  /** Everything is written for paper. */
  let whole = false
  const inside = new Map<number, { line: HTMLTableRowElement; row: WrittenRow['row'] }>()
  const heights = new Map<string, number>()
  const kindOf = (index: number): string => {
    const { row } = writer.rows[index + totals.top]
    return `${row.group} ${row.depth}`
  }
  const pad = (): HTMLTableRowElement => {
    const line = page.createElement('tr')
    line.className = 'pad'
    line.setAttribute('aria-hidden', 'true')
    return line
  }
  const [above, below] = [pad(), pad()]
  body.replaceChildren(above, below)
  const box = page.createElement('template')
  const options = {
    count: 0,
    getScrollElement: () => region,
    estimateSize: (index: number) => heights.get(kindOf(index)) ?? GUESSED,
    scrollToFn: elementScroll,
    observeElementRect,
    observeElementOffset,
    overscan: BEYOND,
    scrollMargin: 0,
    onChange: () => draw(),
  }
  const list = new Virtualizer<HTMLElement, HTMLTableRowElement>(options)
  const unmount = list._didMount()

  /** Writes what is in sight, and takes out what is not; what is there already stays the same element. */
  function draw(): void {
    const items = list.getVirtualItems()
    const count = writer.rows.length - totals.top - totals.bottom
    const [from, to] = whole ? [0, count] : [items[0]?.index ?? 0, (items.at(-1)?.index ?? -1) + 1]
    const margin = list.options.scrollMargin
    // Paper has no room for what is not there.
    height(above, whole ? 0 : (items[0]?.start ?? margin) - margin)
    height(below, whole ? 0 : list.getTotalSize() - ((items.at(-1)?.end ?? margin) - margin))
    for (const [index, { line }] of inside)
      if (index < from || index >= to) {
        // Who stands on a row that goes stays in the table.
        if (line.contains(active())) region.focus({ preventScroll: true })
        line.remove()
        inside.delete(index)
      }
    const missing: number[] = []
    for (let i = from; i < to; i++) if (inside.get(i)?.row !== writer.rows[i + totals.top].row) missing.push(i)
    box.innerHTML = `<table><tbody>${missing.map((i) => writer.write(writer.rows[i + totals.top])).join('')}</tbody></table>`
    const made = [...box.content.querySelectorAll<HTMLTableRowElement>('tr')]
    const written = missing.map((index, k) => {
      const line = made[k]
      line.setAttribute('aria-rowindex', String(index + totals.top + head.rows.length + 1))
      const before = inside.get(index)
      const { row } = writer.rows[index + totals.top]
      if (before === undefined) inside.set(index, { line, row })
      else {
        patchNode(before.line, line)
        before.row = row
      }
      return before?.line ?? line
    })
    let next: Element | null = above.nextElementSibling
    for (let i = from; i < to; i++) {
      const line = inside.get(i)?.line
      if (line === next) next = line?.nextElementSibling ?? null
      else if (line !== undefined) body.insertBefore(line, next)
    }
    if (written.length > 0) drawn(written)
  }
  function active(): Element | null {
    return (region.getRootNode() as Document | ShadowRoot).activeElement
  }
  /** How high rows are and where they begin is seen once some are there. */
  function measure(): void {
    let other = false
    for (const [index, { line }] of inside) {
      const kind = kindOf(index)
      const own = line.getBoundingClientRect().height
      if (own === 0 || Math.abs((heights.get(kind) ?? GUESSED) - own) < 0.5) continue
      heights.set(kind, own)
      other = true
    }
    const sums = (name: string): number => table.querySelector<HTMLElement>(`tbody.${name}`)?.offsetHeight ?? 0
    table.style.setProperty('--head', `${head.offsetHeight}px`)
    const scrollMargin = body.offsetTop
    const moved = list.options.scrollMargin !== scrollMargin
    list.setOptions({
      ...list.options,
      scrollMargin,
      scrollPaddingStart: head.offsetHeight + sums('top'),
      // An outline has room, too.
      scrollPaddingEnd: sums('end') + 6,
    })
    if (!other && !moved) return
    list.measure()
    draw()
  }
  const sized = new ResizeObserver(() => measure())
  sized.observe(head)
  const print = (on: boolean) => () => {
    whole = on
    draw()
  }
  const [printed, shown] = [print(true), print(false)]
  page.defaultView?.addEventListener('beforeprint', printed)
  page.defaultView?.addEventListener('afterprint', shown)
  return {
    body,
    show(next, writing) {
      if (next === exhibit) return
      const before = exhibit
      const first = writer.rows[totals.top]?.row.heading.text
      exhibit = next
      writer = createRowWriter(next, writing)
      totals = totalsOf(writer.rows)
      const count = writer.rows.length - totals.top - totals.bottom
      list.setOptions({ ...list.options, count })
      list._willUpdate()
      // Other rows, or the same in another order, are read from their beginning.
      if (
        before !== undefined &&
        (before.rows.length !== next.rows.length || writer.rows[totals.top].row.heading.text !== first)
      ) {
        list.measure()
        region.scrollTop = 0
      }
      draw()
      if (before === undefined) measure()
    },
    rows: () => writer.rows,
    indexOf(row) {
      const own = row.parentElement
      if (own?.classList.contains('top')) return 0
      if (own?.classList.contains('end')) return writer.rows.length - 1
      for (const [index, { line }] of inside) if (line === row) return index + totals.top
      return -1
    },
    reveal(index) {
      const at = index - totals.top
      if (at < 0) return table.querySelector<HTMLTableRowElement>('tbody.top tr') ?? undefined
      if (index >= writer.rows.length - totals.bottom)
        return table.querySelector<HTMLTableRowElement>('tbody.end tr') ?? undefined
      list.scrollToIndex(at, { align: 'auto' })
      if (!inside.has(at)) {
        // Its element is wanted now, and the browser tells of scrolling later.
        region.dispatchEvent(new Event('scroll'))
        draw()
      }
      return inside.get(at)?.line
    },
    remove() {
      sized.disconnect()
      unmount()
      page.defaultView?.removeEventListener('beforeprint', printed)
      page.defaultView?.removeEventListener('afterprint', shown)
      body.replaceChildren()
    },
  }
}

function height(line: HTMLTableRowElement, pixels: number): void {
  line.style.height = `${Math.max(0, pixels)}px`
}
