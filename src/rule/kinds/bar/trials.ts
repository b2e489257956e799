import type { Trials } from '../../model.js'
import type { BarFit, BarPlan } from './run.js'

export const trials: Trials<BarPlan, BarFit> = {
  boundaries(_, fit, judged, cell) {
    const g = judged.groups[cell]
    return [
      { value: fit.from[g], what: 'left end' },
      { value: fit.base[g], what: 'base' },
      { value: fit.to[g], what: 'right end' },
    ].filter(({ value }) => !Number.isNaN(value))
  },
}
