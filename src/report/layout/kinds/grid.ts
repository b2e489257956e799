import { compareMissingLast } from '../../../column/rank.js'
import type { ColumnHeading, GridExhibit, Heading, Row } from '../../../page/page.js'
import type { LegendEntry } from '../../../style/legend.js'
import type { Axis } from '../../../summary/cells/axis.js'
import { isPeriodUnit } from '../../../time/period.js'
import { answerExhibit } from '../../answer/exhibit.js'
import type { AnsweredExhibit } from '../../model/answered.js'
import { CellMaker } from '../cells.js'
import { RowBuilder } from '../grid-rows.js'
import { headingText } from '../labels.js'
import { childOrder } from '../row-order.js'
import { PLAIN, type Slot, slotsOf } from '../slots.js'
import type { Trends } from '../trends.js'
import { answerTrends, type Prepare } from './prepare.js'

/** What hides rows; loaded for exhibits that do. */
type Hiding = typeof import('../showing.js')

/** Lays out a table or a heatmap: headings, rows in reading order, cells. */
function buildGrid(answered: AnsweredExhibit, trends: readonly Trends[], hiding?: Hiding): GridExhibit {
  const { exhibit, report, summary } = answered
  const make = new CellMaker(answered)
  const slots = slotsOf(answered)
  const columnHeadings = headingsOf(answered, make, slots)
  const shown = hiding?.shownRows(answered)
  const order = hiding && shown && hiding.shownOrder(answered, shown, childOrder(answered))
  const builder = new RowBuilder(answered, make, slots, trends, order)
  const all = builder.build()
  const survey = exhibit.list === undefined ? builder.survey() : undefined
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
    ...survey,
    legends,
    messages: shown === undefined ? notes : [shown.note.message, ...notes],
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
        const measure = report.measures.get(slot.measure)?.label ?? slot.measure
        const text = slot.label ?? (slot.style.draw === 'status' ? `${measure} status` : measure)
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

/** Tables, heatmaps and lists share one layout; they differ in binding. */
export const prepareGrid: Prepare = async (context, exhibit) => {
  const answered = await answerExhibit(context, exhibit)
  const lines = exhibit.slots.flatMap((slot) => ('trend' in slot ? [slot.trend] : []))
  const trends = await answerTrends(context, answered, lines)
  const hiding = exhibit.showing && (await import('../showing.js'))
  return { answered, build: (current) => buildGrid(current, trends, hiding) }
}
