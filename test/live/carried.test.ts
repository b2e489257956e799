import { toJson } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { type ReportSpec, readReport, readSource } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Problem } from '../../src/problem/problem.js'
import { bindReport } from '../../src/report/bind/report.js'
import { decideReport } from '../../src/report/layout/decide.js'
import type { BoundReport } from '../../src/report/model/bound.js'
import { applyState, type ReaderState } from '../../src/report/transfer/apply-state.js'
import { packReport } from '../../src/report/transfer/pack.js'
import { takeSnapshot } from '../../src/report/transfer/snapshot.js'
import { openBundle } from '../../src/report/transfer/unpack.js'
import { effort } from '../support/effort.js'
import { WILDER, WILDER_CSV } from '../support/wild.js'

async function bound(spec = WILDER, settings: Parameters<typeof bindReport>[2] = {}): Promise<BoundReport> {
  const report = readReport(spec)
  expect(report.problems).toEqual([])
  return bindReport(
    report,
    new Map([['s', await readSource([{ name: 's.csv', content: WILDER_CSV }], { date: 'date' })]]),
    settings,
  )
}

const MOVES: fc.Arbitrary<ReaderState> = fc.record({
  parameters: fc.record(
    { target: fc.integer({ min: -300, max: 5000 }), share: fc.integer({ min: 0, max: 90 }).map((n) => n / 100) },
    { requiredKeys: [] },
  ),
  filters: fc.record(
    {
      shop: fc.subarray(['Larkmoor', '<b>Quay</b> & "Lane"', '=SUM(A1)'], { minLength: 1 }),
      kind: fc.subarray(['Trade', 'Shop'], { minLength: 1 }),
      big: fc.subarray(['true', 'false'], { minLength: 1 }),
    },
    { requiredKeys: [] },
  ),
  period: fc.constantFrom(null, null, '2024', 'last 12 months', '2023-03 to 2024-08'),
  paused: fc.subarray(['by', 'heat', 'told', 'first']),
  sorts: fc.record(
    {
      nested: fc.constantFrom('amount', '-margin', 'shop', '-shop'),
      listed: fc.constantFrom('-amount', 'margin', '-kind'),
      runs: fc.constantFrom('-shop', 'amount'),
    },
    { requiredKeys: [] },
  ),
  plain: fc.boolean(),
})

/** The report with a reader's changes written into it. */
function written(moves: ReaderState): { spec: string; settings: Parameters<typeof bindReport>[2] } {
  const spec = readReport(WILDER).spec as ReportSpec
  const { target, share } = moves.parameters
  const where = Object.entries(moves.filters).map(([name, values]) =>
    name === 'big'
      ? `(${values?.map((value) => (value === 'true' ? name : `not ${name}`)).join(' or ')})`
      : `(${name} in (${values?.map((value) => `'${value}'`).join(', ')}))`,
  )
  const exhibits = spec.exhibits.map((exhibit) => {
    const sort = moves.sorts[exhibit.name ?? '']
    return {
      ...exhibit,
      ...(sort !== undefined && exhibit.table && { table: { ...exhibit.table, sort } }),
      ...(sort !== undefined && exhibit.list && { list: { ...exhibit.list, sort } }),
      ...(moves.plain && { besideUnpainted: true }),
    }
  })
  const rules = spec.rules?.map((rule) =>
    typeof rule !== 'string' && moves.paused.includes(rule.name ?? '') ? { ...rule, paused: true } : rule,
  )
  return {
    spec: JSON.stringify({ ...spec, rules, exhibits }),
    settings: {
      parameters: {
        ...(target !== undefined && { target: String(target) }),
        ...(share !== undefined && { share: `${Math.round(share * 100)}%` }),
      },
      ...(where.length > 0 && { where: where.join(' and ') }),
      ...(moves.period !== null && { period: moves.period }),
    },
  }
}

/**
 * Without messages about bounds of parameters, which only the tool prints; conditions have two
 * forms.
 */
async function shown(report: BoundReport): Promise<{ data: object; html: string }> {
  const { page } = await decideReport(report)
  const plain = { ...page, where: null }
  return { data: JSON.parse(toJson(plain)), html: await toHtml(plain) }
}

test('moves come to what the same words in the file, or given with it, are bound to', async () => {
  const first = await bound()
  const seen = new Set<string>()
  for (const moves of fc.sample(MOVES, { numRuns: effort(14, 5), seed: 3 })) {
    const { spec, settings } = written(moves)
    const [local, other] = [await shown(applyState(first, moves)), await shown(await bound(spec, settings))]
    expect(local.data, JSON.stringify(moves)).toEqual(other.data)
    expect(local.html).toBe(other.html)
    seen.add(local.html)
  }
  expect(seen.size).toBeGreaterThan(effort(10, 3))
  // The condition on the page has the form in which one writes it.
  const where = applyState(first, { ...NONE, filters: { shop: ['Lark', "O'Hara"], big: ['true', 'false'] } }).whereText
  expect(where).toBe("(shop in ('Lark', 'O''Hara')) and (big or not big)")
  const given = applyState(await bound(WILDER, { where: "kind = 'Shop'" }), { ...NONE, filters: { shop: ['Lark'] } })
  expect(given.whereText).toBe("(kind = 'Shop') and (shop in ('Lark'))")
})

const NONE: ReaderState = { parameters: {}, filters: {}, period: null, paused: [], sorts: {}, plain: false }

test('a report that is packed and opened again is answered as it was, whatever its reader moves', async () => {
  const first = await bound()
  const { decided, stored } = await takeSnapshot(first)
  const carried = {
    kinds: [...new Set(first.rules.map(({ kind }) => kind.key))],
    report: JSON.parse(packReport(decided.bound, stored, {})),
    sources: JSON.parse(JSON.stringify(stored)),
  }
  expect(carried.kinds.sort()).toEqual(['bands', 'bar', 'fromColumn', 'gradient', 'rank'])
  // A page does not contain the path of its data.
  const asked = decided.bound.sources.map((source) => ({ ...source, from: 'a query', expect: { secret: 1 } }))
  const packed = packReport({ ...decided.bound, sources: asked }, stored, {})
  expect(packed).toContain('a query')
  expect(packed).not.toMatch(/secret/i)
  const opened = await openBundle(carried)
  const plain = ({ rules }: BoundReport): string =>
    JSON.stringify(rules.map(({ name, measure, effects: givens, plan }) => [name, measure, givens, plan]))
  expect(plain(opened)).toBe(plain(first))
  expect(opened.palette.color('rebeccapurple')).toBe(0x663399)
  expect([opened.palette.color('no colour'), opened.palette.picture('x.png')]).toMatchObject([
    undefined,
    { code: 'bad-picture' } satisfies Partial<Problem>,
  ])
  for (const moves of [NONE, ...fc.sample(MOVES, { numRuns: effort(8, 3), seed: 4 })]) {
    const [local, other] = [await shown(applyState(opened, moves)), await shown(applyState(decided.bound, moves))]
    expect(local.data, JSON.stringify(moves)).toEqual(other.data)
    expect(local.html).toBe(other.html)
  }
})
