import type { Mounted, ShownCell } from 'acuarela/live'
import type { Workbench, WorkbenchState } from 'acuarela/workbench'
import type { Pointed } from './pointed.js'

type Path = Pointed['path']
type Comparison = Awaited<ReturnType<Workbench['compared']>>

/** The name of a cell for sets, whatever the order of its keys. */
function cellKey(exhibit: string, measure: string, keys: readonly (readonly [string, string | null])[]): string {
  return JSON.stringify([exhibit, measure, [...keys].sort()])
}

/** Outlines the cells that differ from the saved report; null: none. */
export function outlineCells(page: Mounted, comparison: Comparison | null): void {
  const changed = new Set(
    [...(comparison?.cells ?? []), ...(comparison?.restyled ?? [])].map(({ exhibit, measure, keys }) =>
      cellKey(exhibit, measure, Object.entries(keys)),
    ),
  )
  const differs = ({ exhibit, cell }: ShownCell): boolean => {
    const keys = [...cell.row, ...cell.column].map(({ name, value }) => [name, value] as const)
    return changed.has(cellKey(exhibit, cell.measure, keys))
  }
  page.mark('differs-from-saved', changed.size === 0 ? null : differs)
}

/** Marks what a part of the report paints or shows: the one that is pointed at. */
export function markPart(
  element: HTMLElement,
  page: Mounted,
  { draft, rules }: WorkbenchState,
  path: Path | null,
): void {
  const [section, part] = path ?? []
  const rule = section === 'rules' ? rules[Number(part)]?.rule : undefined
  const holds: Record<string, (cell: ShownCell['cell']) => boolean> = {
    rules: ({ style }) => rule !== undefined && Object.values(style.paintedBy).includes(rule),
    measures: ({ measure }) => measure === part,
    statuses: ({ style }) => style.status === part,
  }
  const own = section === undefined ? undefined : holds[section]
  page.mark('pointed-at', own === undefined ? null : ({ cell }) => own(cell))
  const exhibits: unknown = section === 'exhibits' ? draft.spec.exhibits : undefined
  const exhibit = Array.isArray(exhibits) ? page.page().exhibits[Number(part)]?.name : undefined
  for (const shown of element.shadowRoot?.querySelectorAll('.exhibits section[aria-labelledby]') ?? []) {
    const isPointed =
      exhibit !== undefined && shown.getAttribute('aria-labelledby') === `x-${encodeURIComponent(exhibit)}`
    shown.classList.toggle('pointed-at', isPointed)
  }
}
