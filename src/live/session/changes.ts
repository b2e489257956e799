import {
  type Cell,
  cellsOf,
  type Exhibit,
  type Page,
  type RecordCell,
  type Strip,
  type StripPart,
} from '../../page/page.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { compareReports } from '../../report/inspect/compare.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import type { CellStyle } from '../../style/cell-style.js'
import type { Painted } from '../../style/painting.js'
import type { Changes } from './model.js'

/** Counts before and after, and the cells whose status or style is another. */
export function changesOf(before: DecidedReport, after: DecidedReport): Changes {
  const same = after.exhibits.every(({ summary }, i) => summary === before.exhibits[i].summary) && !readsAlone(after)
  const counts = changedCounts(before.page.strip, after.page.strip)
  return { counts, ...(same ? inPlace(before, after) : byKeys(before, after)) }
}

type Compared = Omit<Changes, 'counts'>

/** Places in `cellsOf` of an exhibit. */
interface ChangedPlaces {
  moved: number[]
  restyled: number[]
}

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
  const cells: ({ exhibit: string } & ChangedPlaces)[] = []
  let [moved, restyled] = [0, 0]
  for (const i of statusCounts(after.exhibits)) {
    const [was, is] = [before.page.exhibits[i], after.page.exhibits[i]]
    if (was === is) continue
    const counts = countChanges(before.exhibits[i], after.exhibits[i])
    moved += counts.moved
    restyled += counts.restyled
    const places = 'rows' in was && 'rows' in is ? changedInRows(was, is) : changedCells(was, is)
    cells.push({ exhibit: is.name, ...places })
  }
  return { moved, restyled, cells }
}

type Grid = Extract<Exhibit, { rows: unknown }>

/** Places in `cellsOf`; the cells of a row that has not changed are the same list. */
function changedInRows(was: Grid, is: Grid): ChangedPlaces {
  const places: ChangedPlaces = { moved: [], restyled: [] }
  let place = 0
  for (const [r, { cells }] of is.rows.entries()) {
    const old = was.rows[r].cells
    for (const [c, cell] of cells.entries()) {
      if (cell === null) continue
      if (cells !== old) addChange(places, place, old[c], cell)
      place++
    }
  }
  return places
}

function changedCells(was: Exhibit, is: Exhibit): ChangedPlaces {
  const places: ChangedPlaces = { moved: [], restyled: [] }
  const old = cellsOf(was)
  for (const [place, cell] of cellsOf(is).entries()) addChange(places, place, old[place], cell)
  return places
}

function addChange(
  places: ChangedPlaces,
  place: number,
  was: Cell | RecordCell | null | undefined,
  is: Cell | RecordCell,
): void {
  if (was === is) return
  if (was?.style.status !== is.style.status) places.moved.push(place)
  else if (was != null && !(looksAlike(was.style, is.style) && sameBar(was.bar, is.bar))) places.restyled.push(place)
}

function sameBar(a: Cell['bar'], b: Cell['bar']): boolean {
  return a === b || (a?.from === b?.from && a?.to === b?.to && a?.color === b?.color)
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
        if (a === b && barsAlike(was, is, i)) continue
        if (a.status !== b.status) moved++
        else if (!looksAlike(a, b) || !barsAlike(was, is, i)) restyled++
      }
    }
  }
  return { moved, restyled }
}

function barsAlike({ bars: was }: Painted, { bars: is }: Painted, i: number): boolean {
  if (was === is) return true
  return Object.is(was?.from[i], is?.from[i]) && Object.is(was?.to[i], is?.to[i])
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
  const [moved, styled] = [cells, restyled].map((list) => placesOf(list, after.page))
  return {
    moved: cells.length,
    restyled: restyled.length,
    cells: after.page.exhibits.map(({ name }, i) => ({ exhibit: name, moved: moved[i], restyled: styled[i] })),
  }
}

/** The places of cells in each exhibit of a page. */
function placesOf(
  cells: readonly { exhibit: string; measure: string; keys: Record<string, string | null> }[],
  { exhibits }: Page,
): number[][] {
  const changed = new Set(cells.map(({ exhibit, measure, keys }) => keyedCell(exhibit, measure, Object.entries(keys))))
  return exhibits.map((exhibit) =>
    changed.size === 0
      ? []
      : cellsOf(exhibit).flatMap(({ measure, row, column }, place) => {
          const keys = [...row, ...column].map(({ name, value }): [string, string | null] => [name, value])
          return changed.has(keyedCell(exhibit.name, measure, keys)) ? [place] : []
        }),
  )
}

function keyedCell(exhibit: string, measure: string, keys: readonly [string, string | null][]): string {
  return JSON.stringify([exhibit, measure, keys.map(([name, value]) => [name, value ?? ''])])
}

function changedCounts(before: Strip | null, after: Strip | null): Changes['counts'] {
  const idOf = ({ kind, status }: StripPart): string => `${kind} ${status}`
  const was = new Map(before?.parts.map((part) => [idOf(part), part.count]))
  return (after?.parts ?? [])
    .map((part) => ({ label: part.label, before: was.get(idOf(part)) ?? 0, after: part.count }))
    .filter((count) => count.before !== count.after)
}
