import { type NumberPrinter, numberPrinter } from '../../format/format.js'
import { type PeriodPrinter, periodPrinter } from '../../format/period.js'
import type { Keys } from '../../page/page.js'
import { formatFor } from '../../rule/explain/print.js'
import { type Axis, type AxisNode, childNode } from '../../summary/cells/axis.js'
import type { Others } from '../../summary/cells/top-n.js'
import type { TableColumn } from '../../table/table.js'
import { periodText } from '../../time/period.js'
import { missingKey, unfinishedSince, valueText } from '../answer/value.js'
import type { AnsweredExhibit } from '../model/answered.js'

/** Prints the keys and values of one exhibit for readers; formatters are cached. */
export interface LabelMaker {
  keys(axis: Axis, node: AxisNode): Keys
  /** The innermost key of a heading, for readers. */
  label(axis: Axis, node: AxisNode): string
  /**
   * The day up to which the period of a heading's innermost key has data, if it ends after the
   * date of the report; else empty.
   */
  until(axis: Axis, node: AxisNode): string
  /** The label of a heading, and that its period is unfinished: `Apr 2025, to 17`. */
  heading(axis: Axis, node: AxisNode): string
  /** All keys of a heading for readers, outermost first. */
  names(axis: Axis, node: AxisNode): readonly string[]
  printer(measure: string): NumberPrinter
  /** A value for readers, in the format of its measure. */
  text(column: TableColumn, i: number): string
  periods: PeriodPrinter
}

export function createLabels(answered: AnsweredExhibit): LabelMaker {
  const { report, cache: memory } = answered
  const periods = periodPrinter(report.locale, report.calendar)
  const keys = memory?.keys ?? new Map<AxisNode, Keys>()
  const names = new Map<AxisNode, readonly string[]>()
  const printer = createPrinters(answered)
  const until = (axis: Axis, node: AxisNode): string => {
    const k = node.depth - 1
    const day = unfinishedSince(axis.keys[k]?.domain, node.code(k), answered.asOf)
    return day === undefined ? '' : periods.until(day.unit, day.day)
  }
  const labels: LabelMaker = {
    until,
    heading(axis, node) {
      const day = until(axis, node)
      return day === '' ? labels.label(axis, node) : `${labels.label(axis, node)}, to ${day}`
    },
    printer,
    periods,
    text: (column, i) => valueText(column, i, periods, printer(column.name)),
    keys(axis, node) {
      let nodeKeys = keys.get(node)
      if (nodeKeys === undefined) {
        nodeKeys = node.codes.map((code, k) => ({
          name: axis.keys[k].name,
          value: code === OTHERS_CODE ? restLabel(answered, node) : keyValue(axis, k, code),
        }))
        keys.set(node, nodeKeys)
      }
      return nodeKeys
    },
    label(axis, node) {
      const k = node.depth - 1
      const code = node.code(k)
      const { domain } = axis.keys[k]
      if (code === OTHERS_CODE) return restLabel(answered, node)
      if (code < 0) return missingKey(axis.keys[k].name, report.labels)
      if (domain.kind === 'text') return domain.words[code]
      // Under a heading of its year a period is printed without it.
      const nested =
        k > 0 && axis.keys.slice(0, k).some((key) => key.domain.kind === 'time' && key.domain.unit === 'year')
      return nested ? periods.short(domain.unit, domain.periods[code]) : periods.long(domain.unit, domain.periods[code])
    },
    names(axis, node) {
      const name = names.get(node)
      if (name !== undefined) return name
      const texts = node.codes.map((code, k) => {
        if (code === OTHERS_CODE) return restLabel(answered, node)
        if (code < 0) return missingKey(axis.keys[k].name, report.labels)
        const { domain } = axis.keys[k]
        return domain.kind === 'text' ? domain.words[code] : periods.long(domain.unit, domain.periods[code])
      })
      names.set(node, texts)
      return texts
    },
  }
  return labels
}

/**
 * A printer for each measure. A format without digits gets as many as some value needs, so that
 * decimal points align.
 */
function createPrinters(answered: AnsweredExhibit): (measure: string) => NumberPrinter {
  const { report, cache: memory } = answered
  const printers = memory?.printers ?? new Map<string, NumberPrinter>()
  return (name) => {
    let printer = printers.get(name)
    if (printer === undefined) {
      const measure = report.measures.get(name)
      const format = formatFor(measure?.format, measure?.unit ?? { is: 'none' })
      printer = numberPrinter(
        format.digits === undefined && !format.compact
          ? { ...format, digits: digitsOf(detailsOf(answered, name), format.kind === 'percent' ? 100 : 1) }
          : format,
        report.locale,
      )
      printers.set(name, printer)
    }
    return printer
  }
}

/** The values of the deepest cells of a measure. */
function detailsOf({ exhibit, summary }: AnsweredExhibit, name: string): Float64Array {
  const column = summary.levels[exhibit.rows.length][exhibit.columns.length].table.columns.get(name)?.column
  return column?.kind === 'number' ? column.values : new Float64Array(0)
}

/** The most digits after the point, 0 to 2, of the values. */
function digitsOf(values: Float64Array, times: number): number {
  let most = 0
  for (let i = 0; i < values.length; i++) {
    const value = values[i]
    if (Math.abs(value) === Number.POSITIVE_INFINITY) continue
    const cents = Math.round(value * times * 100)
    if (cents % 10 !== 0) return 2
    if (cents % 100 !== 0) most = 1
  }
  return most
}

/** The code of the others of a key. */
export const OTHERS_CODE = -3

/** The heading of the others under one of their parents. */
export function restNode(rows: Axis, rest: Others, place: number): AxisNode {
  const parent = rest.parents[place]
  return childNode(rows.depths[rest.depth - 1][parent], OTHERS_CODE, parent)
}

function restLabel({ summary }: AnsweredExhibit, { depth }: AxisNode): string {
  return summary.rests.find(({ rest }) => rest.depth === depth)?.rest.label ?? ''
}

function keyValue(axis: Axis, k: number, code: number): string | null {
  if (code < 0) return null
  const { domain } = axis.keys[k]
  return domain.kind === 'text' ? domain.words[code] : periodText(domain.unit, domain.periods[code], domain.calendar)
}

/** Keys of time with a label of two words. */
const KEY_TEXTS: ReadonlyMap<string, string> = new Map([['monthOfYear', 'month']])

/** `region, shop` becomes `Region, shop`; a label takes the place of a name. */
export function headingText(keys: readonly string[], labels: ReadonlyMap<string, string>): string {
  const text = keys.map((key) => labels.get(key) ?? KEY_TEXTS.get(key) ?? key).join(', ')
  return text.charAt(0).toUpperCase() + text.slice(1)
}
