import type { BoundAggregate } from '../expression/bound.js'
import type { ReportFile } from '../file/report-file.js'
import type { RemoteTable } from '../summary/contract.js'
import type { SourceTable } from '../table/source-table.js'
import type { TableColumn } from '../table/table.js'
import type { ColumnView, SourceView } from './model.js'

/** The parts of the range that a small distribution has. */
const PARTS = 24

/** A source with what is to be known of each column. */
function sourceView(name: string, { table }: SourceTable): SourceView {
  return {
    name,
    rows: table.length,
    columns: [...table.columns.values()].map(({ name: column, label, column: values }): ColumnView => {
      if (values.kind === 'text') {
        const counts = new Uint32Array(values.words.length)
        let missing = 0
        for (const code of values.codes)
          if (code < 0) missing++
          else counts[code]++
        const shape = [...counts].sort((a, b) => b - a).slice(0, PARTS)
        return { name: column, label, type: 'text', missing, distinct: values.words.length, range: null, shape }
      }
      if (values.kind === 'condition') {
        const shape = [0, 0]
        let missing = 0
        for (const value of values.values)
          if (value < 0) missing++
          else shape[value]++
        return { name: column, label, type: 'condition', missing, distinct: 2, range: null, shape }
      }
      return numbersView(column, label, values.kind, values.values)
    }),
  }
}

function numbersView(name: string, label: string, type: 'number' | 'date', values: ArrayLike<number>): ColumnView {
  let [low, high, missing] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0]
  for (let i = 0; i < values.length; i++) {
    const value = values[i]
    if (Number.isNaN(value)) missing++
    else {
      if (value < low) low = value
      if (value > high) high = value
    }
  }
  const shape = new Array<number>(PARTS).fill(0)
  const width = (high - low) / PARTS || 1
  for (let i = 0; i < values.length; i++)
    if (!Number.isNaN(values[i])) shape[Math.min(PARTS - 1, Math.floor((values[i] - low) / width))]++
  const isEmpty = low > high
  return {
    name,
    label,
    type,
    missing,
    distinct: null,
    range: isEmpty ? null : [low, high],
    shape: isEmpty ? [] : shape,
  }
}

/** A source on a server with its columns: what is missing and the ranges are asked for at once. */
async function servedView(name: string, source: RemoteTable, date: string | undefined): Promise<SourceView> {
  const { table } = source
  const types = new Map([...table.columns].map(([column, { type }]) => [column, type]))
  const engine = source.connect(new Map(), types, date === undefined ? {} : { date })
  const columns = [...table.columns.values()]
  const part = (statistic: 'count' | 'lowest' | 'highest', { name: column, type }: TableColumn): BoundAggregate => ({
    op: 'aggregate',
    statistic,
    share: 0.5,
    of: { op: 'name', ref: { kind: 'field', name: column }, type },
    key: `${statistic} ${column}`,
    type: { kind: 'number', unit: { is: 'none' } },
  })
  const measured = columns.filter(({ type }) => type.kind === 'number')
  const parts = [
    ...columns.map((column) => part('count', column)),
    ...measured.flatMap((column) => [part('lowest', column), part('highest', column)]),
  ]
  const [{ rows }, answer] = await Promise.all([engine.stats(), engine.ask({ keys: [], parts, fields: [], where: [] })])
  return {
    name,
    rows,
    columns: columns.map((column, i): ColumnView => {
      const { kind } = column.type
      const at = columns.length + 2 * measured.indexOf(column)
      const [low, high] = [answer.parts[at]?.lowest[0], answer.parts[at + 1]?.highest[0]]
      const isRange = kind === 'number' && Number.isFinite(low) && Number.isFinite(high)
      return {
        name: column.name,
        label: column.label,
        type: kind === 'number' || kind === 'date' || kind === 'condition' ? kind : 'text',
        missing: rows - (answer.parts[i]?.count[0] ?? 0),
        distinct: null,
        range: isRange ? [low as number, high as number] : null,
        shape: [],
      }
    }),
  }
}

/** The sources of a report with their columns; a table that stays the same is looked at once. */
export function createViews(): (
  tables: ReadonlyMap<string, SourceTable>,
  file: ReportFile,
) => Promise<readonly SourceView[]> {
  const known = new WeakMap<SourceTable, SourceView>()
  return async (tables, file) => {
    const views: SourceView[] = []
    for (const [name, table] of tables) {
      const view =
        known.get(table) ??
        ('connect' in table
          ? await servedView(name, table as RemoteTable, file.spec?.sources[name]?.date)
          : sourceView(name, table))
      known.set(table, view)
      views.push(view)
    }
    return views
  }
}
