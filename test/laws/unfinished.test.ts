import { toData } from 'acuarela/data'
import { openReport, type ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'
import { acuarela, folder } from '../support/tool.js'

const DAYS = ['2025-01-10', '2025-02-10', '2025-03-10', '2025-04-10', '2025-05-10']
const SALES = `day,shop,amount\n${DAYS.flatMap((day, i) => [`${day},a,${10 * (i + 1)}`, `${day},b,5`]).join('\n')}\n`
const spec = (exhibit: object, rule: object = {}): ReportSpec =>
  ({
    title: 'T',
    asOf: '2025-05-17',
    period: '2025',
    sources: { s: { file: 's.csv', date: 'day' } },
    measures: { revenue: 'sum(amount)' },
    statuses: { good: { wash: 'aqua' } },
    rules: [{ name: 'all', paint: 'revenue', levels: 'all', bands: [{ above: 0, status: 'good' }], ...rule }],
    exhibits: [{ name: 't', table: { rows: 'month', show: 'revenue', totals: 'bottom' }, ...exhibit }],
  }) as unknown as ReportSpec

interface Painted {
  exhibits: { cells: { row: Record<string, string>; value: number | null; style: { status: string | null } }[] }[]
}
const cells = async (report: ReportSpec): Promise<[string, number | null, string | null][]> => {
  const [{ cells }] = (toData(await openReport(report, { s: SALES })) as unknown as Painted).exhibits
  return cells
    .filter(({ value }) => value !== null)
    .map(({ row, value, style }) => [Object.values(row).join(' '), value, style.status])
}

test('law 36: cells whose own period is not over are painted, left unpainted, or left out with their rows', async () => {
  const painted = await cells(spec({}))
  expect(painted.map(([key]) => key)).toEqual(['2025-01', '2025-02', '2025-03', '2025-04', '2025-05', ''])
  expect(painted.every(([, , status]) => status === 'good')).toBe(true)
  // The total has no period of its own, so it is judged.
  const unpainted = painted.map(([key, value]) => [key, value, key === '2025-05' ? null : 'good'])
  expect(await cells(spec({ unfinished: 'unpainted' }))).toEqual(unpainted)
  expect(await cells(spec({}, { unfinished: 'unpainted' }))).toEqual(unpainted)
  expect(await cells(spec({ unfinished: 'leaveOut' }))).toEqual([
    ['2025-01', 15, 'good'],
    ['2025-02', 25, 'good'],
    ['2025-03', 35, 'good'],
    ['2025-04', 45, 'good'],
    ['', 120, 'good'],
  ])
  const nested = { unfinished: 'leaveOut', table: { rows: ['quarter', 'month'], show: 'revenue' } }
  expect((await cells(spec(nested))).map(([key]) => key)).toEqual([
    '2025-Q1 2025-01',
    '2025-Q1 2025-02',
    '2025-Q1 2025-03',
  ])
  // A month that ends on the date of the report is over.
  const over = (unfinished: string) => cells({ ...spec({ unfinished }), asOf: '2025-04-30' })
  expect((await over('leaveOut')).map(([key]) => key)).toEqual(['2025-01', '2025-02', '2025-03', '2025-04', ''])
  expect((await over('unpainted')).every(([, , status]) => status === 'good')).toBe(true)
  // Without a key of time nothing is unfinished.
  const shops = { table: { rows: 'shop', show: 'revenue' } }
  for (const unfinished of ['unpainted', 'leaveOut'])
    expect(await cells(spec({ ...shops, unfinished }))).toEqual(await cells(spec(shops)))
})

test('law 36: why and rules say so, and proof finds limits for whole periods beside an unfinished one', async () => {
  const yaml = (rule: string): string => `title: T
asOf: 2025-05-17
sources: { s: { file: s.csv, date: day } }
measures: { revenue: sum(amount), mean: mean(amount) }
statuses: { good: { wash: aqua, icon: tick }, bad: { wash: coral, icon: cross } }
rules:
  - { name: typed, ${rule} }
exhibits:
  - { name: t, table: { rows: month, show: [revenue, mean] } }
`
  const found = async (rule: string): Promise<number> => {
    const cwd = await folder({ 's.csv': SALES, 'r.acuarela.yaml': yaml(rule) })
    const { out } = await acuarela(['proof', 'r.acuarela.yaml', '--json'], cwd)
    return (JSON.parse(out) as { code: string }[]).filter(({ code }) => code === 'unfinished-judged').length
  }
  const bands = 'bands: [{ atLeast: 40, status: good }, { otherwise: bad }]'
  expect(await found(`paint: revenue, ${bands}`)).toBe(1)
  expect(await found(`paint: revenue, unfinished: unpainted, ${bands}`)).toBe(0)
  expect(await found(`paint: mean, ${bands}`)).toBe(0)
  expect(await found('paint: revenue, bands: [{ above: 0, status: good }, { otherwise: bad }]')).toBe(0)
  const cwd = await folder({
    's.csv': SALES,
    'r.acuarela.yaml': yaml(`paint: revenue, unfinished: unpainted, ${bands}`),
  })
  const why = await acuarela(['why', 'r.acuarela.yaml', 't.revenue', 'month=2025-05'], cwd)
  expect(why.out).toContain('typed: not applied, the period of this cell is unfinished.')
  const rules = await acuarela(['rules', 'r.acuarela.yaml'], cwd)
  expect(rules.out).toContain('unfinished periods unpainted')
  expect(rules.out.replace(/\s+/g, ' ')).toContain('unfinished periods stay unpainted')
})
