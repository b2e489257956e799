import { toJson } from 'acuarela/data'
import { openReport } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import type { Painted, PaintedCell } from '../support/painted.js'
import { exhibitOf } from '../support/painted.js'

const REPORT = {
  title: 'Everything',
  sources: { sales: { file: 'sales.csv', date: 'date' } },
  measures: { amount: { formula: 'sum(amount)' } },
  statuses: { over: { label: 'Over', wash: 'aqua' }, first: { label: 'First', wash: 'indigo' } },
  rules: [
    { paint: 'amount', only: ['means'], among: 'unfiltered', bands: [{ above: 'mean(value)', status: 'over' }] },
    { paint: 'amount', only: ['ranks'], among: 'unfiltered', rank: { top: 3, status: 'first' } },
    { paint: 'amount', only: ['ramps'], among: 'unfiltered', gradient: { ramp: ['paper', 'aqua'] } },
    {
      paint: 'amount',
      only: ['within'],
      within: 'region',
      among: 'unfiltered',
      bands: [{ atLeast: 'highest(value)', status: 'over' }],
    },
    { paint: 'amount', only: ['shown'], bands: [{ above: 'mean(value)', status: 'over' }] },
  ],
  exhibits: ['means', 'ranks', 'ramps', 'within', 'shown'].map((name) => ({
    name,
    table: { rows: ['region', 'shop'], show: 'amount' },
  })),
}

const ROWS = fc.array(
  fc.record({
    month: fc.integer({ min: 1, max: 3 }),
    region: fc.constantFrom('Coast', 'Hills', 'Valley'),
    shop: fc.constantFrom('A', 'B', 'C', 'D'),
    amount: fc.integer({ min: -50, max: 500 }),
  }),
  { minLength: 4, maxLength: 25 },
)
const SETTINGS = fc.oneof(
  fc.constantFrom('Coast', 'Hills').map((region) => ({ where: `region = '${region}'` })),
  fc.integer({ min: 1, max: 3 }).map((month) => ({ period: `2025-0${month}` })),
  fc.constant({ where: "shop in ('A', 'B')", period: '2025-02' }),
)

const details = (page: Painted, exhibit: string): PaintedCell[] =>
  exhibitOf(page, exhibit).cells.filter(({ level, value }) => level.row === 'detail' && value !== null)
const key = (cell: PaintedCell): string => `${cell.row.region} ${cell.row.shop}`

test('among everything: cells that a filter leaves are compared with all there were before it', async () => {
  const seen = { other: 0, filtered: 0 }
  await fc.assert(
    fc.asyncProperty(ROWS, SETTINGS, async (rows, settings) => {
      const csv = `date,region,shop,amount\n${rows.map((r) => `2025-0${r.month}-10,${r.region},${r.shop},${r.amount}`).join('\n')}\n`
      const open = async (settings: object): Promise<Painted> =>
        JSON.parse(toJson(await openReport(REPORT as never, { sales: csv }, settings)))
      const [all, some] = [await open({}), await open(settings)]
      const values = details(all, 'means').map(({ value }) => Number(value))
      if (values.length < 2) return
      const mean = values.reduce((a, b) => a + b, 0) / values.length
      const [low, high] = [Math.min(...values), Math.max(...values)]
      for (const cell of details(some, 'means')) {
        seen.filtered++
        if (Math.abs(Number(cell.value) - mean) > 1e-9)
          expect(cell.style.status).toBe(Number(cell.value) > mean ? 'over' : null)
        const shown = details(some, 'shown').find((detail) => key(detail) === key(cell))
        if (shown?.style.status !== cell.style.status) seen.other++
      }
      // A rank is that of the same cell in the unfiltered population.
      const ranks = new Map(details(all, 'ranks').map((cell) => [key(cell), cell.style.status]))
      for (const cell of details(some, 'ranks')) expect(cell.style.status).toBe(ranks.get(key(cell)))
      // The ends of a ramp are unfiltered, and values outside are clamped.
      const ends = new Map(details(all, 'ramps').map((cell) => [Number(cell.value), cell.style.fill]))
      for (const cell of details(some, 'ramps')) {
        const value = Math.min(high, Math.max(low, Number(cell.value)))
        if (ends.has(value)) expect(cell.style.fill).toBe(ends.get(value))
      }
      for (const cell of details(some, 'within')) {
        const cells = details(all, 'within').filter(({ row }) => row.region === cell.row.region)
        const most = Math.max(...cells.map(({ value }) => Number(value)))
        expect(cell.style.status).toBe(cells.length > 1 && Number(cell.value) >= most ? 'over' : null)
      }
      // Without a filter the unfiltered population is the shown one.
      for (const [i, cell] of details(all, 'means').entries())
        expect(cell.style.status).toBe(details(all, 'shown')[i].style.status)
    }),
    { numRuns: effort(80, 30), seed: 23 },
  )
  expect(seen.filtered).toBeGreaterThan(effort(150, 50))
  expect(seen.other).toBeGreaterThan(effort(10, 3))
})
