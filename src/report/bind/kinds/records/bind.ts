import { nearest } from '../../../../problem/nearest.js'
import type { RecordsSpec } from '../../../../spec/exhibits.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { asList, type BindKind, eachOf, sortsOf } from '../../exhibit-keys.js'

/** The default number of records. */
const DEFAULT_RECORDS = 200

export const bind: BindKind<RecordsSpec> = (records, context, diagnostics) => {
  const show = asList<string>(records.show)
  eachOf<string>(records.show, diagnostics.at('show'), (name, at) => {
    if (context.measures.has(name) || context.columns.find(name) !== undefined) return
    const candidates = [...context.columns.all(), ...context.measures.keys()]
    at.report('unknown-name', { name, nearest: nearest(name, candidates), known: candidates })
  })
  const { sort } = sortsOf(records.sort, { rows: [], show }, context, diagnostics.at('sort'))
  return {
    ...DEFAULT_PARTS,
    rows: ['record'],
    show,
    sort,
    records: { first: records.first ?? DEFAULT_RECORDS, one: records.oneAtATime ?? false },
  }
}
