import { type Cell, cellsOf, type Exhibit, type RecordCell, type Strip, type StripPart } from '../../page/page.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { paintedColumns } from '../../report/layout/slots.js'
import type { AnsweredExhibit, DecidedReport, PaintedColumn } from '../../report/model/answered.js'
import { comparesByKeys } from '../../report/transfer/compares-by-keys.js'
import { type CellStyle, CHANNELS, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Painted } from '../../style/painting.js'
import type { Changes } from './model.js'

/**
 * Counts before and after, and the cells whose status or style is another. Both are the same view:
 * the same filters, period and order.
 */
export async function changesOf(before: DecidedReport, after: DecidedReport): Promise<Changes> {
  const counts = changedCounts(before.page.strip, after.page.strip)
  return {
    counts,
    ...(comparesByKeys(after) ? (await import('./changes-by-keys.js')).byKeys(before, after) : inPlace(before, after)),
  }
}

type Compared = Omit<Changes, 'counts'>

/** Places in an exhibit. */
interface ChangedPlaces {
  moved: number[]
  restyled: number[]
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
    const places =
      'rows' in was && 'rows' in is
        ? changedInRows(was, is, before.exhibits[i], after.exhibits[i])
        : changedCells(was, is)
    cells.push({ exhibit: is.name, ...places })
  }
  return { moved, restyled, cells }
}

type Grid = Extract<Exhibit, { rows: unknown }>

/** A row that has not changed is the same object; cells of long tables are not made for this. */
function changedInRows(was: Grid, is: Grid, before: AnsweredExhibit, after: AnsweredExhibit): ChangedPlaces {
  const places: ChangedPlaces = { moved: [], restyled: [] }
  const width = is.styles.length
  let [old, now]: [PaintedColumn[], PaintedColumn[]] = [[], []]
  for (const [r, row] of is.rows.entries()) {
    const oldRow = was.rows[r]
    if (row === oldRow) continue
    if (row.place !== undefined && oldRow.place === row.place) {
      if (now.length === 0) [old, now] = [paintedColumns(before), paintedColumns(after)]
      for (let c = 0; c < width; c++) addPainted(places, r * width + c, old[c], now[c], row.place)
      continue
    }
    const { cells } = oldRow
    for (const [c, cell] of row.cells.entries()) if (cell !== null) addChange(places, r * width + c, cells[c], cell)
  }
  return places
}

function addPainted(
  places: ChangedPlaces,
  place: number,
  { painted: was }: PaintedColumn,
  { painted: is, width, node }: PaintedColumn,
  row: number,
): void {
  const at = row * width + node
  const [a, b] = [was?.styles[was.ids[at]] ?? PLAIN_STYLE, is?.styles[is.ids[at]] ?? PLAIN_STYLE]
  if (a.status !== b.status) places.moved.push(place)
  else if (!looksAlike(a, b) || (was !== undefined && is !== undefined && !barsAlike(was, is, at)))
    places.restyled.push(place)
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

/** Whether styles of one status look alike; bars are compared by their ends. */
function looksAlike(a: CellStyle, b: CellStyle): boolean {
  return a === b || CHANNELS.every((channel) => channel === 'bar' || a[channel] === b[channel])
}

function changedCounts(before: Strip | null, after: Strip | null): Changes['counts'] {
  const idOf = ({ kind, status }: StripPart): string => `${kind} ${status}`
  const was = new Map(before?.parts.map((part) => [idOf(part), part.count]))
  return (after?.parts ?? [])
    .map((part) => ({ label: part.label, before: was.get(idOf(part)) ?? 0, after: part.count }))
    .filter((count) => count.before !== count.after)
}
