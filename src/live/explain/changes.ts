import { type Cell, cellsOf, type RecordCell } from '../../page/page.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { compareReports } from '../../report/inspect/compare.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import { countStatuses } from '../../rule/explain/tally.js'
import type { CellStyle } from '../../style/cell-style.js'
import { statusLabel } from '../../style/status.js'
import { escapeText } from '../../view/markup.js'
import { keysOfCell, type ShownCell } from '../dom/elements.js'

/** What a move changed. */
export interface Changes {
  /** Counts before and after, as markup. */
  text: string
  isMoved(own: ShownCell): boolean
}

/** Counts before and after, and the cells whose status is another. */
export function changesOf(before: DecidedReport, after: DecidedReport): Changes {
  const same = after.exhibits.every(({ summary }, i) => summary === before.exhibits[i].summary) && !readsAlone(after)
  const { moved, restyled, isMoved } = same ? inPlace(before, after) : byKeys(before, after)
  const plural = (n: number, text: string): string => `${n} ${n === 1 ? 'cell' : 'cells'} ${text}`
  const parts = [
    ...countsOf(before, after),
    plural(moved, 'changed status'),
    ...(restyled > 0 ? [`${restyled} changed colour`] : []),
  ]
  return { text: parts.join(' · '), isMoved }
}

interface Compared {
  moved: number
  restyled: number
  isMoved(own: ShownCell): boolean
}

/**
 * Whether a list or words tell of cells that no other exhibit shows: what changed there is found by
 * its keys.
 */
function readsAlone({ exhibits }: DecidedReport): boolean {
  const shown = statusCounts(exhibits).map((i) => exhibits[i].exhibit)
  return exhibits.some(
    ({ exhibit: own }) =>
      !shown.some(({ show, rows, columns }) => {
        const known = [...show, ...rows, ...columns]
        return [...own.show, ...own.rows].every((name) => known.includes(name))
      }),
  )
}

/**
 * The same cells decided twice stand where they stood, and what looks as before is the same object:
 * nothing has to be looked up.
 */
function inPlace(before: DecidedReport, after: DecidedReport): Compared {
  const found = new Set<object>()
  let [moved, restyled] = [0, 0]
  const compare = (was: Cell | RecordCell | null, is: Cell | RecordCell | null): void => {
    if (is !== null && was !== is && was?.style.status !== is.style.status) found.add(is)
  }
  for (const i of statusCounts(after.exhibits)) {
    const [was, is] = [before.page.exhibits[i], after.page.exhibits[i]]
    if (was === is) continue
    const counts = countChanges(before.exhibits[i], after.exhibits[i])
    moved += counts.moved
    restyled += counts.restyled
    if ('rows' in was && 'rows' in is)
      is.rows.forEach((row, r) => {
        const old = was.rows[r].cells
        if (row.cells !== old) for (const [c, cell] of row.cells.entries()) compare(old[c], cell)
      })
    else {
      const old = cellsOf(was)
      for (const [k, cell] of cellsOf(is).entries()) compare(old[k], cell)
    }
  }
  return { moved, restyled, isMoved: ({ cell }) => found.has(cell) }
}

/** Over the details, each once, however often they are shown. */
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

/** Who is told of twice, by a list or by words, has changed once. */
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

/** Where numbers are others, too, cells are found again by their keys. */
function byKeys(before: DecidedReport, after: DecidedReport): Compared {
  const { cells, restyled } = compareReports(before, after)
  const place = (exhibit: string, measure: string, keys: Readonly<Record<string, string | null>>): string =>
    JSON.stringify([exhibit, measure, Object.entries(keys).map(([k, v]) => [k, v ?? ''])])
  const found = new Set(cells.map(({ exhibit, measure, keys }) => place(exhibit, measure, keys)))
  return {
    moved: cells.length,
    restyled: restyled.length,
    isMoved: ({ exhibit, cell }) => found.has(place(exhibit, cell.measure, keysOfCell(cell))),
  }
}

/** Lists and words tell of cells that other exhibits show, and are left out. */
function countsOf(before: DecidedReport, after: DecidedReport): string[] {
  const [was, is] = [before, after].map(({ exhibits }) => {
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
  })
  const { statuses } = after.report
  return Object.keys(statuses)
    .filter((status) => was.get(status) !== is.get(status))
    .map(
      (status) =>
        `${escapeText(statusLabel(statuses, status))} ${was.get(status) ?? 0} → <b>${is.get(status) ?? 0}</b>`,
    )
}
