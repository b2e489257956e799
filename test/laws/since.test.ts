import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { toData } from 'acuarela/data'
import { cellsOf, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { acuarela, folder } from '../support/tool.js'

const STATUSES = {
  good: { label: 'Good', verdict: 'good', wash: 'aqua' },
  fair: { label: 'Fair', verdict: 'fair', wash: 'straw' },
  bad: { label: 'Bad', verdict: 'bad', wash: 'coral' },
  odd: { wash: 'sky' },
}
const BANDS = [
  { atLeast: 60, status: 'good' },
  { atLeast: 40, status: 'fair' },
  { atLeast: 20, status: 'bad' },
  { atLeast: 10, status: 'odd' },
]
const spec = (exhibits: object[], more: object = {}): ReportSpec =>
  ({
    title: 'T',
    asOf: '2025-06-30',
    sources: { s: { file: 's.csv', date: 'day' } },
    measures: { revenue: { formula: 'sum(amount)', better: 'higher' } },
    statuses: STATUSES,
    rules: [{ name: 'limits', paint: 'revenue', bands: BANDS }],
    exhibits,
    ...more,
  }) as unknown as ReportSpec

const row = fc.tuple(
  fc.integer({ min: 0, max: 180 }),
  fc.constantFrom('a', 'b', 'c', 'd'),
  fc.constantFrom('x', 'y'),
  fc.integer({ min: 1, max: 30 }),
)
const csvOf = (rows: readonly (readonly [number, string, string, number])[]): string =>
  `day,shop,line,amount\n${rows
    .map(([day, shop, line, amount]) => {
      const date = new Date(Date.UTC(2025, 0, 1 + day)).toISOString().slice(0, 10)
      return `${date},${shop},${line},${amount}\n`
    })
    .join('')}`

/** The status and value of each detail cell of a page, by its keys. */
async function states(
  report: ReportSpec,
  csv: string,
): Promise<Map<string, { status: string | null; value: unknown }>> {
  const page = await openReport(report, { s: csv })
  return new Map(
    page.exhibits.flatMap((exhibit) =>
      cellsOf(exhibit)
        .filter(({ level }) => level.row === 'detail' && level.column === 'detail')
        .map(({ row, column, style, value }) => [JSON.stringify([row, column]), { status: style.status, value }]),
    ),
  )
}

const TABLES = [
  { rows: 'shop' },
  { rows: ['line', 'shop'] },
  { rows: 'shop', columns: 'month' },
  { rows: 'month' },
] as const

test('law 39: each cell is compared with the same report at the earlier date, found by its keys', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(row, { minLength: 30, maxLength: 90 }),
      fc.constantFrom(...TABLES),
      fc.constantFrom<[string, string]>(
        ['1 month', '2025-05-31'],
        ['2 weeks', '2025-06-16'],
        ['2025-03-12', '2025-03-12'],
      ),
      fc.constantFrom('all', 'this quarter', 'last 2 months', '2025'),
      async (rows, table, [since, then], period) => {
        // The first day has a row, so that the earlier date is inside the data.
        const csv = csvOf([[0, 'a', 'x', 1], ...rows])
        const exhibit = { name: 't', period, table: { ...table, show: 'revenue' } }
        const page = await openReport(spec([{ ...exhibit, since }]), { s: csv })
        const now = await states(spec([exhibit]), csv)
        const before = await states(spec([exhibit], { asOf: then }), csv)
        const moved = new Map(
          cellsOf(page.exhibits[0]).map(({ row, column, was }) => [JSON.stringify([row, column]), was]),
        )
        const verdicts = ['bad', 'fair', 'good']
        const counts: Record<string, number> = {}
        for (const [key, { status }] of now) {
          const past = before.get(key)
          const is = moved.get(key)
          if (past === undefined || past.status === status) {
            expect(is).toBeUndefined()
            continue
          }
          const [from, to] = [past.status, status].map((name) => verdicts.indexOf(name ?? ''))
          const move =
            past.status === null
              ? 'marked'
              : status === null
                ? 'cleared'
                : from < 0 || to < 0
                  ? 'changed'
                  : to < from
                    ? 'fell'
                    : 'rose'
          expect(is).toMatchObject({ status: past.status, value: past.value, move })
          counts[move] = (counts[move] ?? 0) + 1
        }
        const appeared = [...now.keys()].filter((key) => !before.has(key)).length
        const gone = [...before.keys()].filter((key) => !now.has(key)).length
        const none = { fell: 0, rose: 0, changed: 0, marked: 0, cleared: 0 }
        expect(page.exhibits[0].since).toMatchObject({ date: then, counts: { ...none, ...counts, appeared, gone } })
      },
    ),
    { numRuns: effort(200, 40), seed: 390 },
  )
})

test('law 39: months go from their end to their end; a date outside the data, and other words, are problems', async () => {
  const csv = csvOf([
    [0, 'a', 'x', 1],
    [58, 'a', 'x', 2],
  ])
  const at = async (asOf: string, since: string): Promise<string | undefined> =>
    (await openReport(spec([{ name: 't', since, table: { rows: 'shop', show: 'revenue' } }], { asOf }), { s: csv }))
      .exhibits[0].since?.date
  expect(await at('2025-02-28', '1 month')).toBe('2025-01-31')
  expect(await at('2025-03-31', '1 month')).toBe('2025-02-28')
  expect(await at('2025-03-30', '1 month')).toBe('2025-02-28')
  expect(await at('2025-02-15', '2 weeks')).toBe('2025-02-01')
  for (const [since, code] of [
    ['1 year', 'since-outside'],
    ['2025-03-31', 'since-outside'],
    ['2024-12-31', 'since-outside'],
    ['last month', 'bad-since'],
    ['0 months', 'bad-since'],
    ['1 months', 'bad-since'],
    ['2025-02', 'bad-since'],
  ])
    await expect(at('2025-03-31', since)).rejects.toMatchObject({ problems: [{ code }] })
})

const WORLD = csvOf([
  [0, 'a', 'x', 70],
  [10, 'b', 'x', 45],
  [20, 'c', 'x', 5],
  [30, 'd', 'x', 25],
  [160, 'b', 'y', 20],
  [165, 'c', 'x', 7],
  [166, 'd', 'y', 36],
  [170, 'e', 'y', 50],
])
const YAML = (more = ''): string => `title: T
locale: en-GB
asOf: 2025-06-30
sources: { s: { file: s.csv, date: day } }
measures: { revenue: { formula: sum(amount), better: higher } }
statuses:
  good: { label: Good, verdict: good, wash: aqua, icon: tick }
  fair: { label: Fair, verdict: fair, wash: straw, icon: dash }
  bad: { label: Bad, verdict: bad, wash: coral, icon: cross }
  odd: { wash: sky }
rules:
  - name: limits
    paint: revenue
    bands:
      - { atLeast: 60, status: good }
      - { atLeast: 40, status: fair }
      - { atLeast: 20, status: bad }
      - { atLeast: 10, status: odd }
exhibits:
  - { name: shops, table: { rows: shop, show: revenue } }
${more}`

/** b: 45 to 65, c: 5 to 12, d: 25 to 61, e: none to 50. */
const MOVED = [
  ['b', 'fair', 'good', 'rose'],
  ['c', null, 'odd', 'marked'],
  ['d', 'bad', 'good', 'rose'],
]

test('law 40: tally lists what it counts, with a matrix of statuses, and checks what is expected', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': YAML(), 's.csv': WORLD })
  const since = ['tally', 'r.acuarela.yaml', '--since', '1 month']
  const { out, code } = await acuarela([...since, '--json', '--expect', 'rose = 2', '--expect', 'fell = 0'], cwd)
  const data = JSON.parse(out)
  expect(code).toBe(0)
  expect(data.since).toBe('2025-05-31')
  expect(
    data.moved.map((cell: never) => {
      const { row, from, to, move } = cell as { row: { shop: string } } & Record<string, { status: string }>
      return [row.shop, from.status, to.status, move]
    }),
  ).toEqual(MOVED)
  expect(data.appeared.map(({ row, status }: { row: object; status: string }) => [row, status])).toEqual([
    [{ shop: 'e' }, 'fair'],
  ])
  expect(data.gone).toEqual([])
  expect(data.matrices).toEqual([
    {
      exhibit: 'shops',
      measure: 'revenue',
      statuses: ['good', 'fair', 'bad', 'odd', null],
      labels: ['Good', 'Fair', 'Bad', 'odd', 'none'],
      counts: [
        [1, 0, 0, 0, 0],
        [1, 0, 0, 0, 0],
        [1, 0, 0, 0, 0],
        [0, 0, 0, 0, 0],
        [0, 0, 0, 1, 0],
      ],
    },
  ])
  const text = await acuarela([...since, '--expect', 'shops.rose <= 1'], cwd)
  expect(text.code).toBe(1)
  expect(text.out).toContain('2 cells rose to a better status\n  shops.revenue  b  45 → 65  Fair → Good\n')
  expect(text.out).toContain('not as expected: shops.rose <= 1 (2)')
  expect((await acuarela([...since, '--against', 'x=1'], cwd)).err).toContain('give one of them')
  const unknown = await acuarela([...since, '--expect', 'fel = 1'], cwd)
  expect([unknown.code, unknown.err]).toEqual([2, expect.stringContaining('did you mean fell')])
})

test('law 40: painted data that were saved are compared with what is there now', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': YAML(), 's.csv': WORLD })
  const save = ['paint', 'r.acuarela.yaml', '--to', 'json', '--as-of', '2025-05-31', '--out', 'saved.json']
  expect((await acuarela(save, cwd)).code).toBe(0)
  const published = async () => JSON.parse((await acuarela([...against, '--json'], cwd)).out)
  const against = ['tally', 'r.acuarela.yaml', '--against', 'saved.json']
  const since = JSON.parse((await acuarela(['tally', 'r.acuarela.yaml', '--since', '1 month', '--json'], cwd)).out)
  const { moved, appeared, gone, matrices, since: date } = await published()
  expect({ moved, appeared, gone, matrices, date }).toEqual({
    moved: since.moved,
    appeared: since.appeared,
    gone: since.gone,
    matrices: since.matrices,
    date: '2025-05-31',
  })
  // Data that are damaged, of another version, or not alone.
  const saved = await readFile(join(cwd, 'saved.json'), 'utf8')
  for (const [text, why] of [
    [saved.replace('"acuarela": 2', '"acuarela": 1'), 'its version is 1'],
    [saved.replace('"measure":"revenue","value"', '"measure":7,"value"'), 'cell 1 of shops is not a painted cell'],
    ['{"acuarela":2,"exhibits":7}', 'it has no list of exhibits'],
  ]) {
    await writeFile(join(cwd, 'saved.json'), text)
    const { code, err } = await acuarela(against, cwd)
    expect([code, err]).toEqual([2, expect.stringContaining(why)])
  }
  await writeFile(join(cwd, 'saved.json'), saved)
  expect((await acuarela([...against, '--against', 'x=1'], cwd)).err).toContain('compared by itself')
})

test('law 41: a page marks what moved, and so do a list of moves, the reading, why and every output', async () => {
  const cwd = await folder({
    'r.acuarela.yaml': YAML(`  - { name: moved, moves: { of: revenue, by: shop } }
  - { name: words, reading: { of: revenue, by: shop } }
since: 1 month
`),
    's.csv': WORLD,
  })
  const text = (await acuarela(['paint', 'r.acuarela.yaml', '--width', '150'], cwd)).out
  expect(text).toContain('since 31 May 2025 (Jan 2025 to May 2025): ▲ 2 rose, + 1 marked, 1 appeared')
  expect(text).toContain(
    'Since 31 May 2025, c went from no status to odd; b rose from Fair to Good and d from Bad to Good.',
  )
  const [moved] = /^moved\n[\s\S]*?\n\n/m.exec(text.replaceAll(/ +/g, ' ')) ?? ['']
  expect(moved.split('\n').slice(1, 6)).toEqual([
    expect.stringMatching(/^revenue, 3 of 5 · /),
    'Shop From To 31 May 2025 30 June 2025',
    'c odd 5 12 + (odd)',
    'b – Fair ✓ Good – 45 ✓ 65 ▲',
    'd ✗ Bad ✓ Good ✗ 25 ✓ 61 ▲',
  ])
  const why = (await acuarela(['why', 'r.acuarela.yaml', 'shops.revenue', 'shop=b'], cwd)).out
  expect(why).toContain('It was Fair, 45 on 31 May 2025.')
  const csv = (await acuarela(['paint', 'r.acuarela.yaml', '--to', 'csv'], cwd)).out.split('\r\n')
  expect(csv[0]).toMatch(/,move,was\.status,was\.value,was\.text$/)
  expect(csv.find((line) => line.startsWith('shops,table,b'))).toMatch(/,rose,fair,45,45$/)
  const page = await openReport(await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8'), { s: WORLD })
  const data = toData(page) as { exhibits: { cells: { row: object; style: object; was?: object }[] }[] }
  // The sign is drawn beside the number; the flag of a rule stays what the rule gave.
  expect(data.exhibits[0].cells[1]).toMatchObject({
    style: { status: 'good', flag: null },
    was: { move: 'rose', status: 'fair', value: 45, text: '45' },
  })
  await writeFile(join(cwd, 'late.acuarela.yaml'), YAML('  - { name: moved, moves: { of: revenue, by: shop } }\n'))
  expect((await acuarela(['paint', 'late.acuarela.yaml'], cwd)).err).toContain('write the date, as in since: 1 month')
})
