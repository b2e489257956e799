import { type Cell, cellsOf, type Exhibit, type RecordCell, type Strip, type StripPart } from '../../page/page.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { paintedColumns } from '../../report/layout/slots.js'
import type { AnsweredExhibit, DecidedReport, PaintedColumn } from '../../report/model/answered.js'
import { comparesByKeys } from '../../report/transfer/compares-by-keys.js'
import { type CellStyle, CHANNELS, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Painted } from '../../style/painting.js'
import { comparePairs, countPairs, findPairs, sameEnds } from '../../style/pairs.js'
import type { Changes } from './model.js'

/**
 * Counts before and after, and the cells whose status or style is another. Both are the same view:
 * the same filters, period and order.
 */
export async function changesOf(before: DecidedReport, after: DecidedReport): Promise<Changes> {
  const counts = changedCounts(before.about.strip, after.about.strip)
  if (comparesByKeys(after)) return { counts, ...(await import('./changes-by-keys.js')).byKeys(before, after) }
  const found = inPlace(before, after)
  let cells: Changes['cells'] | undefined
  return {
    counts,
    moved: found.moved,
    restyled: found.restyled,
    // Looked for when they are asked for: counts are shown before.
    get cells() {
      cells ??= found.cells()
      return cells
    },
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
function inPlace(before: DecidedReport, after: DecidedReport): Omit<Compared, 'cells'> & { cells(): Changes['cells'] } {
  const decided = statusCounts(after.exhibits).filter((i) => before.exhibits[i] !== after.exhibits[i])
  let [moved, restyled] = [0, 0]
  for (const i of decided) {
    const counts = countChanges(before.exhibits[i], after.exhibits[i])
    moved += counts.moved
    restyled += counts.restyled
  }
  const cells = (): Changes['cells'] =>
    decided.flatMap((i) => {
      const [was, is] = [before.page.exhibits[i], after.page.exhibits[i]]
      if (was === is) return []
      const places =
        'rows' in was && 'rows' in is
          ? changedInRows(was, is, before.exhibits[i], after.exhibits[i])
          : changedCells(was, is)
      return [{ exhibit: is.name, ...places }]
    })
  return { moved, restyled, cells }
}

type Grid = Extract<Exhibit, { rows: unknown }>

/** What differs between two looks of a cell. */
const MOVED = 1
const RESTYLED = 2

type Compare = (was: CellStyle, is: CellStyle) => number

const compareStyles: Compare = (a, b) => (a.status !== b.status ? MOVED : looksAlike(a, b) ? 0 : RESTYLED)

/** How each cell of a column differs between two paintings: 0 for one that does not. */
function comparer(was: Painted | undefined, is: Painted | undefined): (at: number) => number {
  const [old, now] = [was?.styles ?? [PLAIN_STYLE], is?.styles ?? [PLAIN_STYLE]]
  const pairs = comparePairs(old, now, compareStyles)
  return (at) => {
    const [i, k] = [was === undefined ? 0 : was.ids[at], is === undefined ? 0 : is.ids[at]]
    const change = pairs === undefined ? compareStyles(old[i], now[k]) : pairs.table[i * pairs.width + k]
    if (change !== 0 || was === undefined || is === undefined) return change
    return sameEnds(was.bars, is.bars, at) ? 0 : RESTYLED
  }
}

/** A row that has not changed is the same object; cells of long tables are not made for this. */
function changedInRows(was: Grid, is: Grid, before: AnsweredExhibit, after: AnsweredExhibit): ChangedPlaces {
  const { length } = is.styles
  const found = new Uint8Array(is.rows.length * length)
  // The place of each changed detail in the painted columns, -1 for any other row.
  const details = new Int32Array(is.rows.length).fill(-1)
  let some = false
  for (let r = 0; r < details.length; r++) {
    const oldRow = was.rows[r]
    const row = is.rows[r]
    if (row === oldRow) continue
    if (row.place !== undefined && oldRow.place === row.place) {
      details[r] = row.place
      some = true
    } else
      for (const [c, cell] of row.cells.entries())
        if (cell !== null) found[r * length + c] = changeOf(oldRow.cells[c], cell)
  }
  if (some) {
    const old = paintedColumns(before)
    for (const [c, { painted, width, node }] of paintedColumns(after).entries())
      findChanges(old[c].painted, painted, { details, width, node }, found, c, length)
  }
  return placesOf(found)
}

/** Finds how the details of one column differ; the cells of a row are beside each other. */
function findChanges(
  was: Painted | undefined,
  is: Painted | undefined,
  { details, width, node }: { details: Int32Array } & Pick<PaintedColumn, 'width' | 'node'>,
  found: Uint8Array,
  column: number,
  columns: number,
): void {
  if (was !== undefined && is !== undefined && was.bars === is.bars) {
    const pairs = comparePairs(was.styles, is.styles, compareStyles)
    if (pairs !== undefined) {
      findPairs(was.ids, is.ids, pairs, { details, width, node }, found, column, columns)
      return
    }
  }
  const change = comparer(was, is)
  for (let r = 0; r < details.length; r++)
    if (details[r] >= 0) found[r * columns + column] = change(details[r] * width + node)
}

function placesOf(found: Uint8Array): ChangedPlaces {
  const places: ChangedPlaces = { moved: [], restyled: [] }
  for (let place = 0; place < found.length; place++)
    if (found[place] === MOVED) places.moved.push(place)
    else if (found[place] === RESTYLED) places.restyled.push(place)
  return places
}

function changedCells(was: Exhibit, is: Exhibit): ChangedPlaces {
  const places: ChangedPlaces = { moved: [], restyled: [] }
  const old = cellsOf(was)
  for (const [place, cell] of cellsOf(is).entries()) {
    const change = changeOf(old[place], cell)
    if (change === MOVED) places.moved.push(place)
    else if (change === RESTYLED) places.restyled.push(place)
  }
  return places
}

function changeOf(was: Cell | RecordCell | null | undefined, is: Cell | RecordCell): number {
  if (was === is) return 0
  if (was?.style.status !== is.style.status) return MOVED
  return was != null && !(looksAlike(was.style, is.style) && sameBar(was.bar, is.bar)) ? RESTYLED : 0
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
      const pairs = was.bars === is.bars ? comparePairs(was.styles, is.styles, compareStyles) : undefined
      const counts = new Float64Array(RESTYLED + 1)
      if (pairs !== undefined) countPairs(was.ids, is.ids, pairs, counts)
      else {
        const change = comparer(was, is)
        for (let i = 0; i < is.ids.length; i++) counts[change(i)]++
      }
      moved += counts[MOVED]
      restyled += counts[RESTYLED]
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
