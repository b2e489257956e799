import type { CellMap, ShownCell } from './elements.js'

/**
 * Classes that some cells have for a while: those that the last move changed, those that a rule
 * reaches.
 */
export interface Highlights {
  /** Gives a class to the cells that it holds for, and takes it from all others. */
  set(name: string, holds: ((own: ShownCell) => boolean) | undefined): void
  /** Gives their marks to rows that came in sight. */
  drawn(rows: readonly Element[]): void
  /** Takes up the elements of the cells as they are by now. */
  show(cells: CellMap): void
}

export function createHighlights(root: ParentNode): Highlights {
  const marks = new Map<string, (own: ShownCell) => boolean>()
  let cells: CellMap | undefined
  return {
    set(name, holds) {
      if (holds === undefined) {
        marks.delete(name)
        for (const element of [...root.querySelectorAll(`.${name}`)]) element.classList.remove(name)
        return
      }
      marks.set(name, holds)
      for (const [element, own] of cells?.all() ?? []) element.classList.toggle(name, holds(own))
    },
    drawn(rows) {
      if (marks.size === 0) return
      for (const row of rows)
        for (const element of row.children) {
          const own = cells?.of(element)
          if (own !== undefined) for (const [name, holds] of marks) element.classList.toggle(name, holds(own))
        }
    },
    show(own) {
      cells = own
    },
  }
}
