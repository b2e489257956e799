import type { CellStyle } from '../../style/cell-style.js'
import { type Bar, barOf, styleOf } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
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
  const [old, now] = [shownCells(before), shownCells(after)]
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

interface Shown {
  exhibit: string
  measure: string
  name: string
  keys: Record<string, string | null>
  text: string
  status: string | null
  style: string
  look: CellStyle
  bar: Bar | null
}

function shownCells(decided: DecidedReport): Map<string, Shown> {
  const byAddress = new Map<string, Shown>()
  for (const answered of decided.exhibits) for (const [key, shown] of shownOf(answered)) byAddress.set(key, shown)
  return byAddress
}

function shownOf(answered: AnsweredExhibit): [string, Shown][] {
  const { exhibit, report } = answered
  const make = new CellMaker(answered)
  return placesOf(answered).flatMap((place): [string, Shown][] => {
    const { painted, cell, keys } = place
    const { cells, result } = painted
    if (cells.level !== 'detail') return []
    return exhibit.show.map((measure) => {
      const look = styleOf(result.painting, measure, cell)
      const column = cells.table.columns.get(measure)
      const text = column === undefined ? '' : make.labels.text(column, cell)
      const record = keysOf(keys)
      const status = look.status === null ? null : statusLabel(report.statuses, look.status)
      const key = JSON.stringify([exhibit.name, measure, record])
      const bar = barOf(result.painting, measure, cell)
      const style = styleText(look, bar)
      const name = placeTitle(answered, place, measure)
      return [key, { exhibit: exhibit.name, measure, name, keys: record, text, status, style, look, bar }]
    })
  })
}

function styleText(look: CellStyle, bar: Bar | null): string {
  const { fill, ink, weight, icon, flag, picture, hide } = look
  return JSON.stringify([fill, ink, weight, icon, bar, flag, picture, hide])
}
