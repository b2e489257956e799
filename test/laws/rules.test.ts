import {
  type BandSpec,
  fromColumns,
  type PaintSpec,
  paint,
  type RuleSpec,
  type TableCellStyle,
  type TablePainting,
} from 'acuarela'
import { formatHex, interpolate, wcagContrast } from 'culori'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'

const SEED = { seed: 20250630, numRuns: effort(250, 120) }
const STATUSES: PaintSpec['statuses'] = {
  ahead: { wash: 'aqua', icon: 'tick' },
  close: { wash: 'straw' },
  behind: { wash: 'coral', weight: 'bold' },
  gone: { ink: 'stone' },
}
const NAMES = ['ahead', 'close', 'behind']

/** Few distinct values, so that ties and values at limits occur often. */
const value = fc.oneof(
  { weight: 9, arbitrary: fc.integer({ min: -6, max: 6 }) },
  { weight: 1, arbitrary: fc.constant(Number.NaN) },
)
const cells = fc.array(fc.tuple(value, fc.constantFrom('Coast', 'Valley', null)), { minLength: 1, maxLength: 30 })
type Cells = [number, string | null][]

function tableOf(rows: Cells, better: 'higher' | 'lower' = 'higher') {
  const x = Float64Array.from(rows, ([v]) => v)
  const options = { columns: { x: { better } } }
  return fromColumns({ x, limit: Float64Array.from(rows, () => 2), region: rows.map(([, r]) => r) }, options)
}

function looks(painting: TablePainting, n: number, column = 'x'): TableCellStyle[] {
  return Array.from({ length: n }, (_, i) => painting.cell(i, column))
}

function statuses(rows: Cells, rule: Omit<RuleSpec, 'paint'>, more: Partial<PaintSpec> = {}): (string | null)[] {
  const spec = { statuses: STATUSES, rules: [{ paint: 'x', ...rule } as RuleSpec], ...more } as PaintSpec
  return looks(paint(tableOf(rows), spec), rows.length).map((l) => l.status)
}

const bound = fc
  .record(
    {
      atLeast: fc.integer({ min: -6, max: 6 }),
      above: fc.integer({ min: -6, max: 6 }),
      atMost: fc.integer({ min: -6, max: 6 }),
      below: fc.integer({ min: -6, max: 6 }),
    },
    { requiredKeys: [] },
  )
  .filter((b) => Object.keys(b).length > 0)
const ladder = fc.tuple(fc.array(bound, { minLength: 1, maxLength: 3 }), fc.boolean(), fc.boolean())

function bandsOf([bands, otherwise, missing]: [Partial<Record<string, number>>[], boolean, boolean]): BandSpec[] {
  const list: BandSpec[] = bands.map((b, i) => ({ ...b, status: NAMES[i] }))
  if (otherwise) list.push({ otherwise: 'gone' })
  if (missing) list.push({ missing: 'gone' })
  return list
}

test('law 17: bands are what their words say: the first that holds, missing left alone', () => {
  fc.assert(
    fc.property(cells, ladder, (rows, own) => {
      const [bands, otherwise, missing] = own
      const plain = rows.map(([v]) => {
        if (Number.isNaN(v)) return missing ? 'gone' : null
        const hit = bands.findIndex(
          (b) => v >= (b.atLeast ?? -99) && v > (b.above ?? -99) && v <= (b.atMost ?? 99) && v < (b.below ?? 99),
        )
        return hit >= 0 ? NAMES[hit] : otherwise ? 'gone' : null
      })
      expect(statuses(rows, { bands: bandsOf(own) })).toEqual(plain)
    }),
    SEED,
  )
})

test('limits that are one number and limits that differ by cell give the same where they are equal', () => {
  fc.assert(
    fc.property(cells, ladder, (rows, bands) => {
      const constant = bandsOf(bands)
      // `limit` is 2 in every cell, so `k - 2 + limit` is k, by the general path.
      const byCell = constant.map((band) =>
        Object.fromEntries(
          Object.entries(band).map(([key, v]) => [
            key,
            typeof v === 'number' ? `${v < 0 ? `0 - ${-v}` : v} - 2 + limit` : v,
          ]),
        ),
      )
      expect(statuses(rows, { bands: byCell })).toEqual(statuses(rows, { bands: constant }))
    }),
    SEED,
  )
})

test('law 19: ranks by their definition: r better values; a count keeps r < k, a share r < max(1, s·n)', () => {
  const size = fc.oneof(
    fc.integer({ min: 1, max: 12 }),
    fc.integer({ min: 1, max: 100 }).map((p) => `${p}%`),
  )
  fc.assert(
    fc.property(
      cells,
      size,
      fc.constantFrom('top', 'bottom', 'best', 'worst'),
      fc.constantFrom('higher', 'lower'),
      fc.boolean(),
      (rows, k, end, better, within) => {
        const rule: RuleSpec = {
          paint: 'x',
          rank: { [end]: k, status: 'ahead' },
          ...(within ? { within: 'region' } : {}),
        }
        const painting = paint(tableOf(rows, better as 'higher'), { statuses: STATUSES, rules: [rule] })
        const rising =
          end === 'bottom' || (end === 'best' && better === 'lower') || (end === 'worst' && better === 'higher')
        rows.forEach(([v, region], i) => {
          const population = rows.filter(([w, r]) => !Number.isNaN(w) && (!within || r === region)).map(([w]) => w)
          const r = population.filter((w) => (rising ? w < v : w > v)).length
          const n = population.length
          const cut = typeof k === 'number' ? k : Math.max(1, (Number.parseInt(k, 10) * n) / 100)
          const kept = !Number.isNaN(v) && n >= 2 && r < cut
          expect(painting.cell(i, 'x').status).toBe(kept ? 'ahead' : null)
        })
      },
    ),
    SEED,
  )
})

test('law 19: a split puts every cell in exactly one part, by the cumulative share that exceeds r ÷ n', () => {
  fc.assert(
    fc.property(cells, fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 1, maxLength: 2 }), (rows, shares) => {
      const split = [...shares.map((s, i) => ({ share: `${s}%`, status: NAMES[i] })), { otherwise: 'behind' }]
      const got = statuses(rows, { rank: { split } })
      const present = rows.map(([v]) => v).filter((v) => !Number.isNaN(v))
      rows.forEach(([v], i) => {
        if (Number.isNaN(v) || present.length < 2) {
          expect(got[i]).toBeNull()
          return
        }
        const r = present.filter((w) => w > v).length
        let part = 'behind'
        let sum = 0
        for (const [p, s] of shares.entries()) {
          sum += s
          if (sum * present.length > r * 100) {
            part = NAMES[p]
            break
          }
        }
        expect(got[i]).toBe(part)
      })
    }),
    SEED,
  )
})

test('law 18: a gradient is the colour library’s own mix at the place between the ends', () => {
  fc.assert(
    fc.property(cells, fc.integer({ min: -5, max: 0 }), fc.integer({ min: 1, max: 5 }), (rows, from, to) => {
      const painting = paint(tableOf(rows), {
        rules: [{ paint: 'x', gradient: { ramp: ['#d8504c', '#fbfcfd', '#0a8783'], from, to } }],
      })
      const mix = interpolate(['#d8504c', '#fbfcfd', '#0a8783'], 'oklab')
      const zero = from < 0 && to > 0 ? 0 : (from + to) / 2
      rows.forEach(([v], i) => {
        const t = Math.min(
          1,
          Math.max(0, v >= zero ? 0.5 + (0.5 * (v - zero)) / (to - zero) : 0.5 - (0.5 * (zero - v)) / (zero - from)),
        )
        expect(painting.cell(i, 'x').fill).toBe(Number.isNaN(v) ? null : formatHex(mix(Math.round(t * 255) / 255)))
      })
    }),
    SEED,
  )
})

test('law 18: with ends left to the data the farther one sets both halves, and equal values are one half', () => {
  const fills = (values: number[], gradient: NonNullable<RuleSpec['gradient']>): (string | null)[] =>
    looks(
      paint(fromColumns({ x: Float64Array.from(values) }), { rules: [{ paint: 'x', gradient }] }),
      values.length,
    ).map((l) => l.fill)
  const ramp = ['#000000', '#808080', '#ffffff']
  const [low, zero, high] = fills([-1, 0, 4], { ramp })
  const [, , , quarter] = fills([-4, 0, 4, -1], { ramp })
  expect([low, zero, high]).toEqual([quarter, '#808080', '#ffffff'])
  expect(fills([3, 3], { ramp })).toEqual(['#808080', '#808080'])
  expect(fills([3, 3], { ramp: ['#000000', '#ffffff'], steps: 2 })).toEqual(['#ffffff', '#ffffff'])
  expect(new Set(fills([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10], { ramp, steps: 5 })).size).toBe(5)
})

test('the order of rows never matters', () => {
  fc.assert(
    fc.property(cells, fc.nat(), (rows, by) => {
      const turned = rows.map((_, i) => rows[(i + by) % rows.length])
      const rules: RuleSpec[] = [
        { paint: 'x', within: 'region', rank: { top: '40%', status: 'ahead' } },
        { paint: 'x', bands: [{ above: 'mean(x)', status: 'close' }] },
        { paint: 'x', gradient: { ramp: ['indigo', 'paper', 'coral'] } },
      ]
      const straight = looks(paint(tableOf(rows), { statuses: STATUSES, rules }), rows.length)
      const other = looks(paint(tableOf(turned), { statuses: STATUSES, rules }), rows.length)
      other.forEach((look, i) => {
        expect(look).toEqual(straight[(i + by) % rows.length])
      })
    }),
    SEED,
  )
})

test('a lower rule changes no channel that is set, a paused rule is a rule removed', () => {
  const first: RuleSpec = {
    name: 'a',
    paint: 'x',
    bands: [
      { atLeast: 1, status: 'ahead' },
      { below: -2, style: { ink: '#800000', icon: 'down' } },
    ],
  }
  const second: RuleSpec = {
    name: 'b',
    paint: 'x',
    bands: [{ above: 'median(x)', status: 'behind' }, { otherwise: 'close' }],
  }
  fc.assert(
    fc.property(cells, (rows) => {
      const alone = paint(tableOf(rows), { statuses: STATUSES, rules: [first] })
      const both = paint(tableOf(rows), { statuses: STATUSES, rules: [first, second] })
      const paused = paint(tableOf(rows), { statuses: STATUSES, rules: [first, { ...second, paused: true }] })
      rows.forEach((_, i) => {
        const before = alone.cell(i, 'x')
        const after = both.cell(i, 'x')
        for (const channel of ['status', 'fill', 'weight', 'icon'] as const)
          if (before[channel] !== null)
            expect([after[channel], after.paintedBy[channel]]).toEqual([before[channel], 'a'])
        expect(paused.cell(i, 'x')).toEqual(before)
      })
    }),
    SEED,
  )
})

test('raising a limit never brings a cell into the upper band', () => {
  fc.assert(
    fc.property(cells, fc.integer({ min: -6, max: 6 }), fc.nat(6), (rows, limit, by) => {
      const at = (target: number) =>
        statuses(
          rows,
          { bands: [{ atLeast: 'target', status: 'ahead' }, { otherwise: 'behind' }] },
          { parameters: { target } },
        )
      const before = at(limit)
      const after = at(limit + by)
      rows.forEach(([v], i) => {
        const between = v >= limit && v < limit + by
        expect(before[i] !== after[i]).toBe(between)
        if (between) expect([before[i], after[i]]).toEqual(['ahead', 'behind'])
      })
    }),
    SEED,
  )
})

test('law 17: what is missing never falls into the bad class, nor what is compared with a missing limit', () => {
  const x = Float64Array.of(1, Number.NaN, 3)
  const plan = Float64Array.of(Number.NaN, 2, 2)
  const at = (bands: BandSpec[]): (string | null)[] =>
    looks(paint(fromColumns({ x, plan }), { statuses: STATUSES, rules: [{ paint: 'x', bands }] }), 3).map(
      (l) => l.status,
    )
  expect(at([{ atLeast: 'plan', status: 'ahead' }, { otherwise: 'behind' }])).toEqual([null, null, 'ahead'])
  expect(at([{ atLeast: 'plan', status: 'ahead' }, { missing: 'gone' }, { otherwise: 'behind' }])).toEqual([
    'gone',
    'gone',
    'ahead',
  ])
  // The ladder stops at a band that cannot be compared, even if a later one could be; within one
  // band false beats missing.
  expect(
    at([
      { above: 'plan', status: 'ahead' },
      { above: 0, status: 'close' },
    ]),
  ).toEqual([null, null, 'ahead'])
  expect(
    at([
      { above: 'plan', below: 0, status: 'ahead' },
      { above: 0, status: 'close' },
    ]),
  ).toEqual(['close', null, 'close'])
})

test('where narrows what is painted, among what is compared with, within the groups', () => {
  const rows: Cells = [
    [1, 'Coast'],
    [3, 'Coast'],
    [2, 'Valley'],
    [9, 'Valley'],
    [5, 'Valley'],
  ]
  const best = { rank: { top: 1, status: 'ahead' } }
  const where = (list: (string | null)[]): number[] => list.flatMap((s, i) => (s === null ? [] : [i]))
  expect(where(statuses(rows, best))).toEqual([3])
  expect(where(statuses(rows, { ...best, within: 'region' }))).toEqual([1, 3])
  expect(where(statuses(rows, { ...best, where: "region = 'Coast'" }))).toEqual([])
  expect(where(statuses(rows, { ...best, among: 'x < 9' }))).toEqual([4])
  // All: the mean is 4. Coast: 2. Valley: 16 / 3.
  const above = (limit: string): BandSpec[] => [{ above: limit, status: 'ahead' }]
  expect(where(statuses(rows, { bands: above('mean(x)') }))).toEqual([3, 4])
  expect(where(statuses(rows, { bands: above('mean(x)'), within: 'region' }))).toEqual([1, 3])
  expect(where(statuses(rows, { bands: above('mean(x) within region') }))).toEqual([1, 3])
  expect(where(statuses(rows, { bands: above('mean(x) within all'), within: 'region' }))).toEqual([3, 4])
  expect(where(statuses(rows, { bands: above("mean(x) where region = 'Coast'") }))).toEqual([1, 3, 4])
  expect(where(statuses(rows, { bands: above('mean(x)'), among: 'x < 9' }))).toEqual([1, 3, 4])
  expect(
    where(statuses(rows, { judge: 'x - mean(x) within region', bands: [{ atMost: -2, status: 'ahead' }] })),
  ).toEqual([2])
})

test('law 14: a population of fewer than two values is left alone, and said; limits that read none still hold', () => {
  const one = fromColumns({ x: Float64Array.of(4) })
  const painting = paint(one, {
    statuses: STATUSES,
    rules: [{ name: 'r', paint: 'x', rank: { top: 1, status: 'ahead' } }],
  })
  expect(painting.cell(0, 'x').status).toBeNull()
  expect(painting.notes).toEqual(['the rule r does not paint x where fewer than two values can be compared'])
  expect(
    paint(one, { statuses: STATUSES, rules: [{ paint: 'x', bands: [{ above: 3, status: 'ahead' }] }] }).cell(0, 'x')
      .status,
  ).toBe('ahead')
})

test('law 21: text on any fill can be read, and an ink of another rule gives way only where it cannot', () => {
  const fill = fc.integer({ min: 0, max: 0xffffff }).map((c) => `#${c.toString(16).padStart(6, '0')}`)
  fc.assert(
    fc.property(fill, fill, (ground, ink) => {
      const rules: RuleSpec[] = [
        { name: 'ink', paint: 'x', bands: [{ above: 0, style: { ink } }] },
        { name: 'fill', paint: 'x', bands: [{ above: 0, style: { fill: ground } }] },
      ]
      const look = paint(fromColumns({ x: Float64Array.of(1) }), { rules }).cell(0, 'x')
      expect(look.fill).toBe(ground)
      expect(wcagContrast(look.ink as string, ground)).toBeGreaterThanOrEqual(4.5)
      const kept = wcagContrast(ink, ground) >= 4.5
      expect([look.ink === ink || !kept, look.paintedBy.ink]).toEqual([true, kept ? 'ink' : 'fill'])
      const painted = paint(fromColumns({ x: Float64Array.of(1) }), {
        rules: [{ paint: 'x', bands: [{ above: 0, style: { fill: ground, ink } }] }],
      })
      expect(painted.cell(0, 'x').ink).toBe(ink)
    }),
    { seed: 3, numRuns: 200 },
  )
})

test('plain values are compared with what is judged: numbers, texts, truths and periods, each with its own kind', () => {
  const day = (d: number): Date => new Date(Date.UTC(2025, 0, d))
  const table = fromColumns({
    x: [2025, 20_100, null],
    word: ['7', 'b', null],
    yes: [true, false, null],
    date: [day(5), day(40), null],
  })
  const at = (judge: string | undefined, band: BandSpec): (string | null)[] =>
    looks(
      paint(table, {
        statuses: STATUSES,
        rules: [{ paint: 'x', ...(judge && { judge }), bands: [{ ...band, status: 'ahead' }] }],
      }),
      3,
    ).map((l) => l.status)
  // 20,100 days after 1970 is in 2025, but a number is no date.
  expect(at(undefined, { equals: 2025 })).toEqual(['ahead', null, null])
  expect(at(undefined, { in: [1, 20_100] })).toEqual([null, 'ahead', null])
  expect(at('word', { equals: 7 })).toEqual(['ahead', null, null])
  expect(at('word', { contains: 'b' })).toEqual([null, 'ahead', null])
  expect(at('yes', { equals: true })).toEqual(['ahead', null, null])
  expect(at('date', { equals: '2025-01' })).toEqual(['ahead', null, null])
  expect(at('date', { in: [2025] })).toEqual(['ahead', 'ahead', null])
  for (const [judge, band] of [
    [undefined, { equals: 'a' }],
    [undefined, { contains: '2' }],
    ['date', { equals: 'soon' }],
    ['yes', { in: ['yes'] }],
  ] as const)
    expect(() => at(judge, { ...band } as BandSpec)).toThrow()
})

test('a sealed cell takes nothing more, hide comes with what the rule gave, and direction is the sign', () => {
  const x = Float64Array.of(-3, 0, 2, Number.NaN)
  const rules: RuleSpec[] = [
    { name: 's', paint: 'x', final: true, hide: 'value', bands: [{ equals: 0, style: { weight: 'bold' } }] },
    { name: 'd', paint: 'x', bands: [{ otherwise: { icon: 'bySign' } }] },
  ]
  const painting = paint(fromColumns({ x }), { rules })
  expect(looks(painting, 4).map((l) => l.icon)).toEqual(['down', null, 'up', null])
  expect(looks(painting, 4).map((l) => l.hide)).toEqual([null, 'value', null, null])
})
