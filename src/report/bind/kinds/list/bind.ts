import { nearest } from '../../../../problem/nearest.js'
import type { KeySpec, ListSpec } from '../../../../spec/exhibits.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import {
  asList,
  type BindKind,
  checkKeys,
  checkMeasure,
  checkMeasures,
  eachOf,
  keepsOf,
  ordersOf,
  sortsOf,
} from '../../exhibit-keys.js'

export const bind: BindKind<ListSpec> = (list, context, diagnostics) => {
  const rows = checkKeys(list.by, context, diagnostics.at('by'))
  checkMeasure(list.of, context, diagnostics.at('of'))
  const more = list.show === undefined ? [] : checkMeasures(list.show, context, diagnostics.at('show'))
  const show = [...new Set([list.of, ...more])]
  const candidates = Object.keys(context.vocabulary.statuses)
  eachOf<string>(list.status, diagnostics.at('status'), (name, at) => {
    if (!candidates.includes(name))
      at.report('unknown-status', { name, nearest: nearest(name, candidates), known: candidates })
  })
  const { sort, turned } = sortsOf(list.sort, { rows, show }, context, diagnostics.at('sort'))
  const byDefault = { measure: list.of, falling: context.measures.get(list.of)?.better !== 'higher' }
  return {
    ...DEFAULT_PARTS,
    rows,
    show,
    sort: sort ?? byDefault,
    byDefault,
    turned,
    topN: keepsOf(list.by),
    orders: ordersOf(asList<KeySpec>(list.by)),
    slots: show.map((measure) => ({ measure, label: undefined, draw: 'number', icon: 'before' })),
    list: { statuses: asList<string>(list.status), of: list.of },
  }
}
