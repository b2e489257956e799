import type { Trials } from '../../model.js'
import type { RankFit, RankPlan } from './run.js'

export const trials: Trials<RankPlan, RankFit> = {
  boundaries(plan, { limits }, judged, cell) {
    const g = judged.population[cell]
    if (g < 0) return []
    return plan.parts.flatMap((part, p) => {
      const value = limits[p][g]
      return value === undefined || Number.isNaN(value)
        ? []
        : [{ value, what: `last of the ${p === 0 ? plan.end : 'next'} ${part.size.text}` }]
    })
  },
}
