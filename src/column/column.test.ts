import fc from 'fast-check'
import { expect, test } from 'vitest'
import { groupRows } from './group.js'
import { addRows, createMoments, mergeMoments } from './moments.js'
import { createOrder } from './order.js'
import { quantileSorted } from './quantile.js'
import { round14 } from './round.js'
import { fromMoments, needsOf, type Statistic, statistic } from './statistic.js'

const SEED = { seed: 20250630, numRuns: 300 }
const value = fc.oneof(
  { weight: 8, arbitrary: fc.double({ min: -1e9, max: 1e9, noNaN: true }) },
  { weight: 1, arbitrary: fc.constant(Number.NaN) },
)

test('law 2: rounding to 14 digits agrees with the decimal text of the number', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-8, max: 1e21, noNaN: true }), (x) => {
      // Halves may round either way; elsewhere the two agree to the last digit.
      const exact = Number(x.toPrecision(14))
      expect(Math.abs(round14(x) - exact)).toBeLessThanOrEqual(Math.abs(exact) * 1.1e-14)
      expect(round14(round14(x))).toBe(round14(x))
    }),
    SEED,
  )
  expect(round14(0.07 * 100)).toBe(7)
  expect(round14(0.1 + 0.2)).toBe(0.3)
  expect(round14(-1234.5)).toBe(-1234.5)
  expect(round14(Number.NaN)).toBeNaN()
})

// Hyndman and Fan, type 7, worked by hand: h = (n − 1)p.
test('percentiles interpolate linearly', () => {
  const sorted = Float64Array.of(1, 2, 4, 8)
  expect([0, 0.25, 0.5, 0.9, 1].map((p) => round14(quantileSorted(sorted, p)))).toEqual([1, 1.75, 3, 6.8, 8])
  expect(quantileSorted(Float64Array.of(), 0.5)).toBeNaN()
})

test('statistics of groups agree with plain definitions', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(value, fc.integer({ min: -1, max: 2 })), { maxLength: 40 }), (rows) => {
      const values = Float64Array.from(rows, ([x]) => x)
      const groups = Int32Array.from(rows, ([, g]) => g)
      for (let g = 0; g < 3; g++) {
        const members = rows.filter(([x, of]) => of === g && !Number.isNaN(x)).map(([x]) => x)
        const got = (name: Statistic): number => statistic(name, values, groups, 3)[g]
        expect(got('count')).toBe(members.length)
        expect(got('countDistinct')).toBe(new Set(members).size)
        expect(got('lowest')).toBe(members.length === 0 ? Number.NaN : round14(Math.min(...members)))
        expect(got('highest')).toBe(members.length === 0 ? Number.NaN : round14(Math.max(...members)))
        const mean = members.reduce((a, b) => a + b, 0) / members.length
        near(got('sum'), members.length === 0 ? Number.NaN : members.reduce((a, b) => a + b, 0))
        near(got('mean'), mean)
        const square = members.reduce((a, b) => a + (b - mean) ** 2, 0)
        near(got('stdev'), members.length < 2 ? Number.NaN : Math.sqrt(square / (members.length - 1)))
      }
    }),
    SEED,
  )
})

test('law 2: parts merged in any split give what the whole gives', () => {
  const names = ['sum', 'mean', 'count', 'lowest', 'highest', 'stdev'] as const
  fc.assert(
    fc.property(fc.array(fc.tuple(value, fc.nat(5)), { maxLength: 60 }), fc.constantFrom(...names), (rows, name) => {
      const needs = needsOf(name)
      const values = Float64Array.from(rows, ([x]) => x)
      const fine = createMoments(6, needs)
      addRows(
        fine,
        values,
        Int32Array.from(rows, ([, g]) => g),
        needs,
      )
      const into = Int32Array.of(0, 1, 0, 1, 0, 1)
      const merged = fromMoments(name, mergeMoments(fine, into, 2, needs))
      const whole = statistic(
        name,
        values,
        Int32Array.from(rows, ([, g]) => g % 2),
        2,
      )
      merged.forEach((x, g) => {
        near(x, whole[g])
      })
    }),
    SEED,
  )
})

test('sums are compensated: a small amount survives between large ones', () => {
  const values = Float64Array.of(1e16, 1, -1e16, 1)
  expect(statistic('sum', values, new Int32Array(4), 1)[0]).toBe(2)
})

test('all missing gives missing, but count gives 0', () => {
  const values = Float64Array.of(Number.NaN, Number.NaN)
  expect(statistic('sum', values, new Int32Array(2), 1)[0]).toBeNaN()
  expect(statistic('count', values, new Int32Array(2), 1)[0]).toBe(0)
})

test('rows are grouped alike by table and by map', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -1, max: 3 }), fc.integer({ min: -1, max: 4 })), { maxLength: 50 }),
      (rows) => {
        const a = { codes: Int32Array.from(rows, ([x]) => x), size: 4 }
        const b = Int32Array.from(rows, ([, y]) => y)
        const dense = groupRows([a, { codes: b, size: 5 }], undefined, rows.length)
        const sparse = groupRows([a, { codes: b, size: 50_000_000 }], undefined, rows.length)
        expect([...sparse.groups]).toEqual([...dense.groups])
        expect(dense.count).toBe(new Set(rows.map(String)).size)
        dense.groups.forEach((g, i) => {
          expect(rows[dense.first[g]]).toEqual(rows[i])
        })
      },
    ),
    SEED,
  )
})

function near(got: number, wanted: number): void {
  if (Number.isNaN(wanted)) expect(got).toBeNaN()
  else expect(Math.abs(got - wanted)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(wanted)) + 1e-4)
}

test('a place asked for again and again, in any order, is that of sorting, however many bins are opened', () => {
  for (const [size, spread] of [
    [600, 1],
    [5000, 3],
    [40_000, 1],
  ]) {
    // A dense range with a long tail, some missing values and some ties.
    const values = Float64Array.from({ length: size }, (_, i) =>
      i % 97 === 0 ? Number.NaN : Math.round(((i * 7919) % size) ** spread / 3),
    )
    const sorted = [...values].filter((v) => !Number.isNaN(v)).sort((a, b) => a - b)
    const order = createOrder(values)
    expect(order.size).toBe(sorted.length)
    const asked = Array.from({ length: 60 }, (_, i) => (i * 104_729) % sorted.length)
    expect(asked.map((k) => order.at(k))).toEqual(asked.map((k) => sorted[k]))
    order.tidy?.()
    expect(asked.reverse().map((k) => order.at(k))).toEqual(asked.map((k) => sorted[k]))
    expect([order.at(-1), order.at(sorted.length)]).toEqual([undefined, undefined])
  }
})
