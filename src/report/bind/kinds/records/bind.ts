import type { Diagnostics } from '../../../../problem/diagnostics.js'
import { nearest } from '../../../../problem/nearest.js'
import type { RecordsSpec } from '../../../../spec/exhibits.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { asList, type BindKind, eachOf, sortsOf } from '../../exhibit-keys.js'

/** The default number of records. */
const DEFAULT_RECORDS = 200

export const bind: BindKind<RecordsSpec> = (records, context, diagnostics) => {
  const show = asList<string>(records.show)
  const checkColumn = (name: string, known: readonly string[], at: Diagnostics): void => {
    if (context.columns.find(name) !== undefined) return
    at.report('unknown-name', { name, nearest: nearest(name, known), known })
  }
  eachOf<string>(records.show, diagnostics.at('show'), (name, at) => {
    if (!context.measures.has(name)) checkColumn(name, [...context.columns.all(), ...context.measures.keys()], at)
  })
  const { group } = records
  if (group !== undefined) checkColumn(group, context.columns.all(), diagnostics.at('group'))
  if (group !== undefined && records.oneAtATime === true) diagnostics.at('group').report('group-one', {})
  const sorts: { measure: string; falling: boolean }[] = []
  eachOf<string>(records.sort, diagnostics.at('sort'), (text, at) => {
    const { sort } = sortsOf(text, { rows: [], show }, context, at)
    if (sort !== undefined) sorts.push(sort)
  })
  return {
    ...DEFAULT_PARTS,
    rows: ['record'],
    show,
    sort: sorts[0],
    records: {
      first: records.first ?? DEFAULT_RECORDS,
      ofGroup: group !== undefined && records.first !== undefined,
      one: records.oneAtATime ?? false,
      sorts,
      group,
    },
  }
}
