import type { CellStyle } from '../../style/cell-style.js'
import { type Bar, barOf, styleOf } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import { valueAt } from '../answer/value.js'
import { isReading } from '../bind/exhibit-defaults.js'
import { CellMaker } from '../layout/cells.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'
import { placesOf, placeTitle } from './cells.js'
import { tallyReport } from './tally.js'
import { keysOf } from './why-place.js'

/** A status counted before and after. */
export interface CountChange {
  exhibit: string
  measure: string
  status: string
  label: string
  before: number
  after: number
}

/** A cell whose status changed, or that exists only before or after. */
export interface CellChange {
  exhibit: string
  measure: string
  name: string
  keys: Record<string, string | null>
  text: string
  /** Labels of statuses; null for none. */
  before: string | null
  after: string | null
}

export interface Comparison {
  counts: CountChange[]
  cells: CellChange[]
  /**
   * Cells that keep their status, or have none, and changed their style: another step of a colour,
   * a longer bar.
   */
  restyled: RestyledCell[]
}

/** A cell with the same status and another style, before and after. */
export interface RestyledCell extends Omit<CellChange, 'before' | 'after'> {
  was: CellStyle
  is: CellStyle
  bars: { was: Bar | null; is: Bar | null }
}

/**
 * The differences of two decided reports: counts of statuses, and each detail cell whose status
 * changed.
 */
export function compareReports(before: DecidedReport, after: DecidedReport): Comparison {
  const counts = new Map<string, CountChange>()
  const count = (decided: DecidedReport, side: 'before' | 'after'): void => {
    for (const statusTally of tallyReport(decided).statuses) {
      const { exhibit, measure, status, label } = statusTally
      const key = JSON.stringify([exhibit, measure, status])
      const count = counts.get(key) ?? { exhibit: exhibit ?? '', measure, status, label, before: 0, after: 0 }
      counts.set(key, { ...count, [side]: statusTally.count })
    }
  }
  count(before, 'before')
  count(after, 'after')
  // What was not decided again is the same object.
  const same = new Set(after.exhibits.filter((answered) => before.exhibits.includes(answered)))
  const [old, now] = [shownCells(before, same), shownCells(after, same)]
  const cells: CellChange[] = []
  const restyled: RestyledCell[] = []
  for (const key of new Set([...old.keys(), ...now.keys()])) {
    const [was, is] = [old.get(key), now.get(key)]
    const shown = is ?? was
    if (shown === undefined) continue
    const { exhibit, measure, name, keys, text } = shown
    if ((was?.status ?? null) !== (is?.status ?? null)) {
      cells.push({ exhibit, measure, name, keys, text, before: was?.status ?? null, after: is?.status ?? null })
    } else if (was !== undefined && is !== undefined && was.style !== is.style) {
      const bars = { was: was.bar, is: is.bar }
      restyled.push({ exhibit, measure, name, keys, text, was: was.look, is: is.look, bars })
    }
  }
  const readings = new Set(after.exhibits.flatMap(({ exhibit }) => (isReading(exhibit) ? [exhibit.name] : [])))
  return { counts: [...counts.values()], cells: eachOnce(cells, readings), restyled: eachOnce(restyled, readings) }
}

/**
 * Lists each change once. Lists and readings repeat cells of other exhibits; their changes are
 * listed only if no other exhibit has the cell.
 */
function eachOnce<T extends Pick<CellChange, 'exhibit' | 'measure' | 'keys'>>(
  changes: readonly T[],
  readings: ReadonlySet<string>,
): T[] {
  const shown = changes.filter(({ exhibit }) => !readings.has(exhibit))
  // Other exhibits may have more keys (a shop under its region), so cells are matched by the keys
  // of the list alone.
  const changed = new Map<string, Set<string>>()
  const idOf = ({ measure, keys }: T, by: readonly string[]): string =>
    JSON.stringify([measure, ...by.map((name) => keys[name])])
  const alone = changes.filter((lone) => {
    if (!readings.has(lone.exhibit)) return false
    const names = Object.keys(lone.keys).sort()
    const ids = changed.get(names.join()) ?? new Set(shown.map((other) => idOf(other, names)))
    changed.set(names.join(), ids)
    const id = idOf(lone, names)
    return ids.has(id) ? false : ids.add(id)
  })
  return [...shown, ...alone]
}

/** A detail cell with what is compared of it. */
export interface ComparedCell {
  exhibit: string
  measure: string
  name: string
  keys: Record<string, string | null>
  row: Record<string, string | null>
  column: Record<string, string | null>
  value: number | string | null
  text: string
  /** The label of its status; null for none. */
  status: string | null
  /** All channels as one text. */
  style: string
  look: CellStyle
  bar: Bar | null
}

function shownCells(decided: DecidedReport, skipped: ReadonlySet<AnsweredExhibit>): Map<string, ComparedCell> {
  const byAddress = new Map<string, ComparedCell>()
  for (const answered of decided.exhibits)
    if (!skipped.has(answered)) for (const cell of comparedCells(answered)) byAddress.set(addressOf(cell), cell)
  return byAddress
}

/** Equal texts for the same cell of two reports. */
export function addressOf({ exhibit, measure, keys }: Pick<ComparedCell, 'exhibit' | 'measure' | 'keys'>): string {
  return JSON.stringify([exhibit, measure, keys])
}

/** The detail cells of an exhibit. */
export function comparedCells(answered: AnsweredExhibit): ComparedCell[] {
  const { exhibit, report, summary } = answered
  const make = new CellMaker(answered)
  return placesOf(answered).flatMap((place): ComparedCell[] => {
    const { painted, cell } = place
    const { cells, result } = painted
    if (cells.level !== 'detail') return []
    const row = keysOf(make.labels.keys(summary.rows, place.row))
    const column = keysOf(make.labels.keys(summary.columns, place.column))
    return exhibit.show.map((measure) => {
      const look = styleOf(result.painting, measure, cell)
      const values = cells.table.columns.get(measure)
      const bar = barOf(result.painting, measure, cell)
      return {
        exhibit: exhibit.name,
        measure,
        name: placeTitle(answered, place, measure),
        keys: keysOf(place.keys),
        row,
        column,
        value: values === undefined ? null : valueAt(values, cell),
        text: values === undefined ? '' : make.labels.text(values, cell),
        status: look.status === null ? null : statusLabel(report.statuses, look.status),
        style: styleText(look, bar),
        look,
        bar,
      }
    })
  })
}

/** All channels of a style as one text; equal for styles that look alike. */
export function styleText(look: CellStyle, bar: Bar | null): string {
  const { fill, ink, weight, icon, iconAfter, flag, picture, hide } = look
  return JSON.stringify([fill, ink, weight, icon, iconAfter, bar, flag, picture, hide])
}
