import { compareMissingLast } from '../../../column/rank.js'
import type { Cell, ColumnHeading, ColumnStyle, GridExhibit, Heading, Row } from '../../../page/page.js'
import { PLAIN_STYLE } from '../../../style/cell-style.js'
import type { LegendEntry } from '../../../style/legend.js'
import type { Axis } from '../../../summary/cells/axis.js'
import { isPeriodUnit } from '../../../time/period.js'
import { answerExhibit } from '../../answer/exhibit.js'
import type { AnsweredExhibit } from '../../model/answered.js'
import { extentsOf } from '../bar-scale.js'
import { CellMaker, sameBar } from '../cells.js'
import { headingText, restNode } from '../labels.js'
import { childOrder } from '../row-order.js'
import type { Trends } from '../trends.js'
import { answerTrends, type Prepare } from './prepare.js'

/** The style of a heading that no rule can paint. */
const PLAIN = { style: PLAIN_STYLE, bar: null, flag: null, statusText: '' } as const

/** One column of cells: a column key or total, and a measure. */
interface Slot {
  depth: number
  node: number
  measure: string
  /** The label, if it is not that of the measure. */
  label: string | undefined
  style: ColumnStyle
}

/** Lays out a table or a heatmap: headings, rows in reading order, cells. */
export function buildGrid(answered: AnsweredExhibit, trends: readonly Trends[]): GridExhibit {
  const { exhibit, report, summary } = answered
  const make = new CellMaker(answered)
  const slots = slotsOf(answered)
  const columnHeadings = headingsOf(answered, make, slots)
  const all = new RowBuilder(answered, make, slots, trends).build()
  const rows = exhibit.list === undefined ? all : filterListRows(all, exhibit)
  const { legends, notes } =
    exhibit.list === undefined ? answered.legendsAndMessages() : toldOfList(answered, make, rows)
  const single = exhibit.show.length === 1 ? exhibit.show[0] : undefined
  const label = single === undefined ? '' : (report.measures.get(single)?.label ?? single)
  const corners = exhibit.rows.map((key) => headingText([key], report.labels))
  return {
    ...answered.head,
    kind: exhibit.kind === 'heatmap' || exhibit.kind === 'list' ? exhibit.kind : 'table',
    note: exhibit.note ?? (summary.columns.keys.length > 0 && label !== '' ? label : listNote(exhibit, all, rows)),
    corner: headingText(exhibit.rows, report.labels),
    corners,
    columnHeadings,
    styles: slots.map(({ style }) => style),
    trends: trendColumns(answered, slots),
    rows,
    nest: exhibit.rows.length > 1 ? exhibit.nest : 'indented',
    spacing: exhibit.spacing,
    legends,
    messages: notes,
  }
}

/**
 * The rows of a list: those whose first cell has one of the statuses, with their full names, sorted
 * over all groups.
 */
function filterListRows(rows: readonly Row[], { list, rows: keys, show, sort }: AnsweredExhibit['exhibit']): Row[] {
  const deepest = keys.length
  const statuses = list?.statuses ?? []
  const by = show.indexOf(sort?.measure ?? '')
  const place = (row: Row): number => row.cells[by]?.value ?? Number.NaN
  const drawnRows = rows.flatMap((row) => {
    const [first] = row.cells
    if (row.depth !== deepest || first?.level.row !== 'detail') return []
    if (first.style.status === null || !statuses.includes(first.style.status)) return []
    return [{ ...row, depth: 1, heading: { ...row.heading, text: first.places.join(', ') } }]
  })
  const sign = sort?.falling === true ? -1 : 1
  return drawnRows.sort((a, b) => compareMissingLast(place(a), place(b), sign))
}

/** The legends of a list: of its statuses alone, counted over its rows. */
function toldOfList(
  answered: AnsweredExhibit,
  make: CellMaker,
  rows: readonly Row[],
): ReturnType<AnsweredExhibit['legendsAndMessages']> {
  const { exhibit, summary } = answered
  const { of, statuses = [] } = exhibit.list ?? {}
  const listed = new Set(rows.map((row) => row.heading.keys))
  const shown = new Set<number>()
  summary.rows.depths[exhibit.rows.length].forEach((node, i) => {
    if (listed.has(make.labels.keys(summary.rows, node))) shown.add(i)
  })
  const { legends, notes } = answered.legendsAndMessages(shown)
  const isListed = ({ style: { status } }: LegendEntry): boolean => status === null || statuses.includes(status)
  return {
    notes,
    legends: legends.map((legend) =>
      legend.measure === of ? { ...legend, entries: legend.entries.filter(isListed) } : legend,
    ),
  }
}

function listNote(
  { list, rows }: AnsweredExhibit['exhibit'],
  all: readonly Row[],
  drawnRows: readonly Row[],
): string | null {
  if (list === undefined) return null
  const details = all.filter((row) => row.depth === rows.length && row.heading.level === 'detail')
  return `${drawnRows.length} of ${details.length}`
}

/** Columns of trends: at their written place, or after the cells if columns have keys. */
function trendColumns({ exhibit, report }: AnsweredExhibit, slots: readonly Slot[]): GridExhibit['trends'] {
  const split = exhibit.columns.length > 0
  let at = 0
  return exhibit.slots.flatMap((slot) => {
    if ('measure' in slot) {
      at++
      return []
    }
    const label = slot.label ?? report.measures.get(slot.trend.of)?.label ?? slot.trend.of
    return [{ label, at: split ? slots.length : at }]
  })
}

function slotsOf({ exhibit, summary }: AnsweredExhibit): Slot[] {
  const deepest = exhibit.columns.length
  const nodes = summary.columns.depths[deepest]
  const shown = exhibit.slots.flatMap((slot) =>
    'measure' in slot
      ? [{ measure: slot.measure, label: slot.label, style: { draw: slot.draw, icon: slot.icon } }]
      : [],
  )
  const details = nodes.flatMap((_, node) => shown.map((slot) => ({ depth: deepest, node, ...slot })))
  const totals = shown.map((slot) => ({ depth: 0, node: 0, ...slot }))
  const side = deepest === 0 ? 'none' : exhibit.totals.columns
  return [...(side === 'left' ? totals : []), ...details, ...(side === 'right' ? totals : [])]
}

/**
 * A row of headings for each column key, one of years over periods that need it, and one of
 * measures if there are several.
 */
function headingsOf(answered: AnsweredExhibit, make: CellMaker, slots: readonly Slot[]): ColumnHeading[][] {
  const { exhibit, report, summary } = answered
  const axis = summary.columns
  const deepest = exhibit.columns.length
  const rows: ColumnHeading[][] = []
  const years = yearsOver(axis, make)
  if (years !== undefined) {
    rows.push(
      merged(slots, (slot) => {
        const text = slot.depth === 0 ? '' : years(slot.node)
        return {
          id: `${slot.depth} ${text}`,
          heading: { keys: [], level: slot.depth === 0 ? 'total' : 'subtotal', text },
        }
      }),
    )
  }
  for (let d = 1; d <= deepest; d++) {
    rows.push(
      merged(slots, (slot) => {
        if (slot.depth === 0)
          return { id: 'total', heading: { keys: [], level: 'total', text: d === 1 ? 'Total' : '' } }
        let node = slot.node
        for (let up = deepest; up > d; up--) node = axis.depths[up][node].parent
        const axisNode = axis.depths[d][node]
        const until = years === undefined ? '' : make.labels.until(axis, axisNode)
        const text =
          years === undefined
            ? make.labels.heading(axis, axisNode)
            : `${shortLabel(axis, make, node)}${until === '' ? '' : `, to ${until}`}`
        return {
          id: `${d} ${node}`,
          heading: { keys: make.labels.keys(axis, axisNode), level: d === deepest ? 'detail' : 'subtotal', text },
        }
      }),
    )
  }
  if (deepest === 0 || exhibit.slots.filter((slot) => 'measure' in slot).length > 1) {
    rows.push(
      slots.map((slot) => {
        const text = slot.label ?? report.measures.get(slot.measure)?.label ?? slot.measure
        const keys = make.labels.keys(axis, axis.depths[slot.depth][slot.node])
        return { keys, level: slot.depth === deepest ? 'detail' : 'total', text, ...PLAIN, span: 1, numeric: true }
      }),
    )
  }
  return rows
}

function shortLabel(axis: Axis, make: CellMaker, node: number): string {
  const [code] = axis.depths[1][node].codes
  const { domain } = axis.keys[0]
  if (code < 0) return make.labels.label(axis, axis.depths[1][node])
  return domain.kind === 'time' ? make.labels.periods.short(domain.unit, domain.periods[code]) : domain.words[code]
}

/** The year of each heading, if a single calendar key (other than year) would repeat it. */
function yearsOver(axis: Axis, make: CellMaker): ((node: number) => string) | undefined {
  const [key] = axis.keys
  if (axis.keys.length !== 1 || key.domain.kind !== 'time') return undefined
  const { unit, periods } = key.domain
  if (!isPeriodUnit(unit) || unit === 'year') return undefined
  return (node) => {
    const [code] = axis.depths[1][node].codes
    return code < 0 ? '' : make.labels.periods.year(unit, periods[code])
  }
}

type Untitled = Pick<Heading, 'keys' | 'level' | 'text'>

/** Neighbours with the same id become one heading that spans them. */
function merged(slots: readonly Slot[], of: (slot: Slot) => { id: string; heading: Untitled }): ColumnHeading[] {
  const out: ColumnHeading[] = []
  let last: string | undefined
  for (const slot of slots) {
    const { id, heading } = of(slot)
    const previous = out.at(-1)
    if (id === last && previous !== undefined) previous.span++
    else out.push({ ...heading, ...PLAIN, span: 1, numeric: true })
    last = id
  }
  return out
}

/** Lays out the rows of a table in order: groups, details, totals and the others of a key. */
class RowBuilder {
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

  constructor(answered: AnsweredExhibit, make: CellMaker, slots: readonly Slot[], trends: readonly Trends[]) {
    this.#answered = answered
    this.#make = make
    this.#slots = slots
    this.#trends = trends
    this.#extents = extentsOf(answered, slots)
    this.#order = childOrder(answered)
    this.#deepest = answered.exhibit.rows.length
    this.#headed = answered.levels.headings(this.#deepest) !== undefined
  }

  build(): Row[] {
    const { exhibit, cache: memory } = this.#answered
    const { rows } = exhibit.totals
    const total = (): void =>
      this.#put({ keys: [], level: 'total', text: 'Total', ...PLAIN }, 0, false, this.#cellsAt(0, 0), true)
    if (rows === 'top') total()
    for (const child of this.#order(0, 0)) this.#emit(1, child)
    this.#others(0, 0)
    if (rows === 'bottom') total()
    if (memory !== undefined) memory.rows = this.#rows
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
    const axisNode = summary.rows.depths[deepest][node]
    const keys = this.#make.labels.keys(summary.rows, axisNode)
    const before = this.#headed ? undefined : memory?.rows[this.#rows.length]
    if (before === undefined || before.heading.keys !== keys || before.depth !== deepest) {
      const text = this.#make.labels.heading(summary.rows, axisNode)
      const heading: Heading = { keys, level: 'detail', text, ...this.#make.head(deepest, node) }
      this.#put(heading, deepest, false, this.#cellsAt(deepest, node), true)
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
    const drawnCell = icon === 'alone' && cell.style.icon !== null ? this.#make.hidden(cell) : cell
    const extended = extent === null ? drawnCell : { ...drawnCell, extent }
    memory?.drawn.set(cell, ways.set(way, extended))
    return extended
  }
}

function sameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false
  return a.length === b.length
}

function sameHeading(a: Heading, b: Heading): boolean {
  const same = a.keys === b.keys || (a.keys.length === 0 && b.keys.length === 0)
  return same && a.text === b.text && a.style === b.style && a.flag === b.flag && sameBar(a.bar, b.bar)
}

/** Tables, heatmaps and lists share one layout; they differ in binding. */
export const prepareGrid: Prepare = async (context, exhibit) => {
  const answered = await answerExhibit(context, exhibit)
  const lines = exhibit.slots.flatMap((slot) => ('trend' in slot ? [slot.trend] : []))
  const trends = await answerTrends(context, answered, lines)
  return { answered, build: (current) => buildGrid(current, trends) }
}
