import type { Trials } from '../../model.js'
import type { GradientFit, GradientPlan } from './run.js'

export const trials: Trials<GradientPlan, GradientFit> = {
  boundaries(plan, fit, judged, cell) {
    const g = judged.groups[cell]
    const middle = plan.centred ? [{ value: fit.middle[g], what: 'middle' }] : []
    const limits = [{ value: fit.from[g], what: 'low end' }, ...middle, { value: fit.to[g], what: 'high end' }]
    return limits.filter(({ value }) => !Number.isNaN(value))
  },
}
