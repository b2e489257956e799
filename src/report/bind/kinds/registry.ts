// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { ExhibitKindKey, ExhibitSpec } from '../../../spec/exhibits.js'
import type { BindKind } from '../exhibit-keys.js'
import { bind as cards } from './cards/bind.js'
import { bind as chart } from './chart/bind.js'
import { bind as heatmap } from './heatmap/bind.js'
import { bind as list } from './list/bind.js'
import { bind as moves } from './moves/bind.js'
import { bind as reading } from './reading/bind.js'
import { bind as records } from './records/bind.js'
import { bind as table } from './table/bind.js'

/** How each kind of exhibit is checked and bound. */
export const BIND: { readonly [K in ExhibitKindKey]: BindKind<NonNullable<ExhibitSpec[K]>> } = {
  table,
  heatmap,
  chart,
  cards,
  records,
  list,
  moves,
  reading,
}
