import type { Cell, GridExhibit, Heading, Row, Trend } from '../../page/page.js'
import { type CellStyle, iconOf, PLAIN_STYLE } from '../../style/cell-style.js'
import { countIds, type Painted } from '../../style/painting.js'
import { comparePairs, markPairs, sameEnds } from '../../style/pairs.js'
import type { AnsweredExhibit, PaintedColumn } from '../model/answered.js'
import { extentsOf } from './bar-scale.js'
import { type CellMaker, sameBar } from './cells.js'
import { restNode } from './labels.js'
import { childOrder } from './row-order.js'
import { MAX_MADE_ROWS, PLAIN, paintedColumns, type Slot } from './slots.js'
import type { Trends } from './trends.js'

/** Cells of a long column that are made to find its widest. */
const SAMPLED_ROWS = 200

/** Lays out the rows of a table in order: groups, details, totals and the others of a key. */
export class RowBuilder {
  readonly #answered: AnsweredExhibit
  readonly #make: CellMaker
  readonly #slots: readonly Slot[]
  readonly #trends: readonly Trends[]
  readonly #rows: Row[] = []
  readonly #makers: ((row: number) => Cell)[][] = []
  readonly #extents: ReturnType<typeof extentsOf>
  readonly #order: ReturnType<typeof childOrder>
  readonly #deepest: number
  readonly #headed: boolean
  /** Whether cells of details are made when they are looked at. */
  readonly #lazy: boolean
  /** The details whose cells differ from those of the last layout; undefined without one. */
  #changed: Uint8Array | undefined

  /** `order` gives the children of a heading; left out, all of them in the order of the table. */
  constructor(
    answered: AnsweredExhibit,
    make: CellMaker,
    slots: readonly Slot[],
    trends: readonly Trends[],
    order = childOrder(answered),
  ) {
    this.#answered = answered
    this.#make = make
    this.#slots = slots
    this.#trends = trends
    this.#extents = extentsOf(answered, slots)
    this.#order = order
    this.#deepest = answered.exhibit.rows.length
    this.#headed = answered.levels.headings(this.#deepest) !== undefined
    const details = answered.summary.rows.depths[this.#deepest].length
    this.#lazy = answered.cache !== undefined && !this.#headed && details > MAX_MADE_ROWS && this.#isPlain(trends)
  }

  /** A list reads the cells of its rows, and trends belong to them. */
  #isPlain(trends: readonly Trends[]): boolean {
    return trends.length === 0 && this.#answered.exhibit.list === undefined
  }

  build(): Row[] {
    const { exhibit, cache: memory } = this.#answered
    const { rows } = exhibit.totals
    const painted = this.#lazy ? paintedColumns(this.#answered, this.#slots) : []
    if (this.#lazy && this.#answered.since === undefined)
      this.#changed = changedRows(memory?.painted ?? [], painted, this.#slots, this.#details())
    const total = (): void =>
      this.#put({ keys: [], level: 'total', text: 'Total', ...PLAIN }, 0, false, this.#cellsAt(0, 0), true)
    if (rows === 'top') total()
    const children = this.#order(0, 0)
    for (let i = 0; i < children.length; i++) this.#emit(1, children[i])
    this.#others(0, 0)
    if (rows === 'bottom') total()
    if (memory !== undefined) Object.assign(memory, { rows: this.#rows, painted })
    return this.#rows
  }

  /** A node of the row axis, with all its descendants. */
  #emit(depth: number, node: number): void {
    if (depth === this.#deepest) {
      this.#detail(node)
      return
    }
    const { exhibit, summary } = this.#answered
    const { totals } = exhibit
    const axisNode = summary.rows.depths[depth][node]
    const keys = this.#make.labels.keys(summary.rows, axisNode)
    const text = this.#make.labels.heading(summary.rows, axisNode)
    const above = totals.subtotals && totals.rows !== 'bottom'
    const heading: Heading = { keys, level: 'subtotal', text, ...this.#make.head(depth, node) }
    this.#put(heading, depth, true, above ? this.#cellsAt(depth, node) : this.#slots.map(() => null), above)
    for (const child of this.#order(depth, node)) this.#emit(depth + 1, child)
    this.#others(depth, node)
    if (totals.subtotals && totals.rows === 'bottom') {
      const below: Heading = { keys, level: 'subtotal', text: `${text}, total`, ...PLAIN }
      this.#put(below, depth, false, this.#cellsAt(depth, node), true)
    }
  }

  #detail(node: number): void {
    const { summary, cache: memory } = this.#answered
    const deepest = this.#deepest
    if (this.#lazy) {
      this.#rows.push(this.#lazyDetail(node))
      return
    }
    const keys = this.#make.labels.keys(summary.rows, summary.rows.depths[deepest][node])
    const before = this.#headed ? undefined : memory?.rows[this.#rows.length]
    if (before === undefined || before.heading.keys !== keys || before.depth !== deepest) {
      this.#put(this.#detailHeading(node), deepest, false, this.#cellsAt(deepest, node), true)
      return
    }
    // Without painted headings only cells can change, and few do.
    const makers = this.#makersAt(deepest)
    let cells: (Cell | null)[] | undefined
    for (let c = 0; c < makers.length; c++) {
      const cell = this.#drawn(makers[c](node), this.#slots[c])
      if (cell === before.cells[c]) continue
      cells ??= [...before.cells]
      cells[c] = cell
    }
    this.#rows.push(cells === undefined ? before : { ...before, cells })
  }

  /** The row of the last layout where none of its cells changed. */
  #lazyDetail(node: number): LazyRow {
    const before = this.#answered.cache?.rows[this.#rows.length]
    // The cache belongs to one summary, in which a node has one heading.
    if (before instanceof LazyRow && before.place === node && this.#changed?.[node] === 0) {
      before.takeFrom(this)
      return before
    }
    return new LazyRow(node, this)
  }

  /** The heading of a detail without painted headings: one object in all layouts of a summary. */
  lazyHeading(node: number): Heading {
    const headings = this.#answered.cache?.headings ?? []
    headings[node] ??= this.#detailHeading(node)
    return headings[node]
  }

  #detailHeading(node: number): Heading {
    const { summary } = this.#answered
    const axisNode = summary.rows.depths[this.#deepest][node]
    const { labels } = this.#make
    const [keys, text] = [labels.keys(summary.rows, axisNode), labels.heading(summary.rows, axisNode)]
    return { keys, level: 'detail', text, ...this.#make.head(this.#deepest, node) }
  }

  /** The depth of details. */
  get deepest(): number {
    return this.#deepest
  }

  #details(): number {
    return this.#answered.summary.rows.depths[this.#deepest].length
  }

  /**
   * What writers of a long table need of all its rows: styles from the painting, the widest text
   * from the ends of the values and a sample. Undefined where all cells are made.
   */
  survey(): Pick<GridExhibit, 'columns' | 'longestHeading'> | undefined {
    if (!this.#lazy) return undefined
    const details = this.#details()
    const { summary } = this.#answered
    const made = this.#rows.filter((row) => row.place === undefined)
    const painted = paintedColumns(this.#answered, this.#slots)
    const ends = this.#answered.cache?.ends ?? []
    const columns = this.#slots.map((slot, c) => {
      const column = summary.levels[this.#deepest][slot.depth].table.columns.get(slot.measure)?.column
      const { width, node } = painted[c]
      const rows = new Set<number>()
      const step = Math.max(1, Math.floor(details / SAMPLED_ROWS))
      for (let row = 0; row < details; row += step) rows.add(row)
      // The values of a summary stay the same, however they are decided.
      ends[c] ??= column?.kind === 'number' ? endsOf(column.values, width, node) : []
      for (const row of ends[c]) rows.add(row)
      const maker = this.#makersAt(this.#deepest)[c]
      const cells = [...rows].map((row) => this.#drawn(maker(row), slot))
      const all = [...cells, ...made.flatMap((row) => row.cells[c] ?? [])]
      const styles = new Set([...usedStyles(painted[c], details), ...all.map(({ style }) => style)])
      return { styles: [...styles], widest: widestOf(all) }
    })
    const memory = this.#answered.cache
    const longestHeading = memory?.longestHeading ?? this.#longestHeading()
    if (memory !== undefined) memory.longestHeading = longestHeading
    return { columns, longestHeading }
  }

  #longestHeading(): string {
    const { rows } = this.#answered.summary
    const { labels } = this.#make
    const nodes = rows.depths[this.#deepest]
    const domain = rows.keys[this.#deepest - 1]?.domain
    const words = domain?.kind === 'text' ? domain.words : undefined
    let longest = ''
    for (let i = 0; i < nodes.length; i++) {
      const text = words?.[nodes[i].code(this.#deepest - 1)] ?? labels.heading(rows, nodes[i])
      if (text.length > longest.length) longest = text
    }
    return longest
  }

  /** The cells of a detail. */
  detailCells(node: number): (Cell | null)[] {
    return this.#cellsAt(this.#deepest, node)
  }

  /** The others of a key under a heading, as one row. */
  #others(depth: number, node: number): void {
    const { summary } = this.#answered
    const others = summary.rests.find(({ rest }) => rest.depth === depth + 1)
    const place = others?.rest.parents.indexOf(node) ?? -1
    if (others === undefined || place < 0) return
    const othersNode = restNode(summary.rows, others.rest, place)
    const { labels } = this.#make
    const [keys, text] = [labels.keys(summary.rows, othersNode), labels.label(summary.rows, othersNode)]
    const cells = this.#slots.map((slot) =>
      this.#drawn(this.#make.cell(others.levels[slot.depth], place, slot.node, slot.measure), slot),
    )
    this.#put({ keys, level: 'subtotal', text, ...PLAIN }, depth + 1, false, cells, true)
  }

  /** An unchanged row stays the same object; its trends depend on the summary alone. */
  #put(heading: Heading, depth: number, group: boolean, cells: (Cell | null)[], lines: boolean): void {
    const before = this.#answered.cache?.rows[this.#rows.length]
    if (before !== undefined && before.depth === depth && sameHeading(before.heading, heading))
      if (sameList(before.cells, cells)) {
        this.#rows.push(before)
        return
      }
    const trends = this.#trends.map((trend) => (lines ? trend.of(heading.keys, heading.text) : null))
    this.#rows.push({ heading, depth, group, cells, trends })
  }

  #cellsAt(depth: number, node: number): (Cell | null)[] {
    return this.#makersAt(depth).map((maker, c) => this.#drawn(maker(node), this.#slots[c]))
  }

  #makersAt(depth: number): ((row: number) => Cell)[] {
    const { levels } = this.#answered.summary
    this.#makers[depth] ??= this.#slots.map((slot) =>
      this.#make.column(levels[depth][slot.depth], slot.node, slot.measure),
    )
    return this.#makers[depth]
  }

  /** A cell with the bar or point of its column; the same cell without one. */
  #drawn(cell: Cell, slot: Slot): Cell {
    const { draw, icon } = slot.style
    if (draw === 'number' && icon !== 'alone') return cell
    const { cache: memory } = this.#answered
    // A measure may be shown in two columns, each drawn in its way.
    const ways = memory?.drawn.get(cell) ?? new Map<string, Cell>()
    const way = `${draw} ${icon}`
    const before = ways.get(way)
    if (before !== undefined) return before
    const extent = draw === 'bar' || draw === 'point' ? this.#extents(slot.measure, cell.value) : null
    const plain = draw === 'status' ? statusCell(cell) : cell
    const drawnCell = icon === 'alone' && iconOf(cell.style) !== null ? this.#make.hidden(plain) : plain
    const extended = extent === null ? drawnCell : { ...drawnCell, extent }
    memory?.drawn.set(cell, ways.set(way, extended))
    return extended
  }
}

/** A cell of a column of statuses: its status in place of its value. */
function statusCell({ style, ...cell }: Cell): Cell {
  const shown = style.status === null ? PLAIN_STYLE : style
  return { ...cell, style: shown, bar: null, flag: null, text: cell.statusText, statusText: '' }
}

const NO_TRENDS: readonly (Trend | null)[] = []

/** A row whose heading and cells are made when they are looked at. */
class LazyRow implements Row {
  readonly place: number
  #rows: RowBuilder
  #cells: readonly (Cell | null)[] | undefined

  constructor(place: number, rows: RowBuilder) {
    this.place = place
    this.#rows = rows
  }

  // There are many of them: what is the same in all is not a field of each.
  get group(): boolean {
    return false
  }

  get trends(): readonly (Trend | null)[] {
    return NO_TRENDS
  }

  get depth(): number {
    return this.#rows.deepest
  }

  get heading(): Heading {
    return this.#rows.lazyHeading(this.place)
  }

  get cells(): readonly (Cell | null)[] {
    this.#cells ??= this.#rows.detailCells(this.place)
    return this.#cells
  }

  /** A later layout found it unchanged: what was decided before is not held for it. */
  takeFrom(rows: RowBuilder): void {
    this.#rows = rows
  }
}

/** Marks the rows in which a column has another style, bar or flag; undefined: all of them. */
function changedRows(
  before: readonly PaintedColumn[],
  after: readonly PaintedColumn[],
  slots: readonly Slot[],
  length: number,
): Uint8Array | undefined {
  if (before.length !== slots.length) return undefined
  const changed = new Uint8Array(length)
  for (const [c, { painted: is, width, node }] of after.entries()) {
    const { painted: was } = before[c]
    if (was === is && is?.styles.every(({ flag }) => flag === null) !== false) continue
    if (was === undefined || is === undefined) return undefined
    // A flag may contain a parameter, so it can change with an equal style.
    const differ = (a: CellStyle, b: CellStyle): number => (a !== b || b.flag !== null ? 1 : 0)
    const pairs = was.bars === is.bars ? comparePairs(was.styles, is.styles, differ) : undefined
    if (pairs !== undefined) markPairs(was.ids, is.ids, pairs, node, width, changed)
    else
      for (let row = 0, at = node; row < length; row++, at += width)
        if (differ(was.styles[was.ids[at]], is.styles[is.ids[at]]) === 1 || !sameEnds(was.bars, is.bars, at))
          changed[row] = 1
  }
  return changed
}

/** The rows of the lowest and the highest value. */
function endsOf(values: Float64Array, width: number, node: number): number[] {
  let low = -1
  let high = -1
  let least = Number.POSITIVE_INFINITY
  let most = Number.NEGATIVE_INFINITY
  // Comparing with a missing value is false either way.
  for (let at = node; at < values.length; at += width) {
    const value = values[at]
    if (value < least) {
      least = value
      low = at
    }
    if (value > most) {
      most = value
      high = at
    }
  }
  return [low, high].filter((at) => at >= 0).map((at) => (at - node) / width)
}

function usedStyles({ painted, width, node }: PaintedColumn, length: number): Painted['styles'] {
  if (painted === undefined) return []
  if (width === 1 && length === painted.ids.length) {
    const counts = countIds(painted)
    return painted.styles.filter((_, id) => counts[id] > 0)
  }
  const used = new Uint8Array(painted.styles.length)
  for (let row = 0, at = node; row < length; row++, at += width) used[painted.ids[at]] = 1
  return painted.styles.filter((_, id) => used[id] === 1)
}

/** The cell with the longest text, its flag and icon included. */
function widestOf(cells: readonly Cell[]): Cell | null {
  const lengthOf = ({ text, flag, style }: Cell): number =>
    text.length + (flag === null ? 0 : flag.length) + (style.icon === null ? 0 : 2)
  return cells.reduce<Cell | null>(
    (most, cell) => (most === null || lengthOf(cell) > lengthOf(most) ? cell : most),
    null,
  )
}

function sameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false
  return a.length === b.length
}

function sameHeading(a: Heading, b: Heading): boolean {
  const same = a.keys === b.keys || (a.keys.length === 0 && b.keys.length === 0)
  return same && a.text === b.text && a.style === b.style && a.flag === b.flag && sameBar(a.bar, b.bar)
}
