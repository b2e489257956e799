import { fromColumns, fromRows, type PaintSpec, paint, proof, type RuleSpec } from 'acuarela'
import { openReport } from 'acuarela/report'
import {
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  formatHex,
  interpolate,
  parse,
  wcagContrast,
} from 'culori'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { type KeyedSpec, type Row, rows, STATUSES, tableOf } from '../support/rules.js'

const RUNS = { seed: 20261123, numRuns: effort(250, 100) }
const present = (list: readonly Row[]): number[] => list.map((row) => row.x).filter((v) => !Number.isNaN(v))

test('law 18: a bar begins and ends where its words say, clamped, from its base', () => {
  const end = fc.option(fc.integer({ min: -4, max: 4 }), { nil: undefined })
  fc.assert(
    fc.property(
      rows,
      end,
      fc.option(fc.integer({ min: 5, max: 9 }), { nil: undefined }),
      end,
      (list, from, to, base) => {
        const limits = {
          ...(from === undefined ? {} : { from }),
          ...(to === undefined ? {} : { to }),
          ...(base === undefined ? {} : { base }),
        }
        const painting = paint(tableOf(list), {
          rules: [{ paint: 'x', bar: { color: 'aqua', negative: 'coral', ...limits } }],
        })
        const values = present(list)
        const low = from ?? Math.min(0, ...values)
        const high = to ?? Math.max(0, ...values)
        const start = Math.min(high, Math.max(low, base ?? 0))
        const share = (v: number): number =>
          high === low ? (v < high ? 0 : 1) : Math.min(1, Math.max(0, (v - low) / (high - low)))
        list.forEach(({ x }, i) => {
          const { bar } = painting.cell(i, 'x')
          const relative = from === undefined || to === undefined
          if (Number.isNaN(x) || (relative && values.length < 2)) expect(bar).toBeNull()
          else {
            expect(bar?.from).toBeCloseTo(Math.min(share(x), share(start)), 3)
            expect(bar?.to).toBeCloseTo(Math.max(share(x), share(start)), 3)
            expect(bar?.color).toBe(x < start ? 'coral' : 'aqua')
          }
        })
      },
    ),
    RUNS,
  )
})

test('icons as a ramp: equal parts of the scale, the last closed, in the order of the list', () => {
  const icons = ['drop', 'ring', 'sprig']
  fc.assert(
    fc.property(rows, (list) => {
      const painting = paint(tableOf(list), { rules: [{ paint: 'x', gradient: { icons, from: -6, to: 6 } }] })
      for (const [i, { x }] of list.entries())
        expect(painting.cell(i, 'x').icon).toBe(Number.isNaN(x) ? null : icons[Math.min(2, Math.floor((x + 6) / 4))])
    }),
    RUNS,
  )
})

test('law 23: a borrowed status goes by name or label, and text that names nothing leaves the cell alone and is counted', () => {
  fc.assert(
    fc.property(rows, (list) => {
      const painting = paint(tableOf(list), {
        statuses: STATUSES,
        rules: [{ paint: 'x', fromColumn: { status: 'state' } }],
      })
      const meant: Record<string, string | null> = { ahead: 'ahead', Near: 'close', nobody: null }
      for (const [i, { state }] of list.entries())
        expect(painting.cell(i, 'x').status).toBe(state === null ? null : meant[state])
      const strays = list.filter(({ state }) => state === 'nobody').length
      expect(painting.notes.length).toBe(Math.min(1, strays))
      if (strays > 0) expect(painting.notes[0]).toContain(`${strays} text`)
    }),
    RUNS,
  )
})

test('values without end are above, or below, every limit', () => {
  const x = Float64Array.from([Number.NEGATIVE_INFINITY, -1, 0, 1, Number.POSITIVE_INFINITY, Number.NaN])
  const got = (bands: NonNullable<RuleSpec['bands']>): (string | null)[] => {
    const painting = paint(fromColumns({ x }), { rules: [{ paint: 'x', bands }] })
    return Array.from(x, (_, i) => painting.cell(i, 'x').icon)
  }
  expect(got([{ atLeast: 1, style: { icon: 'up' } }])).toEqual([null, null, null, 'up', 'up', null])
  expect(
    got([
      { below: 0, style: { icon: 'down' } },
      { above: 0, style: { icon: 'up' } },
    ]),
  ).toEqual(['down', 'down', null, 'up', 'up', null])
  expect(got([{ otherwise: { icon: 'dot' } }])).toEqual(['dot', 'dot', 'dot', 'dot', 'dot', null])
})

test('what a rule hides is hidden whatever gives the look, and proofing a hundred thousand cells is no matter', () => {
  const list = Array.from({ length: 150_000 }, (_, i) => ({
    x: i % 1000,
    y: 1,
    region: null,
    state: i % 2 === 0 ? 'ahead' : null,
  }))
  const painting = paint(tableOf(list), {
    statuses: STATUSES,
    rules: [
      { paint: 'x', hide: 'value', fromColumn: { status: 'state' } },
      { paint: 'x', bands: [{ atLeast: 500, status: 'ahead' }, { otherwise: 'behind' }] },
    ],
  })
  expect([painting.cell(0, 'x').hide, painting.cell(1, 'x').hide]).toEqual(['value', null])
  expect(proof(painting).map(({ code }) => code)).toContain('dispute')
})

test('law 13: a painted row is every column of it, decided once by its judge', () => {
  fc.assert(
    fc.property(rows, (list) => {
      const spec: KeyedSpec = {
        statuses: STATUSES,
        rules: [{ paint: 'row', judge: 'y', bands: [{ above: 0, status: 'ahead' }, { otherwise: 'behind' }] }],
      }
      const painting = paint(tableOf(list), spec)
      const alone = paint(tableOf(list), { ...spec, rules: [{ ...spec.rules[0], paint: 'y', judge: 'y' }] })
      for (const column of ['x', 'y', 'region', 'state'])
        for (const i of list.keys()) expect(painting.cell(i, column).status).toBe(alone.cell(i, 'y').status)
    }),
    RUNS,
  )
})

test('law 13: together, several measures are one population: as if their cells stood in one column', () => {
  fc.assert(
    fc.property(
      rows,
      fc.constantFrom<object>(
        { rank: { top: 3, status: 'ahead' } },
        { gradient: { ramp: 'indigo' } },
        { bands: [{ above: 'mean(value)', status: 'ahead' }] },
      ),
      (list, kind) => {
        const apart = paint(tableOf(list), {
          statuses: STATUSES,
          rules: [{ paint: ['x', 'y'], oneScale: true, ...kind } as unknown as RuleSpec],
        })
        const one = fromColumns({ x: Float64Array.from([...list.map((r) => r.x), ...list.map((r) => r.y)]) })
        const joined = paint(one, { statuses: STATUSES, rules: [{ paint: 'x', ...kind } as RuleSpec] })
        list.forEach((_, i) => {
          expect(apart.cell(i, 'x').fill).toBe(joined.cell(i, 'x').fill)
          expect(apart.cell(i, 'y').fill).toBe(joined.cell(list.length + i, 'x').fill)
        })
      },
    ),
    RUNS,
  )
})

test('law 25: share and rank in a rule are of the population, and of a group where it says so', () => {
  fc.assert(
    fc.property(rows, (list) => {
      const of = (judge: string): (string | null)[] => {
        const painting = paint(tableOf(list), {
          rules: [{ paint: 'x', judge, bands: [{ above: 0.25, style: { icon: 'up' } }] }],
        })
        return list.map((_, i) => painting.cell(i, 'x').icon)
      }
      const sum = (group: readonly Row[]): number => present(group).reduce((a, b) => a + b, 0)
      const share =
        (group: readonly Row[]) =>
        (row: Row): string | null =>
          sum(group) !== 0 && row.x / sum(group) > 0.25 && present(list).length > 1 ? 'up' : null
      const few = present(list).length < 2 || sum(list) === 0
      if (!few) expect(of('share(x)')).toEqual(list.map(share(list)))
      const group = (row: Row): Row[] => list.filter(({ region }) => region === row.region)
      // A judged value that is not comparable is left unpainted.
      const judged = list.filter((row) => !Number.isNaN(row.x) && sum(group(row)) !== 0)
      if (judged.length > 1) expect(of('share(x) within region')).toEqual(list.map((row) => share(group(row))(row)))
      const places = paint(tableOf(list), {
        rules: [{ paint: 'x', judge: 'rank(x) within region', bands: [{ atMost: 1, style: { icon: 'up' } }] }],
      })
      list.forEach((row, i) => {
        const better = list.filter((other) => other.region === row.region && other.x > row.x).length
        if (present(list).length > 1)
          expect(places.cell(i, 'x').icon).toBe(!Number.isNaN(row.x) && better === 0 ? 'up' : null)
      })
    }),
    RUNS,
  )
})

test('law 15: cells outside among are painted against its limits and have no rank; within all undoes a group', () => {
  fc.assert(
    fc.property(rows, (list) => {
      const inside = list.filter(({ region, x }) => region === 'Coast' && !Number.isNaN(x)).map(({ x }) => x)
      const coast = { paint: 'x', among: "region = 'Coast'" }
      const painting = paint(tableOf(list), {
        rules: [
          { ...coast, gradient: { ramp: ['#000000', '#ffffff'] } },
          { ...coast, rank: { top: 1, style: { weight: 'bold' } } },
        ],
      })
      const [low, high] = [Math.min(...inside), Math.max(...inside)]
      const all = paint(tableOf(list), {
        rules: [
          { paint: 'x', within: 'region', bands: [{ above: 'mean(value) within all', style: { icon: 'up' } }] },
          { paint: 'x', among: 'unfiltered', rank: { top: 1, style: { weight: 'bold' } } },
        ],
      })
      const values = present(list)
      const mean = values.reduce((a, b) => a + b, 0) / values.length
      list.forEach(({ x, region }, i) => {
        const look = painting.cell(i, 'x')
        if (Number.isNaN(x) || inside.length < 2) expect([look.fill, look.weight]).toEqual([null, null])
        else {
          if (x <= low && low < high) expect(look.fill).toBe('#000000')
          if (x >= high && low < high) expect(look.fill).toBe('#ffffff')
          expect(look.weight).toBe(region === 'Coast' && x === high ? 'bold' : null)
        }
        const present = list.filter((row) => row.region === region && !Number.isNaN(row.x)).length
        if (Math.abs(x - mean) > 1e-9) expect(all.cell(i, 'x').icon).toBe(present >= 2 && x > mean ? 'up' : null)
        if (values.length > 1) expect(all.cell(i, 'x').weight).toBe(x === Math.max(...values) ? 'bold' : null)
      })
    }),
    RUNS,
  )
})

test('law 22: direction is the plain sign, and an exhibit’s hide holds where no rule sets one', async () => {
  const x = Float64Array.from([-0.001, 0, 3, Number.NaN])
  const spec: PaintSpec = {
    rules: [{ paint: 'x', bands: [{ missing: { icon: 'bySign' } }, { otherwise: { icon: 'bySign' } }] }],
  }
  const painting = paint(fromColumns({ x }), spec)
  expect([0, 1, 2, 3].map((i) => painting.cell(i, 'x').icon)).toEqual(['down', 'sideways', 'up', 'sideways'])
  const page = await openReport(
    {
      title: 't',
      sources: { s: { file: 'd.csv' } },
      measures: { total: 'sum(amount)' },
      rules: [{ paint: 'total', bands: [{ above: 15, style: { icon: 'tick', hide: 'icon' } }] }],
      exhibits: [{ hide: 'value', table: { rows: 'shop', show: 'total' } }],
    },
    { s: 'shop,amount\nAsh,10\nElm,20\n' },
  )
  const [exhibit] = page.exhibits
  expect(exhibit.kind === 'table' && exhibit.rows.map(({ cells }) => cells[0]?.style.hide)).toEqual(['value', 'icon'])
})

test('law 20: best, worst and judged ramps turn with the direction of the measure', () => {
  const looks = (better: 'higher' | 'lower'): (string | null)[] => {
    const table = fromColumns({ x: Float64Array.from([1, 2, 3]) }, { columns: { x: { better } } })
    const painting = paint(table, {
      rules: [
        { paint: 'x', gradient: { ramp: 'badToGood' } },
        { paint: 'x', rank: { best: 1, style: { icon: 'sprig' } } },
      ],
    })
    return [0, 1, 2].flatMap((i) => [painting.cell(i, 'x').fill, painting.cell(i, 'x').icon])
  }
  const [higher, lower] = [looks('higher'), looks('lower')]
  expect(higher[5]).toBe('sprig')
  expect(lower[1]).toBe('sprig')
  expect([lower[4], lower[0]]).toEqual([higher[0], higher[4]])
})

test('law 21: a flag with a missing value is not shown, and its values are written in their formats', () => {
  const table = fromRows(
    [
      { x: 5, growth: 0.123 },
      { x: 6, growth: null },
    ],
    { columns: { growth: { format: 'percent 1 signed' }, x: { format: 'money EUR 0' } } },
  )
  const painting = paint(table, {
    statuses: { ahead: { label: 'Ahead', flag: '{value}, {growth} ({status})' } },
    rules: [{ paint: 'x', bands: [{ above: 0, status: 'ahead' }] }],
  })
  expect([painting.cell(0, 'x').flag, painting.cell(1, 'x').flag]).toEqual(['€5, +12.3% (Ahead)', null])
})

test('an own pigment gives a wash and an ink that can be read on it, and keeps its hue; a house name can be taken', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 0xffffff }), (color) => {
      const body = `#${color.toString(16).padStart(6, '0')}`
      const painting = paint(fromColumns({ x: Float64Array.from([1]) }), {
        pigments: { aqua: body },
        rules: [{ paint: 'x', bands: [{ above: 0, style: { wash: 'aqua' } }] }],
      })
      const { fill, ink } = painting.cell(0, 'x')
      expect(wcagContrast(fill ?? '', ink ?? '')).toBeGreaterThanOrEqual(4.5)
    }),
    RUNS,
  )
})

test('ramps, contrast and distances of colours are the colour library’s own', () => {
  const table = fromColumns({ x: Float64Array.from({ length: 6 }, (_, i) => i * 2) })
  const fills = paint(table, { rules: [{ paint: 'x', gradient: { ramp: ['#204080', '#f0e0c0'] } }] })
  const mix = interpolate(['#204080', '#f0e0c0'], 'oklab')
  for (let i = 0; i <= 5; i++) expect(fills.cell(i, 'x').fill).toBe(formatHex(mix(i / 5)))
  const statuses = { a: { fill: '#c4f0dc' }, b: { fill: '#a7e5e4' } }
  const near = proof(
    paint(table, { statuses, rules: [{ paint: 'x', bands: [{ above: 4, status: 'a' }, { otherwise: 'b' }] }] }),
  )
  const finding = near.find(({ code }) => code === 'too-close')
  const sights = [
    (c: NonNullable<ReturnType<typeof parse>>) => c,
    filterDeficiencyProt(1),
    filterDeficiencyDeuter(1),
    filterDeficiencyTrit(1),
  ]
  const [one, other] = ['#c4f0dc', '#a7e5e4'].map((c) => parse(c) ?? { mode: 'rgb' as const, r: 0, g: 0, b: 0 })
  expect(finding?.numbers.distance).toBeCloseTo(
    Math.min(...sights.map((see) => differenceCiede2000()(see(one), see(other)))),
    10,
  )
  const pale = proof(
    paint(table, { rules: [{ paint: 'x', bands: [{ above: 4, style: { fill: '#ffffff', ink: '#cccccc' } }] }] }),
  )
  expect(pale.find(({ code }) => code === 'contrast')?.numbers.contrast).toBeCloseTo(
    wcagContrast('#cccccc', '#ffffff'),
    10,
  )
})

test('percentiles and places over many values are those of sorting, outliers, ties and all', () => {
  const list = fc.array(
    fc.oneof(
      { weight: 20, arbitrary: fc.double({ min: -100, max: 100, noNaN: true }) },
      { weight: 5, arbitrary: fc.constant(3) },
      { weight: 1, arbitrary: fc.constantFrom(1e12, -1e9, Number.NaN) },
    ),
    { minLength: 4000, maxLength: 6000 },
  )
  fc.assert(
    fc.property(list, fc.integer({ min: 1, max: 99 }), fc.integer({ min: 1, max: 400 }), (values, p, k) => {
      const x = Float64Array.from(values, (v) => Number(v.toPrecision(12)))
      const painting = paint(fromColumns({ x }), {
        rules: [
          { paint: 'x', rank: { top: k, style: { weight: 'bold' } } },
          { paint: 'x', bands: [{ atLeast: `percentile(value, ${p}%)`, style: { icon: 'up' } }] },
        ],
      })
      const sorted = x.filter((v) => !Number.isNaN(v)).sort()
      const h = ((sorted.length - 1) * p) / 100
      const low = Math.floor(h)
      const limit = Number(
        (sorted[low] + (h - low) * (sorted[Math.min(sorted.length - 1, low + 1)] - sorted[low])).toPrecision(14),
      )
      const last = sorted[Math.max(0, sorted.length - k)]
      for (let i = 0; i < x.length; i += 1) {
        const look = painting.cell(i, 'x')
        expect(look.weight).toBe(x[i] >= last ? 'bold' : null)
        // Exactly at the limit the last digit decides, which differs between sums in another order.
        if (Math.abs(x[i] - limit) > Math.abs(limit) * 1e-12) expect(look.icon).toBe(x[i] > limit ? 'up' : null)
      }
    }),
    { seed: 20261123, numRuns: effort(12, 5) },
  )
})

test('places among values that are all alike, next to each other, or as far apart as numbers go', () => {
  const near = Number.MIN_VALUE
  const lists: Record<string, (i: number) => number> = {
    alike: () => 7,
    'alike but for one': (i) => (i === 4321 ? 1e9 : 7),
    'next to each other': (i) => (i % 3) * near,
    'far apart': (i) => [-1.7e308, 3, 1.7e308][i % 3],
    'ever nearer': (i) => 2 ** -(i % 1000),
    'some missing': (i) => (i % 7 === 0 ? Number.NaN : i % 5),
  }
  for (const [what, make] of Object.entries(lists))
    for (const length of [600, 40_000]) {
      const x = Float64Array.from({ length }, (_, i) => make(i))
      const sorted = x.filter((v) => !Number.isNaN(v)).sort()
      const k = sorted.length >> 2
      const painting = paint(fromColumns({ x }), {
        rules: [{ paint: 'x', rank: { top: k, style: { weight: 'bold' } } }],
      })
      const last = sorted[sorted.length - k]
      const wrong = x.findIndex((v, i) => (painting.cell(i, 'x').weight === 'bold') !== v >= last)
      expect(wrong, `${what}, ${length}`).toBe(-1)
    }
})
