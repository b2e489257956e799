import type { Trials } from '../../model.js'
import type { Ladder, LadderFit } from '../ladder.js'
import { isWritten } from '../limit-text.js'

export const trials: Trials<Ladder, LadderFit> = {
  boundaries(plan, _, judged, cell, telling) {
    return plan.bands.flatMap(({ tests }) =>
      tests.flatMap((test) => {
        if (test.kind === 'equals')
          return test.values.flatMap((value) => (typeof value === 'number' ? [{ value, what: 'equal' }] : []))
        if (test.kind !== 'limit') return []
        const vector = judged.run(test.limit.bound)
        if (vector.kind !== 'number') return []
        const value = vector.values[vector.constant ? 0 : cell]
        return Number.isNaN(value)
          ? []
          : [{ value, what: isWritten(test.limit.bound) ? 'limit' : telling.words(test.limit.bound, test.limit.text) }]
      }),
    )
  },

  texts: (plan) =>
    plan.bands.flatMap(({ tests }) =>
      tests.flatMap((test) =>
        test.kind === 'equals' ? test.values.map(String) : test.kind === 'contains' ? [test.text] : [],
      ),
    ),
}
