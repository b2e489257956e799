import type { Diagnostics } from '../../../problem/diagnostics.js'
import type { ColumnSpec, KeySpec, TableSpec } from '../../../spec/exhibits.js'
import type { BoundParts, BoundSlot } from '../../model/bound.js'
import { DEFAULT_PARTS } from '../exhibit-defaults.js'
import {
  asList,
  bindTrend,
  checkKeys,
  checkMeasure,
  type ExhibitContext,
  eachOf,
  keepsOf,
  ordersOf,
  sortsOf,
} from '../exhibit-keys.js'

/** Binds a table; a heatmap has no options for drawing. */
export function bindTable(
  table: TableSpec,
  kind: 'table' | 'heatmap',
  context: ExhibitContext,
  diagnostics: Diagnostics,
): BoundParts {
  const rows = checkKeys(table.rows, context, diagnostics.at('rows'))
  const columns = checkKeys(table.columns, context, diagnostics.at('columns'))
  eachOf<KeySpec>(table.columns, diagnostics.at('columns'), (key, at, i) => {
    if (rows.includes(columns[i])) at.report('key-twice', { key: columns[i] })
    if (typeof key !== 'string' && key.first !== undefined) at.at('first').report('first-columns', {})
  })
  if (kind === 'heatmap')
    for (const key of ['nest', 'spacing'] as const)
      if (table[key] !== undefined) diagnostics.at(key).report('heatmap-draws', { key })
  const slots = bindSlots(table.show, kind, context, diagnostics.at('show'))
  const show = [...new Set(slots.flatMap((slot) => ('measure' in slot ? [slot.measure] : [])))]
  const written = typeof table.totals === 'string' ? { rows: table.totals } : (table.totals ?? {})
  const totalRows = written.rows ?? 'none'
  const keeps = keepsOf(table.rows)
  const { sort, turned } = sortsOf(table.sort, { rows, show }, context, diagnostics.at('sort'))
  // Keys with `first` are sorted by it.
  const byDefault = keeps.length > 0 && show[0] !== undefined ? { measure: show[0], falling: true } : undefined
  return {
    ...DEFAULT_PARTS,
    rows,
    columns,
    show,
    totals: {
      rows: totalRows,
      columns: written.columns ?? 'none',
      subtotals: written.subtotals ?? totalRows !== 'none',
    },
    sort: sort ?? byDefault,
    byDefault,
    turned,
    orders: ordersOf([...asList<KeySpec>(table.rows), ...asList<KeySpec>(table.columns)]),
    topN: keeps,
    slots,
    nest: table.nest ?? 'indented',
    spacing: table.spacing ?? 'normal',
  }
}

function bindSlots(
  show: TableSpec['show'],
  kind: 'table' | 'heatmap',
  context: ExhibitContext,
  diagnostics: Diagnostics,
): BoundSlot[] {
  const list = asList<ColumnSpec>(show)
  const first = list
    .map((column) => (typeof column === 'string' ? column : column.show))
    .find((name) => name !== undefined)
  const slots: BoundSlot[] = []
  eachOf<ColumnSpec>(show, diagnostics, (column, at) => {
    if (typeof column === 'string') {
      checkMeasure(column, context, at)
      slots.push({ measure: column, label: undefined, draw: 'number', icon: 'before' })
      return
    }
    const { label } = column
    const keys = (['show', 'trend', 'status'] as const).filter((key) => column[key] !== undefined)
    if (keys.length !== 1) at.report('show-or-trend', { found: keys })
    if (kind === 'heatmap')
      for (const key of ['trend', 'draw', 'icon', 'status'] as const)
        if (column[key] !== undefined) at.at(key).report('heatmap-draws', { key })
    if (column.trend !== undefined) {
      for (const key of ['draw', 'icon'] as const)
        if (column[key] !== undefined) at.at(key).report('trend-draws', { key })
      const trend = bindTrend(column.trend, first, context, at.at('trend'))
      if (trend !== undefined) slots.push({ trend, label })
      return
    }
    const icon = column.icon ?? 'before'
    if (column.status !== undefined) {
      checkMeasure(column.status, context, at.at('status'))
      if (column.draw !== undefined) at.at('draw').report('status-draws', {})
      slots.push({ measure: column.status, label, draw: 'status', icon })
    }
    if (column.show === undefined) return
    checkMeasure(column.show, context, at.at('show'))
    slots.push({ measure: column.show, label, draw: column.draw ?? 'number', icon })
  })
  return slots
}
