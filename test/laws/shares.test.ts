import { fromColumns, paint } from 'acuarela'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'

const STATUSES = { a: { wash: 'aqua' }, b: { wash: 'straw' }, c: { wash: 'coral' } } as const
const number = fc.oneof(fc.integer({ min: -5, max: 20 }), fc.constant(Number.NaN))

test('law 37: a split by an amount takes cells until those better than them have the share', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(number, number, fc.constantFrom('x', 'y')), { minLength: 1, maxLength: 25 }),
      fc.constantFrom<('higher' | 'lower')[]>('higher', 'lower'),
      fc.boolean(),
      fc.constantFrom('weight', 'value'),
      (rows, better, rest, of) => {
        const [value, weight] = [0, 1].map((k) => Float64Array.from(rows, (row) => row[k] as number))
        const table = fromColumns(
          { value, weight, group: rows.map(([, , group]) => group) },
          { columns: { value: { better } } },
        )
        const painting = paint(table, {
          statuses: STATUSES,
          rules: [
            {
              paint: 'value',
              within: 'group',
              rank: {
                of,
                split: [
                  { share: '50%', status: 'a' },
                  { share: '30%', status: 'b' },
                  ...(rest ? [{ otherwise: 'c' }] : []),
                ],
              },
            },
          ],
        })
        rows.forEach(([own, , group], row) => {
          const weights = of === 'weight' ? weight : value
          const peers = rows.flatMap(([v, , other], i) =>
            other === group && !Number.isNaN(v) && weights[i] > 0 ? [{ v, w: weights[i] }] : [],
          )
          const all = peers.reduce((sum, { w }) => sum + w, 0)
          const before = peers.reduce((sum, { v, w }) => sum + ((better === 'higher' ? v > own : v < own) ? w : 0), 0)
          const last = rest ? 'c' : 'b'
          // A population of one value is not painted.
          const compared = rows.filter(([v, , other]) => other === group && !Number.isNaN(v)).length
          const wanted =
            Number.isNaN(own) || all === 0 || compared < 2
              ? null
              : !(weights[row] > 0)
                ? last
                : before / all < 0.5
                  ? 'a'
                  : before / all < 0.8
                    ? 'b'
                    : rest
                      ? 'c'
                      : null
          expect(painting.cell(row, 'value').status, `${row} of ${JSON.stringify(rows)}`).toBe(wanted)
        })
      },
    ) as fc.IPropertyWithHooks<unknown>,
    { seed: 37, numRuns: effort(1000, 200) },
  )
})

test('law 37: what shares cannot be of is a problem; where nothing adds up a message says so', () => {
  const table = fromColumns({ value: Float64Array.of(1, 2), weight: Float64Array.of(0, -1) })
  const painted = (rank: object): string => {
    try {
      return paint(table, { statuses: STATUSES, rules: [{ paint: 'value', rank } as never] }).notes.join()
    } catch (error) {
      return String((error as Error).message)
    }
  }
  const split = [{ share: '50%', status: 'a' }]
  expect(painted({ of: 'weight', split })).toContain('paints nothing where no cell has more than 0 of it')
  expect(painted({ of: 'wieght', split })).toContain('wieght')
  expect(painted({ of: 'weight', top: 3, status: 'a' })).toContain('of says what the shares of a split are shares of')
  expect(painted({ of: 'weight', split: [{ share: 3, status: 'a' }] })).toContain('a share of weight is a percent')
})

test('law 38: ofRange is a place between the lowest and the highest of each population', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -50, max: 50 }), fc.constantFrom('x', 'y')), { minLength: 1, maxLength: 20 }),
      fc.integer({ min: 0, max: 100 }),
      (rows, percent) => {
        const table = fromColumns({
          value: Float64Array.from(rows, ([v]) => v),
          group: rows.map(([, group]) => group),
        })
        const bands = [{ atLeast: `ofRange(${percent}%)`, status: 'a' }, { otherwise: 'c' }]
        const painting = paint(table, { statuses: STATUSES, rules: [{ paint: 'value', within: 'group', bands }] })
        rows.forEach(([own, group], row) => {
          const peers = rows.filter(([, other]) => other === group).map(([v]) => v)
          const [low, high] = [Math.min(...peers), Math.max(...peers)]
          // In hundredths, so that nothing is rounded.
          const wanted = peers.length < 2 ? null : 100 * own >= 100 * low + percent * (high - low) ? 'a' : 'c'
          expect(painting.cell(row, 'value').status, JSON.stringify([rows, percent, row])).toBe(wanted)
        })
      },
    ) as fc.IPropertyWithHooks<unknown>,
    { seed: 38, numRuns: effort(1000, 200) },
  )
  const table = fromColumns({ value: Float64Array.of(1, 2) })
  const bound = (limit: string) => () =>
    paint(table, { statuses: STATUSES, rules: [{ paint: 'value', bands: [{ atLeast: limit, status: 'a' }] }] })
  expect(bound('ofRange(0.5)')).toThrow('a written percent up to 100%')
  expect(bound('mean(ofRange(50%))')).toThrow('belongs in a limit of a rule')
})
