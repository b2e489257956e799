import { expect, test } from 'vitest'
import { createTable } from '../../table/table.js'
import { evaluateRule } from './evaluate.js'
import { createRunCache } from './run-cache.js'

test('rules over the same cells share the order of their values through the run cache', () => {
  const values = Float64Array.of(3, 1, Number.NaN, 2)
  const type = { kind: 'number', unit: { is: 'none' } } as const
  const table = createTable(4, [{ name: 'x', label: 'x', type, column: { kind: 'number', values } }])
  const runCache = createRunCache()
  const cells = { table, parameters: new Map<string, number>(), runCache }
  const [first, second] = [0, 1].map(() => evaluateRule({ within: [] }, cells, 'x', []).orders()[0])
  expect(first).toBe(runCache.order(values))
  expect(second).toBe(first)
  expect([first.lowest, first.highest, first.size]).toEqual([1, 3, 3])
})
