import { type NumberPrinter, numberPrinter } from '../../format/format.js'
import { type PeriodPrinter, periodPrinter } from '../../format/period.js'
import type { Cell, Heading, Keys, LevelName, RecordCell } from '../../page/page.js'
import { formatFor } from '../../rule/explain/print.js'
import { type Look, PLAIN_LOOK } from '../../style/cell-style.js'
import { flagText } from '../../style/flag.js'
import { type Bar, barOf, extentOf, lookOf } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import type { Axis, AxisNode } from '../../summary/cells/axis.js'
import type { Level } from '../../summary/cells/summarise.js'
import type { Rest } from '../../summary/cells/top-n.js'
import type { TableColumn } from '../../table/table.js'
import { periodText } from '../../time/period.js'
import { headerLook } from '../answer/paint-levels.js'
import { NO_KEY, textAt, valueAt } from '../answer/value.js'
import type { Answered } from '../model/answered.js'

/** Makes the cells and headings of one exhibit; formatters are made once. */
export interface CellMaker {
  cell(level: Level, row: number, column: number, measure: string): Cell
  /** The cells of one column, by their row: for many of them, and for what is decided again. */
  column(level: Level, column: number, measure: string): (row: number) => Cell
  /** Any column of one record. */
  record(level: Level, row: number, name: string): RecordCell
  /** The same cell with its number hidden. */
  hidden(cell: Cell): Cell
  /** The look of a row heading, with its words. */
  head(depth: number, node: number): Pick<Heading, 'look' | 'bar' | 'flag' | 'statusText'>
  keys(axis: Axis, node: AxisNode): Keys
  /** The innermost key of a header, as readers write it. */
  label(axis: Axis, node: AxisNode): string
  /** All keys of a header as readers write them, outermost first. */
  names(axis: Axis, node: AxisNode): readonly string[]
  printer(measure: string): NumberPrinter
  /** A value as readers have it, by the format of its column's measure. */
  text(column: TableColumn, i: number): string
  periods: PeriodPrinter
}

export function createCellMaker(answered: Answered): CellMaker {
  const { report, exhibit, summary } = answered
  const periods = periodPrinter(report.locale, report.starts)
  const { memory } = answered
  const printers = memory?.printers ?? new Map<string, NumberPrinter>()
  const printer = (name: string): NumberPrinter => {
    let found = printers.get(name)
    if (found === undefined) {
      const measure = report.measures.get(name)
      const format = formatFor(measure?.format, measure?.unit ?? { is: 'none' })
      // Without digits of its own a column takes as many as some value needs, so that its points stand under each other.
      found = numberPrinter(
        format.digits === undefined && !format.compact
          ? { ...format, digits: digitsOf(detailsOf(answered, name), format.kind === 'percent' ? 100 : 1) }
          : format,
        report.locale,
      )
      printers.set(name, found)
    }
    return found
  }
  const known = memory?.keys ?? new Map<AxisNode, Keys>()
  const keys = (axis: Axis, node: AxisNode): Keys => {
    let found = known.get(node)
    if (found === undefined) {
      found = node.codes.map((code, k) => ({
        name: axis.keys[k].name,
        value: code === REST ? restLabel(answered, node) : keyValue(axis, k, code),
      }))
      known.set(node, found)
    }
    return found
  }
  const label = (axis: Axis, node: AxisNode): string => {
    const k = node.codes.length - 1
    const code = node.codes[k]
    const { domain } = axis.keys[k]
    if (code === REST) return restLabel(answered, node)
    if (code < 0) return NO_KEY
    if (domain.kind === 'text') return domain.words[code]
    // Below its own year a period need not repeat it.
    const nested =
      k > 0 && axis.keys.slice(0, k).some((key) => key.domain.kind === 'time' && key.domain.unit === 'year')
    return nested ? periods.short(domain.unit, domain.periods[code]) : periods.long(domain.unit, domain.periods[code])
  }
  // An exhibit's own `hide` holds where no rule sets one; looks stay shared, so that views write few classes.
  const hidden = memory?.hidden ?? new Map<Look, Look>()
  const shown = (look: Look, hide = exhibit.hide): Look => {
    if (!hide || look.hide !== null) return look
    const known = hidden.get(look) ?? { ...look, hide: 'value' as const }
    hidden.set(look, known)
    return known
  }
  const named = new Map<AxisNode, readonly string[]>()
  const levelsNamed = new Map<Level, Cell['level']>()
  const levelNames = (level: Level): Cell['level'] => {
    let found = levelsNamed.get(level)
    if (found === undefined) {
      const { rowDepth, columnDepth, rest } = level
      found = {
        row: rest === undefined ? levelName(rowDepth, exhibit.rows.length) : 'subtotal',
        column: levelName(columnDepth, exhibit.columns.length),
      }
      levelsNamed.set(level, found)
    }
    return found
  }
  const levelName = (depth: number, deepest: number): LevelName =>
    depth === deepest ? 'detail' : depth === 0 ? 'total' : 'subtotal'
  return {
    keys,
    label,
    names: namesOf,
    printer,
    text: (column, i) => textAt(column, i, periods, printer(column.name)),
    periods,
    hidden: (cell) => ({ ...cell, look: shown(cell.look, true) }),
    head(depth, node) {
      const { look, bar } = headerLook(answered.levels, exhibit, depth, node) ?? PLAIN_HEAD
      const level = summary.levels[depth][0]
      const statusText = look.status === null ? '' : statusLabel(report.statuses, look.status)
      const text = () => label(summary.rows, summary.rows.depths[depth][node])
      return { look, bar, statusText, flag: look.flag === null ? null : flag(look, level, node, text()) }
    },
    cell(level, row, column, measure) {
      const made = make(level, row, column, measure)
      return isOfNumber(made) ? made : { ...made, value: null }
    },
    record: (level, row, name) => make(level, row, 0, name),
    column(level, column, measure) {
      const cell = (row: number): Cell => this.cell(level, row, column, measure)
      const list = memory?.cells(level, measure)
      const painted = answered.levels.of(level).result.painting.get(measure)
      const width = summary.columns.depths[level.columnDepth].length
      if (list === undefined || exhibit.hide) return cell
      // Most cells look as they did: that is seen from their number alone.
      const { ids, looks, bars } = painted ?? { ids: undefined, looks: undefined, bars: undefined }
      return (row) => {
        const at = row * width + column
        const before = list[at]
        if (before === undefined || !isOfNumber(before)) return cell(row)
        const look = ids === undefined ? PLAIN_LOOK : looks[ids[at]]
        if (before.look !== look || look.flag !== null) return cell(row)
        const { bar } = before
        const lies = bars !== undefined && look.bar !== null
        if (bar === null ? lies : !lies || !sameExtent(bar, extentOf(bars.from[at], bars.to[at]))) return cell(row)
        return before
      }
    },
  }
  function make(level: Level, row: number, column: number, measure: string): RecordCell {
    const { rowDepth, columnDepth } = level
    const rowNode =
      level.rest === undefined ? summary.rows.depths[rowDepth][row] : restNode(summary.rows, level.rest, row)
    const columnNode = summary.columns.depths[columnDepth][column]
    const at = row * summary.columns.depths[columnDepth].length + column
    const own = level.table.columns.get(measure)
    const { painting } = answered.levels.of(level).result
    const given = lookOf(painting, measure, at)
    const look = shown(given, exhibit.hide && (isDetail(level, exhibit) || isSeen(given)))
    const bar = barOf(painting, measure, at)
    const list = memory?.cells(level, measure)
    const before = list?.[at]
    // A flag may name a parameter, so that it reads otherwise though the look is the same.
    if (before !== undefined && before.look === look && look.flag === null && sameBar(before.bar, bar)) return before
    const text = own === undefined ? '' : textAt(own, at, periods, printer(measure))
    const statusText = look.status === null ? '' : statusLabel(report.statuses, look.status)
    const rowNames = namesOf(summary.rows, rowNode)
    const columnNames = namesOf(summary.columns, columnNode)
    const what = report.measures.get(measure)?.label ?? report.labels.get(measure) ?? measure
    const made: RecordCell = {
      row: keys(summary.rows, rowNode),
      column: keys(summary.columns, columnNode),
      level: levelNames(level),
      measure,
      measureLabel: what,
      value: own === undefined ? null : valueAt(own, at),
      text,
      look,
      bar,
      extent: null,
      flag: look.flag === null ? null : flag(look, level, at, text),
      statusText,
      places: columnNames.length === 0 ? rowNames : [...rowNames, ...columnNames],
      name: [...rowNames, ...columnNames].join(', ') || 'Total',
    }
    if (list !== undefined) list[at] = made
    return made
  }
  /** A flag may name the value, the status, measures and parameters. */
  function flag(look: Look, level: Level, at: number, value: string): string | null {
    return flagText(look.flag ?? '', (name) => {
      if (name === 'value') return value
      if (name === 'status') return look.status === null ? '' : statusLabel(report.statuses, look.status)
      const parameter = report.parameters.get(name)
      if (parameter !== undefined) return numberPrinter(parameter.format, report.locale)(parameter.value)
      const column = level.table.columns.get(name)?.column
      return column?.kind === 'number' ? printer(name)(column.values[at]) : ''
    })
  }
  function namesOf(axis: Axis, node: AxisNode): readonly string[] {
    const known = named.get(node)
    if (known !== undefined) return known
    const names = node.codes.map((code, k) => {
      if (code === REST) return restLabel(answered, node)
      if (code < 0) return NO_KEY
      const { domain } = axis.keys[k]
      return domain.kind === 'text' ? domain.words[code] : periods.long(domain.unit, domain.periods[code])
    })
    named.set(node, names)
    return names
  }
}

function isOfNumber(cell: RecordCell): cell is Cell {
  return typeof cell.value !== 'string'
}

export function sameBar(a: Bar | null, b: Bar | null): boolean {
  if (a === null || b === null) return a === b
  return sameExtent(a, b) && a.wash === b.wash && a.finish === b.finish
}

type Extent = Pick<Bar, 'from' | 'to' | 'beyond'>

function sameExtent(a: Extent, b: Extent): boolean {
  return a.from === b.from && a.to === b.to && a.beyond === b.beyond
}

function isDetail({ rowDepth, columnDepth, rest }: Level, { rows, columns }: Answered['exhibit']): boolean {
  return rest === undefined && rowDepth === rows.length && columnDepth === columns.length
}

/** Whether something but the number tells of the value: a total that nothing paints would be blank without it. */
function isSeen({ fill, icon, bar, picture }: Look): boolean {
  return fill !== null || icon !== null || bar !== null || picture !== null
}

/** The values of the deepest cells of a measure. */
function detailsOf({ exhibit, summary }: Answered, name: string): Float64Array {
  const column = summary.levels[exhibit.rows.length][exhibit.columns.length].table.columns.get(name)?.column
  return column?.kind === 'number' ? column.values : new Float64Array(0)
}

/** The most digits behind the point, 0 to 2, that any of the values is shown with. */
function digitsOf(values: Float64Array, times: number): number {
  let most = 0
  for (const value of values) {
    if (Math.abs(value) === Number.POSITIVE_INFINITY) continue
    const cents = Math.round(value * times * 100)
    if (cents % 10 !== 0) return 2
    if (cents % 100 !== 0) most = 1
  }
  return most
}

const PLAIN_HEAD = { look: PLAIN_LOOK, bar: null }

/** Stands for the others of a key. */
export const REST = -3

/** The header of the others under one of their parents. */
export function restNode(rows: Axis, rest: Rest, place: number): AxisNode {
  const parent = rest.parents[place]
  return { codes: [...rows.depths[rest.depth - 1][parent].codes, REST], parent }
}

function restLabel({ summary }: Answered, { codes }: AxisNode): string {
  return summary.rests.find(({ rest }) => rest.depth === codes.length)?.rest.label ?? ''
}

function keyValue(axis: Axis, k: number, code: number): string | null {
  if (code < 0) return null
  const { domain } = axis.keys[k]
  return domain.kind === 'text' ? domain.words[code] : periodText(domain.unit, domain.periods[code], domain.starts)
}

/** Keys of time that are two words. */
const KEY_TEXTS: ReadonlyMap<string, string> = new Map([['monthOfYear', 'month']])

/** `region, shop` becomes `Region, shop`; what has a label of its own is called by that. */
export function headingText(keys: readonly string[], labels: ReadonlyMap<string, string>): string {
  const text = keys.map((key) => labels.get(key) ?? KEY_TEXTS.get(key) ?? key).join(', ')
  return text.charAt(0).toUpperCase() + text.slice(1)
}
