import type { Column } from '../../column/column.js'
import type { Problem } from '../../problem/problem.js'
import { createTable } from '../../table/table.js'
import type { BoundRule, Cells, RuleResult } from '../model.js'
import { evaluateRule } from './evaluate.js'
import { decideOver } from './run.js'

/**
 * Several measures on one scale: their cells are concatenated, decided together, and split again.
 */
export function runOneScale(rule: BoundRule, cells: Cells, notes: Problem[]): RuleResult {
  const { table } = cells
  const { length } = table
  const times = rule.oneScale.length
  const painted = '(painted)'
  const names = new Set([...rule.measures, ...rule.fields])
  const columns = [...table.columns.values()]
    .filter((column) => names.has(column.name))
    .map((column) => ({ ...column, column: repeated(column.column, times) }))
  const values = new Float64Array(length * times).fill(Number.NaN)
  rule.oneScale.forEach((name, k) => {
    const column = table.columns.get(name)?.column
    if (column?.kind === 'number') values.set(column.values, k * length)
  })
  const judgedColumn = table.columns.get(rule.measure)
  if (judgedColumn === undefined) throw new Error(`no column ${rule.measure}`)
  const all = createTable(length * times, [
    ...columns,
    { ...judgedColumn, name: painted, column: { kind: 'number', values } },
  ])
  const judged = evaluateRule(rule, { table: all, parameters: cells.parameters }, painted, notes)
  const fit = rule.kind.fit(rule.plan, judged)
  const { classes, effects = rule.effects, bars } = decideOver(rule, fit, judged, notes)
  const from = rule.oneScale.indexOf(rule.measure) * length
  const cut = <T extends { subarray(a: number, b: number): T }>(list: T): T => list.subarray(from, from + length)
  return {
    rule,
    measure: rule.measure,
    classes: cut(classes),
    effects,
    ...(bars === undefined ? {} : { bars: { from: cut(bars.from), to: cut(bars.to) } }),
    judged,
    fit,
    judgedAt: (cell) => from + cell,
  }
}

function repeated(column: Column, times: number): Column {
  const tile = <T extends Float64Array | Int32Array | Int8Array>(list: T): T => {
    const Made = list.constructor as new (length: number) => T
    const out = new Made(list.length * times)
    for (let k = 0; k < times; k++) out.set(list, k * list.length)
    return out
  }
  if (column.kind === 'text') return { ...column, codes: tile(column.codes) }
  if (column.kind === 'condition') return { ...column, values: tile(column.values) }
  return { ...column, values: tile(column.values) }
}
