import type { Exhibit } from '../../page/page.js'
import { SCROLLS } from '../../view/html/cell.js'
import { type Extras, LONG, NO_EXTRAS } from './optional.js'

/** Loads what the exhibits need beyond what is there. A page that was made without it, since nothing did, goes on without. */
export async function addExtras(
  extras: Extras,
  exhibits: readonly Exhibit[],
  root: ParentNode,
  drawn: (rows: readonly HTMLTableRowElement[]) => void,
): Promise<void> {
  const longest = Math.max(0, ...exhibits.map((own) => ('rows' in own ? own.rows.length : 0)))
  if (extras.finder === NO_EXTRAS.finder && longest > SCROLLS) {
    const loaded = await import('./find.js').catch(() => undefined)
    if (loaded !== undefined) extras.finder = loaded.createFinder(root, () => extras.windows)
  }
  if (extras.windows === NO_EXTRAS.windows && longest > LONG) {
    const loaded = await import('./virtual-rows.js').catch(() => undefined)
    if (loaded !== undefined)
      extras.windows = loaded.createWindows(root, (rows) => {
        drawn(rows)
        extras.finder.drawn(rows)
      })
  }
  if (extras.stepper === NO_EXTRAS.stepper && exhibits.some((own) => own.kind === 'records' && own.one)) {
    const loaded = await import('./record-pager.js').catch(() => undefined)
    if (loaded !== undefined) extras.stepper = loaded.createStepper(root)
  }
}
