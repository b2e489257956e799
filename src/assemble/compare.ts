import type { Look } from '../look/look.js'
import { lookOf } from '../look/painting.js'
import { statusLabel } from '../look/style.js'
import type { DecidedReport } from './answer.js'
import type { Answered } from './answer-exhibit.js'
import { createCellMaker } from './cells.js'
import { isReading } from './parts.js'
import { placesOf } from './places.js'
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

/** A cell whose status is another one than before, or that is there only once. */
export interface CellChange {
  exhibit: string
  measure: string
  name: string
  keys: Record<string, string | null>
  text: string
  /** Labels; null for none. */
  before: string | null
  after: string | null
}

export interface Comparison {
  counts: CountChange[]
  cells: CellChange[]
  /** Cells that keep their status, or have none, and look otherwise: another step of a colour, a longer bar. */
  restyled: { exhibit: string; measure: string; count: number }[]
}

/** What changes from one decided report to another: counts of statuses, and each detail cell whose status changes. */
export function compareReports(before: DecidedReport, after: DecidedReport): Comparison {
  const counts = new Map<string, CountChange>()
  const count = (decided: DecidedReport, side: 'before' | 'after'): void => {
    for (const own of tallyReport(decided).statuses) {
      const { exhibit, measure, status, label } = own
      const key = JSON.stringify([exhibit, measure, status])
      const known = counts.get(key) ?? { exhibit: exhibit ?? '', measure, status, label, before: 0, after: 0 }
      counts.set(key, { ...known, [side]: own.count })
    }
  }
  count(before, 'before')
  count(after, 'after')
  const [old, now] = [cellsOf(before), cellsOf(after)]
  const cells: CellChange[] = []
  const restyled = new Map<string, Comparison['restyled'][number]>()
  for (const key of new Set([...old.keys(), ...now.keys()])) {
    const [was, is] = [old.get(key), now.get(key)]
    const shown = is ?? was
    if (shown === undefined) continue
    const { exhibit, measure, name, keys, text } = shown
    if ((was?.status ?? null) !== (is?.status ?? null)) {
      cells.push({ exhibit, measure, name, keys, text, before: was?.status ?? null, after: is?.status ?? null })
    } else if (was !== undefined && is !== undefined && was.style !== is.style) {
      const place = JSON.stringify([exhibit, measure])
      const known = restyled.get(place) ?? { exhibit, measure, count: 0 }
      restyled.set(place, { ...known, count: known.count + 1 })
    }
  }
  return { counts: [...counts.values()], cells, restyled: [...restyled.values()] }
}

interface Shown {
  exhibit: string
  measure: string
  name: string
  keys: Record<string, string | null>
  text: string
  status: string | null
  style: string
}

function cellsOf(decided: DecidedReport): Map<string, Shown> {
  const found = new Map<string, Shown>()
  // Who is told of twice has changed once.
  const shown = decided.exhibits.filter(({ exhibit }) => !isReading(exhibit))
  for (const answered of shown.length > 0 ? shown : decided.exhibits)
    for (const [key, shown] of shownOf(answered)) found.set(key, shown)
  return found
}

function shownOf(answered: Answered): [string, Shown][] {
  const { exhibit, report } = answered
  const make = createCellMaker(answered)
  return placesOf(answered).flatMap(({ painted, cell, keys, name }): [string, Shown][] => {
    const { cells, result } = painted
    if (cells.level !== 'details') return []
    return exhibit.show.map((measure) => {
      const look = lookOf(result.painting, measure, cell)
      const column = cells.table.columns.get(measure)
      const text = column === undefined ? '' : make.text(column, cell)
      const own = keysOf(keys)
      const status = look.status === null ? null : statusLabel(report.statuses, look.status)
      const key = JSON.stringify([exhibit.name, measure, own])
      return [key, { exhibit: exhibit.name, measure, name, keys: own, text, status, style: styleText(look) }]
    })
  })
}

function styleText(look: Look): string {
  const { fill, ink, weight, icon, flag, picture, hide } = look
  return JSON.stringify([fill, ink, weight, icon, flag, picture, hide])
}
