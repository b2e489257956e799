import type { Page } from '../../page/page.js'
import { eachPlace } from '../../page/places.js'
import { compareReports } from '../../report/inspect/compare.js'
import type { DecidedReport } from '../../report/model/answered.js'
import type { Changes } from './model.js'

/** Changes of cells that are matched by their keys: where numbers change, or rows come and go. */
export function byKeys(before: DecidedReport, after: DecidedReport): Omit<Changes, 'counts'> {
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
  return exhibits.map((exhibit) => {
    const places: number[] = []
    if (changed.size > 0)
      eachPlace(exhibit, (place, { measure, row, column }) => {
        const keys = [...row, ...column].map(({ name, value }): [string, string | null] => [name, value])
        if (changed.has(keyedCell(exhibit.name, measure, keys))) places.push(place)
      })
    return places
  })
}

function keyedCell(exhibit: string, measure: string, keys: readonly [string, string | null][]): string {
  return JSON.stringify([exhibit, measure, keys.map(([name, value]) => [name, value ?? ''])])
}
