import type { CellMap, ShownCell } from './elements.js'

/** Temporary classes of cells: those of the last change, those of a hovered rule. */
export interface Highlights {
  /** Sets a class on the cells for which `holds` is true, and removes it from all others. */
  set(name: string, holds: ((cell: ShownCell) => boolean) | undefined): void
  /** Sets the classes of rows that were scrolled into view. */
  drawn(rows: readonly Element[]): void
  /** Uses the elements of a new update. */
  show(cells: CellMap): void
}

export function createHighlights(root: ParentNode): Highlights {
  const marks = new Map<string, (cell: ShownCell) => boolean>()
  let cells: CellMap | undefined
  return {
    set(name, holds) {
      if (holds === undefined) {
        marks.delete(name)
        for (const element of [...root.querySelectorAll(`.${name}`)]) element.classList.remove(name)
        return
      }
      marks.set(name, holds)
      for (const [element, cell] of cells?.all() ?? []) element.classList.toggle(name, holds(cell))
    },
    drawn(rows) {
      if (marks.size === 0) return
      for (const row of rows)
        for (const element of row.children) {
          const cell = cells?.of(element)
          if (cell !== undefined) for (const [name, holds] of marks) element.classList.toggle(name, holds(cell))
        }
    },
    show(next) {
      cells = next
    },
  }
}
