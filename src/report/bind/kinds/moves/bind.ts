import type { KeySpec, MovesSpec } from '../../../../spec/exhibits.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { asList, type BindKind, checkKeys, checkMeasure, ordersOf } from '../../exhibit-keys.js'

export const bind: BindKind<MovesSpec> = ({ of, by }, context, diagnostics) => {
  const rows = checkKeys(by, context, diagnostics.at('by'))
  checkMeasure(of, context, diagnostics.at('of'))
  return {
    ...DEFAULT_PARTS,
    rows,
    show: [of],
    orders: ordersOf(asList<KeySpec>(by)),
    slots: [{ measure: of, label: undefined, draw: 'number', icon: 'before' }],
  }
}
