import { type Cell, type Exhibit, eachCell, type RecordCell } from './page.js'

/**
 * The place of a cell in its exhibit: in a table its row times the number of columns plus its
 * column, else its number in reading order. Cells of long tables are made when they are looked at,
 * so they are named by their places.
 */

/** Calls `visit` on every cell with its place. */
export function eachPlace(exhibit: Exhibit, visit: (place: number, cell: Cell | RecordCell) => void): void {
  if (!('rows' in exhibit)) {
    let place = 0
    eachCell(exhibit, (cell) => visit(place++, cell))
    return
  }
  const width = exhibit.styles.length
  exhibit.rows.forEach(({ cells }, r) => {
    cells.forEach((cell, c) => {
      if (cell !== null) visit(r * width + c, cell)
    })
  })
}

/** The cell at a place; undefined where there is none. */
export function cellAt(exhibit: Exhibit, place: number): Cell | RecordCell | undefined {
  if ('rows' in exhibit) {
    const width = exhibit.styles.length
    return exhibit.rows[Math.floor(place / width)]?.cells[place % width] ?? undefined
  }
  let at = 0
  let wanted: Cell | RecordCell | undefined
  eachCell(exhibit, (cell) => {
    if (at++ === place) wanted = cell
  })
  return wanted
}

/** Whether a list of places, in rising order, has this one. */
export function hasPlace(places: readonly number[], place: number): boolean {
  let [low, high] = [0, places.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (places[middle] < place) low = middle + 1
    else high = middle
  }
  return places[low] === place
}
