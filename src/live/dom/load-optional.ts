import type { Exhibit } from '../../page/page.js'
import { MIN_SCROLL_ROWS } from '../../view/html/cells/cell.js'
import { MIN_VIRTUAL_ROWS, NO_FEATURES, type OptionalFeatures } from './optional.js'

/**
 * Loads the optional features that the exhibits need. A page without the code of one works without
 * it.
 */
export async function loadFeatures(
  extras: OptionalFeatures,
  exhibits: readonly Exhibit[],
  root: ParentNode,
  drawn: (rows: readonly HTMLTableRowElement[]) => void,
): Promise<void> {
  const longest = Math.max(0, ...exhibits.map((exhibit) => ('rows' in exhibit ? exhibit.rows.length : 0)))
  if (extras.finder === NO_FEATURES.finder && longest > MIN_SCROLL_ROWS) {
    const loaded = await import('./find.js').catch(() => undefined)
    if (loaded !== undefined) extras.finder = loaded.createTextFinder(root, () => extras.windows)
  }
  if (extras.windows === NO_FEATURES.windows && longest > MIN_VIRTUAL_ROWS) {
    const loaded = await import('./virtual-rows.js').catch(() => undefined)
    if (loaded !== undefined)
      extras.windows = loaded.createVirtualTables(root, (rows) => {
        drawn(rows)
        extras.finder.drawn(rows)
      })
  }
  if (
    extras.stepper === NO_FEATURES.stepper &&
    exhibits.some((exhibit) => exhibit.kind === 'records' && exhibit.oneAtATime)
  ) {
    const loaded = await import('./record-pager.js').catch(() => undefined)
    if (loaded !== undefined) extras.stepper = loaded.createRecordPager(root)
  }
}
