import type { CellValue } from './cell.js'

interface Merge {
  /** The first row after it. */
  bottom: number
  left: number
  /** The first column after it. */
  right: number
  cell: CellValue
}

/** Merged cells that reach into the rows to come. */
export class Merges {
  #list: Merge[] = []

  /** Keeps a cell that covers others. */
  add(row: number, column: number, cell: CellValue, { width, height }: { width: number; height: number }): void {
    if (width > 1 || height > 1)
      this.#list.push({ bottom: row + height, left: column, right: column + width, cell: { ...cell } })
  }

  /** Calls `visit` for each part of so many covered cells with the cell that covers it. */
  each(
    row: number,
    column: number,
    times: number,
    visit: (from: number, times: number, cell: CellValue) => void,
  ): void {
    for (const { bottom, left, right, cell } of this.#list) {
      const [from, to] = [Math.max(left, column), Math.min(right, column + times)]
      if (row < bottom && from < to) visit(from, to - from, cell)
    }
  }

  /** Forgets those that end before a row. */
  forget(row: number): void {
    if (this.#list.length > 0) this.#list = this.#list.filter(({ bottom }) => row < bottom)
  }

  clear(): void {
    this.#list = []
  }
}
