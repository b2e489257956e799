import type { TableSpec } from '../../../../spec/exhibits.js'
import type { BindKind } from '../../exhibit-keys.js'
import { bindTable } from '../bind-table.js'

export const bind: BindKind<TableSpec> = (table, context, diagnostics) =>
  bindTable(table, 'heatmap', context, diagnostics)
