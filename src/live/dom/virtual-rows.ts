import { elementScroll, observeElementOffset, observeElementRect, Virtualizer } from '@tanstack/virtual-core'
import type { GridExhibit } from '../../page/page.js'
import type { Writing } from '../../view/html/cells/cell.js'
import { createRowWriter, type RowWriter, totalsOf } from '../../view/html/kinds/grid.js'
import { NO_ROWS, type WrittenRow, type WrittenRows } from '../../view/model/rows.js'
import type { VirtualTables } from './optional.js'
import { patchNode } from './patch.js'

/** Rows written before and after the visible ones. */
const OVERSCAN_ROWS = 3
/** Height of a row before one is measured, in pixels. */
const ESTIMATED_ROW_HEIGHT = 37

/** Rows that are measured before the others are placed. */
const FIRST_ROWS = 40

interface Win {
  show(exhibit: GridExhibit, writing: Writing): void
  body: HTMLTableSectionElement
  rows(): WrittenRows
  indexOf(row: Element): number
  reveal(index: number): HTMLTableRowElement | undefined
  remove(): void
}

/** @param drawn called with rows that were written. */
export function createVirtualTables(
  root: ParentNode,
  drawn: (rows: readonly HTMLTableRowElement[]) => void,
): VirtualTables {
  const wins = new Map<string, Win>()
  const winOf = (row: Element): Win | undefined => {
    const body = row.closest('table')?.querySelector<HTMLElement>('tbody[data-rows]')
    const rowWindow = wins.get(body?.dataset.rows ?? '')
    return rowWindow?.body === body ? rowWindow : undefined
  }
  return {
    show(exhibits, writing) {
      const bodies = new Map(
        [...root.querySelectorAll<HTMLTableSectionElement>('tbody[data-rows]')].map((body) => [
          body.dataset.rows ?? '',
          body,
        ]),
      )
      for (const [name, rowWindow] of [...wins])
        if (bodies.get(name) !== rowWindow.body) {
          rowWindow.remove()
          wins.delete(name)
        }
      for (const exhibit of exhibits) {
        const body = bodies.get(exhibit.name)
        if (body === undefined || !('rows' in exhibit)) continue
        let rowWindow = wins.get(exhibit.name)
        if (rowWindow === undefined) {
          rowWindow = new VirtualTable(body, drawn)
          wins.set(exhibit.name, rowWindow)
        }
        rowWindow.show(exhibit, writing)
      }
    },
    indexOf: (row) => winOf(row)?.indexOf(row),
    rowsOf: (exhibit) => wins.get(exhibit)?.rows(),
    reveal: (exhibit, index) => wins.get(exhibit)?.reveal(index),
    remove() {
      for (const rowWindow of wins.values()) rowWindow.remove()
      wins.clear()
    },
  }
}

/** A long table; only its visible rows are in the page. */
class VirtualTable implements Win {
  readonly body: HTMLTableSectionElement
  readonly #drawn: (rows: readonly HTMLTableRowElement[]) => void
  readonly #table: HTMLTableElement
  readonly #region: HTMLElement
  readonly #head: HTMLTableSectionElement
  readonly #above: HTMLTableRowElement
  readonly #below: HTMLTableRowElement
  readonly #box: HTMLTemplateElement
  readonly #inside = new Map<number, { line: HTMLTableRowElement; row: WrittenRow['row'] }>()
  readonly #heights = new Map<number, number>()
  readonly #list: Virtualizer<HTMLElement, HTMLTableRowElement>
  readonly #stops: (() => void)[]
  #writer: RowWriter = { rows: NO_ROWS, write: () => '' }
  #exhibit: GridExhibit | undefined
  #totals = { top: 0, bottom: 0 }
  /** For printing, all rows are written. */
  #whole = false

  constructor(body: HTMLTableSectionElement, drawn: (rows: readonly HTMLTableRowElement[]) => void) {
    const page = body.ownerDocument
    this.body = body
    this.#drawn = drawn
    this.#table = body.closest('table') as HTMLTableElement
    this.#region = this.#table.parentElement as HTMLElement
    this.#head = this.#table.tHead as HTMLTableSectionElement
    this.#above = padding(page)
    this.#below = padding(page)
    this.#box = page.createElement('template')
    body.replaceChildren(this.#above, this.#below)
    this.#list = new Virtualizer<HTMLElement, HTMLTableRowElement>({
      count: 0,
      getScrollElement: () => this.#region,
      estimateSize: (index) => this.#heights.get(this.#kindOf(index)) ?? ESTIMATED_ROW_HEIGHT,
      scrollToFn: elementScroll,
      observeElementRect,
      observeElementOffset,
      overscan: OVERSCAN_ROWS,
      scrollMargin: 0,
      onChange: () => this.#draw(),
    })
    const unmount = this.#list._didMount()
    const sized = new ResizeObserver(() => this.#measure())
    sized.observe(this.#head)
    const print = (on: boolean) => () => {
      this.#whole = on
      this.#draw()
    }
    const [printed, shown] = [print(true), print(false)]
    page.defaultView?.addEventListener('beforeprint', printed)
    page.defaultView?.addEventListener('afterprint', shown)
    this.#stops = [
      () => sized.disconnect(),
      unmount,
      () => page.defaultView?.removeEventListener('beforeprint', printed),
      () => page.defaultView?.removeEventListener('afterprint', shown),
    ]
  }

  show(next: GridExhibit, writing: Writing): void {
    const before = this.#exhibit
    if (next === before) return
    const first = this.#writer.rows.at(this.#totals.top)?.row.heading.text
    this.#exhibit = next
    this.#writer = createRowWriter(next, writing)
    const { rows } = this.#writer
    this.#totals = totalsOf(rows)
    // The first rows are measured before all are placed.
    const count = before === undefined ? Math.min(this.#count(), FIRST_ROWS) : this.#count()
    this.#list.setOptions({ ...this.#list.options, count })
    this.#list._willUpdate()
    // Other rows, or another order, are shown from the top.
    if (
      before !== undefined &&
      (before.rows.length !== next.rows.length || rows.at(this.#totals.top)?.row.heading.text !== first)
    ) {
      this.#list.measure()
      this.#region.scrollTop = 0
    }
    this.#draw()
    if (before !== undefined) return
    this.#measure()
    this.#list.setOptions({ ...this.#list.options, count: this.#count() })
    this.#draw()
  }

  rows(): WrittenRows {
    return this.#writer.rows
  }

  indexOf(row: Element): number {
    const body = row.parentElement
    if (body?.classList.contains('top')) return 0
    if (body?.classList.contains('end')) return this.#writer.rows.length - 1
    for (const [index, { line }] of this.#inside) if (line === row) return index + this.#totals.top
    return -1
  }

  reveal(index: number): HTMLTableRowElement | undefined {
    const at = index - this.#totals.top
    const lineOf = (part: string) => this.#table.querySelector<HTMLTableRowElement>(`tbody.${part} tr`) ?? undefined
    if (at < 0) return lineOf('top')
    if (index >= this.#writer.rows.length - this.#totals.bottom) return lineOf('end')
    this.#list.scrollToIndex(at, { align: 'auto' })
    if (!this.#inside.has(at)) {
      // The element is needed now; the browser would fire the scroll event later.
      this.#region.dispatchEvent(new Event('scroll'))
      this.#draw()
    }
    return this.#inside.get(at)?.line
  }

  remove(): void {
    for (const stop of this.#stops) stop()
    this.body.replaceChildren()
  }

  /** Rows between the totals. */
  #count(): number {
    return this.#writer.rows.length - this.#totals.top - this.#totals.bottom
  }

  #rowAt(index: number): WrittenRow {
    const row = this.#writer.rows.at(index + this.#totals.top)
    if (row === undefined) throw new Error(`no row ${index}`)
    return row
  }

  /** Rows of one kind have the same height. */
  #kindOf(index: number): number {
    const row = this.#writer.rows.rowAt(index + this.#totals.top)
    return row === undefined ? 0 : 2 * row.depth + Number(row.group)
  }

  /** Writes the visible rows and removes the others; an existing row keeps its element. */
  #draw(): void {
    const list = this.#list
    const items = list.getVirtualItems()
    const whole = this.#whole
    const [from, to] = whole ? [0, this.#count()] : [items[0]?.index ?? 0, (items.at(-1)?.index ?? -1) + 1]
    const margin = list.options.scrollMargin
    // A printed table has no room for missing rows.
    height(this.#above, whole ? 0 : (items[0]?.start ?? margin) - margin)
    height(this.#below, whole ? 0 : list.getTotalSize() - ((items.at(-1)?.end ?? margin) - margin))
    for (const [index, { line }] of this.#inside)
      if (index < from || index >= to) {
        // If the focused row is removed, the focus stays in the table.
        if (line.contains((this.#region.getRootNode() as Document | ShadowRoot).activeElement))
          this.#region.focus({ preventScroll: true })
        line.remove()
        this.#inside.delete(index)
      }
    const written = this.#write(from, to)
    let next: Element | null = this.#above.nextElementSibling
    for (let i = from; i < to; i++) {
      const line = this.#inside.get(i)?.line
      if (line === next) next = line?.nextElementSibling ?? null
      else if (line !== undefined) this.body.insertBefore(line, next)
    }
    if (written.length > 0) this.#drawn(written)
  }

  /** Writes rows that are missing or changed; returns their elements. */
  #write(from: number, to: number): HTMLTableRowElement[] {
    const missing: number[] = []
    for (let i = from; i < to; i++)
      if (this.#inside.get(i)?.row !== this.#writer.rows.rowAt(i + this.#totals.top)) missing.push(i)
    const markup = missing.map((i) => this.#writer.write(this.#rowAt(i))).join('')
    this.#box.innerHTML = `<table><tbody>${markup}</tbody></table>`
    const rows = [...this.#box.content.querySelectorAll<HTMLTableRowElement>('tr')]
    return missing.map((index, k) => {
      const line = rows[k]
      line.setAttribute('aria-rowindex', String(index + this.#totals.top + this.#head.rows.length + 1))
      const before = this.#inside.get(index)
      const { row } = this.#rowAt(index)
      if (before === undefined) this.#inside.set(index, { line, row })
      else {
        patchNode(before.line, line)
        before.row = row
      }
      return before?.line ?? line
    })
  }

  /** Measures the heights of rows and the offset of the first one, once some are in the page. */
  #measure(): void {
    const [list, head] = [this.#list, this.#head]
    let other = false
    for (const [index, { line }] of this.#inside) {
      const kind = this.#kindOf(index)
      const height = line.getBoundingClientRect().height
      if (height === 0 || Math.abs((this.#heights.get(kind) ?? ESTIMATED_ROW_HEIGHT) - height) < 0.5) continue
      this.#heights.set(kind, height)
      other = true
    }
    const sums = (name: string): number => this.#table.querySelector<HTMLElement>(`tbody.${name}`)?.offsetHeight ?? 0
    this.#table.style.setProperty('--head', `${head.offsetHeight}px`)
    const scrollMargin = this.body.offsetTop
    const moved = list.options.scrollMargin !== scrollMargin
    list.setOptions({
      ...list.options,
      scrollMargin,
      scrollPaddingStart: head.offsetHeight + sums('top'),
      // Room for a focus outline.
      scrollPaddingEnd: sums('end') + 6,
    })
    if (!other && !moved) return
    list.measure()
    this.#draw()
  }
}

/** A row with the height of the rows that are not in the page. */
function padding(page: Document): HTMLTableRowElement {
  const line = page.createElement('tr')
  line.className = 'pad'
  line.setAttribute('aria-hidden', 'true')
  return line
}

function height(line: HTMLTableRowElement, pixels: number): void {
  line.style.height = `${Math.max(0, pixels)}px`
}
