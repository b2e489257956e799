import { PLAIN_LOOK } from '../look/look.js'
import type { Cell, ColumnHeading, GridExhibit, Heading, Row } from '../page/page.js'
import type { Axis } from '../summary/axis.js'
import { isPeriodUnit } from '../time/period.js'
import type { Answered } from './answer.js'
import { type CellMaker, createCellMaker, headingText, NO_KEY, restNode } from './cells.js'
import { childOrder } from './order.js'

/** How a heading looks that no rule can reach. */
const PLAIN = { look: PLAIN_LOOK, bar: null, flag: null, statusText: '' } as const

/** One column of cells: a header of the column axis, or its total, and a measure. */
interface Slot {
  depth: number
  node: number
  measure: string
}

/** Lays out a table or a heatmap: headings, rows in reading order, cells. */
export function buildGrid(answered: Answered): GridExhibit {
  const { exhibit, report, summary } = answered
  const make = createCellMaker(answered)
  const slots = slotsOf(answered)
  const columnHeadings = headingsOf(answered, make, slots)
  const rows = rowsOf(answered, make, slots)
  const { legends, notes } = answered.told()
  const single = exhibit.show.length === 1 ? exhibit.show[0] : undefined
  const label = single === undefined ? '' : (report.measures.get(single)?.label ?? single)
  return {
    ...answered.head,
    kind: exhibit.kind === 'heatmap' ? 'heatmap' : 'table',
    note: exhibit.note ?? (summary.columns.keys.length > 0 && label !== '' ? label : null),
    corner: headingText(exhibit.rows, report.labels),
    columnHeadings,
    rows,
    legends,
    notes,
  }
}

function slotsOf({ exhibit, summary }: Answered): Slot[] {
  const deepest = exhibit.columns.length
  const nodes = summary.columns.depths[deepest]
  const details = nodes.flatMap((_, node) => exhibit.show.map((measure) => ({ depth: deepest, node, measure })))
  const totals = exhibit.show.map((measure) => ({ depth: 0, node: 0, measure }))
  const side = deepest === 0 ? 'none' : exhibit.totals.columns
  return [...(side === 'left' ? totals : []), ...details, ...(side === 'right' ? totals : [])]
}

/** A heading row a column key, a row of years over periods that need one, and a row of measures where there are several. */
function headingsOf(answered: Answered, make: CellMaker, slots: readonly Slot[]): ColumnHeading[][] {
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
        const own = axis.depths[d][node]
        const text = years === undefined ? make.label(axis, own) : shortLabel(axis, make, node)
        return {
          id: `${d} ${node}`,
          heading: { keys: make.keys(axis, own), level: d === deepest ? 'detail' : 'subtotal', text },
        }
      }),
    )
  }
  if (deepest === 0 || exhibit.show.length > 1) {
    rows.push(
      slots.map((slot) => {
        const text = report.measures.get(slot.measure)?.label ?? slot.measure
        const keys = make.keys(axis, axis.depths[slot.depth][slot.node])
        return { keys, level: slot.depth === deepest ? 'detail' : 'total', text, ...PLAIN, span: 1, numeric: true }
      }),
    )
  }
  return rows
}

function shortLabel(axis: Axis, make: CellMaker, node: number): string {
  const [code] = axis.depths[1][node].codes
  const { domain } = axis.keys[0]
  if (code < 0) return NO_KEY
  return domain.kind === 'time' ? make.periods.short(domain.unit, domain.periods[code]) : domain.words[code]
}

/** The year of each header, where a single calendar key (but the year itself) would have to repeat it. */
function yearsOver(axis: Axis, make: CellMaker): ((node: number) => string) | undefined {
  const [key] = axis.keys
  if (axis.keys.length !== 1 || key.domain.kind !== 'time') return undefined
  const { unit, periods } = key.domain
  if (!isPeriodUnit(unit) || unit === 'year') return undefined
  return (node) => {
    const [code] = axis.depths[1][node].codes
    return code < 0 ? '' : make.periods.year(unit, periods[code])
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

function rowsOf(answered: Answered, make: CellMaker, slots: readonly Slot[]): Row[] {
  const { exhibit, summary } = answered
  const { totals } = exhibit
  const axis = summary.rows
  const deepest = exhibit.rows.length
  const cellsAt = (depth: number, node: number): (Cell | null)[] =>
    slots.map((slot) => make.cell(summary.levels[depth][slot.depth], node, slot.node, slot.measure))
  const empty = (): null[] => slots.map(() => null)
  const rows: Row[] = []
  const total = (): Row => {
    // Named after what is summed where that is one thing: `All regions`.
    const text = 'Total'
    return { heading: { keys: [], level: 'total', text, ...PLAIN }, depth: 0, group: false, cells: cellsAt(0, 0) }
  }
  const order = childOrder(answered)
  /** What is left out under a header, as one row. */
  const others = (depth: number, node: number): void => {
    const found = summary.rests.find(({ rest }) => rest.depth === depth + 1)
    const place = found?.rest.parents.indexOf(node) ?? -1
    if (found === undefined || place < 0) return
    const own = restNode(axis, found.rest, place)
    rows.push({
      heading: { keys: make.keys(axis, own), level: 'subtotal', text: make.label(axis, own), ...PLAIN },
      depth: depth + 1,
      group: false,
      cells: slots.map((slot) => make.cell(found.levels[slot.depth], place, slot.node, slot.measure)),
    })
  }
  const emit = (depth: number, node: number): void => {
    const own = axis.depths[depth][node]
    const keys = make.keys(axis, own)
    const text = make.label(axis, own)
    if (depth === deepest) {
      rows.push({
        heading: { keys, level: 'detail', text, ...make.head(depth, node) },
        depth,
        group: false,
        cells: cellsAt(depth, node),
      })
      return
    }
    const above = totals.subtotals && totals.rows !== 'bottom'
    rows.push({
      heading: { keys, level: 'subtotal', text, ...make.head(depth, node) },
      depth,
      group: true,
      cells: above ? cellsAt(depth, node) : empty(),
    })
    for (const child of order(depth, node)) emit(depth + 1, child)
    others(depth, node)
    if (totals.subtotals && totals.rows === 'bottom')
      rows.push({
        heading: { keys, level: 'subtotal', text: `${text}, total`, ...PLAIN },
        depth,
        group: false,
        cells: cellsAt(depth, node),
      })
  }
  if (totals.rows === 'top') rows.push(total())
  for (const child of order(0, 0)) emit(1, child)
  others(0, 0)
  if (totals.rows === 'bottom') rows.push(total())
  return rows
}
