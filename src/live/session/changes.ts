import { type Cell, cellsOf, type Exhibit, type Page, type RecordCell } from '../../page/page.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { compareReports } from '../../report/inspect/compare.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import { countStatuses } from '../../rule/explain/tally.js'
import type { CellStyle } from '../../style/cell-style.js'
import { statusLabel } from '../../style/status.js'
import type { Changes } from './model.js'

/** Counts before and after, and the cells whose status is another. */
export function changesOf(before: DecidedReport, after: DecidedReport): Changes {
  const same = after.exhibits.every(({ summary }, i) => summary === before.exhibits[i].summary) && !readsAlone(after)
  return { counts: changedCounts(before, after), ...(same ? inPlace(before, after) : byKeys(before, after)) }
}

type Compared = Omit<Changes, 'counts'>

/**
 * Whether a list or reading contains cells that no other exhibit shows: then changes are found by
 * keys.
 */
function readsAlone({ exhibits }: DecidedReport): boolean {
  const shown = statusCounts(exhibits).map((i) => exhibits[i].exhibit)
  return exhibits.some(
    ({ exhibit: bound }) =>
      !shown.some(({ show, rows, columns }) => {
        const names = [...show, ...rows, ...columns]
        return [...bound.show, ...bound.rows].every((name) => names.includes(name))
      }),
  )
}

/**
 * The same cells, decided again, are at the same places, and an unchanged cell is the same object:
 * nothing has to be looked up.
 */
function inPlace(before: DecidedReport, after: DecidedReport): Compared {
  const cells: { exhibit: string; places: number[] }[] = []
  let [moved, restyled] = [0, 0]
  for (const i of statusCounts(after.exhibits)) {
    const [was, is] = [before.page.exhibits[i], after.page.exhibits[i]]
    if (was === is) continue
    const counts = countChanges(before.exhibits[i], after.exhibits[i])
    moved += counts.moved
    restyled += counts.restyled
    cells.push({ exhibit: is.name, places: 'rows' in was && 'rows' in is ? movedInRows(was, is) : movedCells(was, is) })
  }
  return { moved, restyled, cells }
}

type Grid = Extract<Exhibit, { rows: unknown }>

/** Places in `cellsOf`; the cells of a row that has not changed are the same list. */
function movedInRows(was: Grid, is: Grid): number[] {
  const places: number[] = []
  let place = 0
  for (const [r, { cells }] of is.rows.entries()) {
    const old = was.rows[r].cells
    for (const [c, cell] of cells.entries()) {
      if (cell === null) continue
      if (cells !== old && isMoved(old[c], cell)) places.push(place)
      place++
    }
  }
  return places
}

function movedCells(was: Exhibit, is: Exhibit): number[] {
  const old = cellsOf(was)
  return cellsOf(is).flatMap((cell, place) => (isMoved(old[place], cell) ? [place] : []))
}

function isMoved(was: Cell | RecordCell | null | undefined, is: Cell | RecordCell): boolean {
  return was !== is && was?.style.status !== is.style.status
}

/** Counts detail cells, each once, however often they are shown. */
function countChanges(before: AnsweredExhibit, after: AnsweredExhibit): { moved: number; restyled: number } {
  let [moved, restyled] = [0, 0]
  for (const { level, cells, result } of after.levels.decided()) {
    if (cells.level !== 'detail' || cells.part === 'headings') continue
    const old = before.levels.of(level).result.painting
    for (const measure of new Set(after.exhibit.show)) {
      const [was, is] = [old.get(measure), result.painting.get(measure)]
      if (was === undefined || is === undefined) continue
      for (let i = 0; i < is.ids.length; i++) {
        const [a, b] = [was.styles[was.ids[i]], is.styles[is.ids[i]]]
        if (a === b) continue
        if (a.status !== b.status) moved++
        else if (!looksAlike(a, b)) restyled++
      }
    }
  }
  return { moved, restyled }
}

/** The exhibits that are counted: a cell that a list or reading repeats has changed once. */
function statusCounts(exhibits: readonly AnsweredExhibit[]): number[] {
  const all = exhibits.map((_, i) => i)
  const shown = all.filter((i) => !isReading(exhibits[i].exhibit))
  return shown.length > 0 ? shown : all
}

function looksAlike(a: CellStyle, b: CellStyle): boolean {
  return (
    a === b ||
    (a.fill === b.fill &&
      a.ink === b.ink &&
      a.weight === b.weight &&
      a.icon === b.icon &&
      a.flag === b.flag &&
      a.picture === b.picture &&
      a.hide === b.hide)
  )
}

/** If the numbers changed, too, cells are matched by their keys. */
function byKeys(before: DecidedReport, after: DecidedReport): Compared {
  const { cells, restyled } = compareReports(before, after)
  const changed = new Set(cells.map(({ exhibit, measure, keys }) => keyedCell(exhibit, measure, Object.entries(keys))))
  return { moved: cells.length, restyled: restyled.length, cells: placesOf(changed, after.page) }
}

function placesOf(changed: ReadonlySet<string>, { exhibits }: Page): Changes['cells'] {
  if (changed.size === 0) return []
  return exhibits.map((exhibit) => ({
    exhibit: exhibit.name,
    places: cellsOf(exhibit).flatMap(({ measure, row, column }, place) => {
      const keys = [...row, ...column].map(({ name, value }): [string, string | null] => [name, value])
      return changed.has(keyedCell(exhibit.name, measure, keys)) ? [place] : []
    }),
  }))
}

function keyedCell(exhibit: string, measure: string, keys: readonly [string, string | null][]): string {
  return JSON.stringify([exhibit, measure, keys.map(([name, value]) => [name, value ?? ''])])
}

/** Lists and readings repeat cells of other exhibits and are left out. */
function changedCounts(before: DecidedReport, after: DecidedReport): Changes['counts'] {
  const [was, is] = [statusSums(before), statusSums(after)]
  const { statuses } = after.report
  return Object.keys(statuses)
    .filter((status) => was.get(status) !== is.get(status))
    .map((status) => ({
      label: statusLabel(statuses, status),
      before: was.get(status) ?? 0,
      after: is.get(status) ?? 0,
    }))
}

function statusSums({ exhibits }: DecidedReport): Map<string, number> {
  const sums = new Map<string, number>()
  for (const { exhibit, levels } of exhibits) {
    if (isReading(exhibit)) continue
    for (const { cells, result } of levels.decided()) {
      if (cells.level !== 'detail' || cells.part === 'headings') continue
      for (const measure of result.painting.keys())
        for (const [status, count] of countStatuses(result.painting, measure) ?? [])
          sums.set(status, (sums.get(status) ?? 0) + count)
    }
  }
  return sums
}
