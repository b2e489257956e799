import { fromColumns, paint } from 'acuarela'
import { toData } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { cellsOf, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { acuarela, folder } from '../support/tool.js'

const row = fc.record({
  region: fc.constantFrom('N', 'S', 'W'),
  shop: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
  kind: fc.constantFrom('x', 'y', ''),
  amount: fc.oneof(fc.integer({ min: -9, max: 40 }), fc.constant(null)),
})
type Row = { region: string; shop: string; kind: string; amount: number | null }
const rows = fc.array(row, { minLength: 1, maxLength: 30 })
const csvOf = (list: readonly Row[]): string =>
  `region,shop,kind,amount\n${list.map((r) => `${r.region},${r.shop},${r.kind},${r.amount ?? ''}\n`).join('')}`
const spec = (exhibit: object, more: object = {}): ReportSpec =>
  ({
    title: 'T',
    sources: { s: { file: 's.csv', read: { amount: 'number' } } },
    measures: { total: { formula: 'sum(amount)', better: 'higher' } },
    statuses: { good: { label: 'Good', wash: 'aqua', icon: 'tick' }, bad: { label: 'Bad', wash: 'coral' } },
    exhibits: [{ name: 't', ...exhibit }],
    ...more,
  }) as unknown as ReportSpec

/** The sum of amounts; null where none has one. */
const sumOf = (list: readonly Row[]): number | null =>
  list.every(({ amount }) => amount === null) ? null : list.reduce((sum, { amount }) => sum + (amount ?? 0), 0)
const keysOf = (keys: readonly { value: string | null }[]): string => keys.map(({ value }) => value ?? '').join('/')

test('law 42: the first n of a table are the best over all groups; others add up, dropped groups in one row', async () => {
  await fc.assert(
    fc.asyncProperty(rows, fc.integer({ min: 1, max: 6 }), fc.boolean(), async (list, count, falling) => {
      const table = {
        rows: ['region', { key: 'shop', first: { count, of: 'table' }, others: 'Rest' }],
        show: 'total',
        totals: 'top',
        sort: falling ? '-total' : 'total',
      }
      const page = await openReport(spec({ table }), { s: csvOf(list) })
      const shown = new Map(cellsOf(page.exhibits[0]).map(({ row, value }) => [keysOf(row), value]))
      const groups = [...new Set(list.map((r) => `${r.region}/${r.shop}`))].sort()
      const of = (test: (r: Row) => boolean): number | null => sumOf(list.filter(test))
      const value = (key: string): number | null => of((r) => `${r.region}/${r.shop}` === key)
      const place = (key: string): number => value(key) ?? (falling ? -1e9 : 1e9)
      const best = [...groups].sort((a, b) => (falling ? place(b) - place(a) : place(a) - place(b))).slice(0, count)
      const regions = new Set(best.map((key) => key[0]))
      const wanted = new Map<string, number | null>([['', sumOf(list)]])
      for (const key of best) wanted.set(key, value(key))
      for (const region of regions) {
        wanted.set(
          region,
          of((r) => r.region === region),
        )
        const lost = groups.filter((key) => key[0] === region && !best.includes(key))
        if (lost.length > 0)
          wanted.set(
            `${region}/Rest`,
            of((r) => lost.includes(`${r.region}/${r.shop}`)),
          )
      }
      if (groups.some((key) => !regions.has(key[0])))
        wanted.set(
          'Rest',
          of((r) => !regions.has(r.region)),
        )
      expect(new Map([...shown].sort())).toEqual(new Map([...wanted].sort()))
    }),
    { numRuns: effort(300, 60), seed: 420 },
  )
})

const BANDS = { name: 'limits', paint: 'total', bands: [{ atLeast: 20, status: 'good' }, { otherwise: 'bad' }] }

test('law 43: showing hides rows after everything is decided', async () => {
  await fc.assert(
    fc.asyncProperty(rows, fc.boolean(), async (list, split) => {
      const table = {
        rows: ['region', 'shop'],
        show: 'total',
        totals: 'bottom',
        ...(split && { columns: 'kind' }),
      }
      const rank = { name: 'best', paint: 'total', rank: { best: 2, style: { weight: 'bold' } } }
      const more = { rules: [rank, BANDS] }
      const all = await openReport(spec({ table }, more), { s: csvOf(list) })
      const some = await openReport(spec({ showing: { status: 'good', of: 'total' }, table }, more), { s: csvOf(list) })
      const [full, part] = [all, some].map(({ exhibits: [exhibit] }) =>
        cellsOf(exhibit).map((cell) => ({
          key: keysOf(cell.row),
          at: `${keysOf(cell.row)} ${keysOf(cell.column)} ${cell.level.row}`,
          detail: cell.level.row === 'detail' && cell.level.column === 'detail',
          value: cell.value,
          style: cell.style,
        })),
      )
      const kept = new Set(full.filter(({ detail, style }) => detail && style.status === 'good').map(({ key }) => key))
      const regions = new Set([...kept].map((key) => key.split('/')[0]))
      const wanted = full.filter(({ key }) => key === '' || kept.has(key) || regions.has(key))
      expect(part.map(({ at }) => at)).toEqual(wanted.map(({ at }) => at))
      expect(part).toEqual(wanted)
      expect(some.exhibits[0].legends).toEqual(all.exhibits[0].legends)
      expect(some.strip).toEqual(all.strip)
      const count = new Set(list.map((r) => `${r.region}/${r.shop}`)).size
      expect(some.exhibits[0].messages[0]).toBe(`${kept.size} of ${count} rows, those where total is Good, are shown`)
    }),
    { numRuns: effort(150, 40), seed: 430 },
  )
})

test('law 44: records are grouped, sorted by several columns, and the first n of each group are shown', async () => {
  await fc.assert(
    fc.asyncProperty(
      rows,
      fc.constantFrom(undefined, 'region', 'kind'),
      fc.subarray(['shop', '-amount', 'kind'], { minLength: 1 }),
      fc.constantFrom(undefined, 1, 2, 3),
      async (list, group, sort, first) => {
        const records = { show: ['shop', 'kind', 'amount'], sort, ...(group && { group }), ...(first && { first }) }
        const page = await openReport(spec({ records }), { s: csvOf(list) })
        const [exhibit] = page.exhibits
        if (exhibit.kind !== 'records') throw new Error('no records')
        const value = (r: Row, name: string): string | number | null => {
          const own = r[name as keyof Row]
          return own === '' ? null : own
        }
        const compare = (a: Row, b: Row, name: string, sign: number): number => {
          const [left, right] = [value(a, name), value(b, name)]
          if (left === null || right === null) return Number(left === null) - Number(right === null)
          return sign * (left < right ? -1 : left > right ? 1 : 0)
        }
        const order = list
          .map((r, i) => ({ r, i }))
          .sort((a, b) => {
            for (const text of [...(group ? [group] : []), ...sort]) {
              const by = compare(a.r, b.r, text.replace('-', ''), text.startsWith('-') ? -1 : 1)
              if (by !== 0) return by
            }
            return a.i - b.i
          })
        const seen = new Map<string, number>()
        const groupOf = (r: Row): string => (group === undefined ? '' : String(value(r, group) ?? `(no ${group})`))
        const wanted = order.filter(({ r }) => {
          const before = seen.get(groupOf(r)) ?? 0
          seen.set(groupOf(r), before + 1)
          return first === undefined || (group === undefined ? (seen.get('') ?? 0) : before + 1) <= first
        })
        expect(exhibit.records.map(({ record }) => record - 1)).toEqual(wanted.map(({ i }) => i))
        const heads = wanted.flatMap(({ r }, at) =>
          group !== undefined && (at === 0 || groupOf(wanted[at - 1].r) !== groupOf(r))
            ? [`${groupOf(r)} · ${seen.get(groupOf(r))}`]
            : [],
        )
        expect(exhibit.records.flatMap(({ group }) => group ?? [])).toEqual(heads)
      },
    ),
    { numRuns: effort(300, 60), seed: 440 },
  )
})

const LIST: Row[] = [
  { region: 'N', shop: 'a', kind: 'x', amount: 30 },
  { region: 'N', shop: 'b', kind: 'x', amount: 10 },
  { region: 'S', shop: 'c', kind: 'y', amount: 25 },
  { region: 'S', shop: 'd', kind: 'y', amount: 5 },
]

test('law 45: a column shows the status of a measure, a condition of an exhibit reads a parameter, columns of records share a scale', async () => {
  const light = { table: { rows: 'shop', show: [{ status: 'total', label: 'Light' }, 'total'] } }
  const page = await openReport(spec(light, { rules: [BANDS] }), { s: csvOf(LIST) })
  const data = toData(page) as { exhibits: { cells: { text: string; value: number; style: { status: string } }[] }[] }
  expect(data.exhibits[0].cells.map(({ text, value, style }) => [text, value, style.status])).toEqual([
    ['Good', 30, 'good'],
    ['30', 30, 'good'],
    ['Bad', 10, 'bad'],
    ['10', 10, 'bad'],
    ['Good', 25, 'good'],
    ['25', 25, 'good'],
    ['Bad', 5, 'bad'],
    ['5', 5, 'bad'],
  ])
  const narrowed = spec(
    { where: 'amount >= least', table: { rows: 'shop', show: 'total' } },
    { parameters: { least: 20 } },
  )
  const shops = async (parameters: Record<string, number>): Promise<string[]> =>
    cellsOf((await openReport(narrowed, { s: csvOf(LIST) }, { parameters })).exhibits[0]).map(({ row }) => keysOf(row))
  expect([await shops({}), await shops({ least: 6 })]).toEqual([
    ['a', 'c'],
    ['a', 'b', 'c'],
  ])
  const fields = { s: { half: 'amount / 2' } }
  const scale = {
    name: 'scale',
    paint: ['amount', 'half'],
    oneScale: true,
    rank: { top: 2, style: { weight: 'bold' } },
  }
  const records = await openReport(spec({ records: { show: ['amount', 'half'] } }, { fields, rules: [scale] }), {
    s: csvOf(LIST),
  })
  // Of 30 10 25 5 and 15 5 12.5 2.5 together the first two are 30 and 25.
  expect(cellsOf(records.exhibits[0]).map(({ style }) => style.weight === 'bold')).toEqual([
    true,
    false,
    false,
    false,
    true,
    false,
    false,
    false,
  ])
})

test('law 45: {judged} in a flag is what the rule judged, in reports and in plain tables', async () => {
  const rule = { name: 'r', paint: 'total', judge: 'total - 20', bands: [{ above: 2, style: { flag: '{judged}!' } }] }
  const page = await openReport(spec({ table: { rows: 'shop', show: 'total' } }, { rules: [rule] }), { s: csvOf(LIST) })
  expect(cellsOf(page.exhibits[0]).map(({ flag }) => flag)).toEqual(['10!', null, '5!', null])
  const table = fromColumns({ total: [30, 10, 25] })
  const painting = paint(table, { rules: [rule as never] })
  expect([0, 1, 2].map((at) => painting.cell(at, 'total').flag)).toEqual(['10!', null, '5!'])
})

test('rules --cells lists what a rule was applied to, painted or not', async () => {
  const report = spec(
    { table: { rows: 'shop', show: 'total' } },
    {
      rules: [
        { name: 'first', paint: 'total', where: "shop != 'd'", bands: [{ above: 25, style: { wash: 'sky' } }] },
        BANDS,
      ],
    },
  )
  const cwd = await folder({ 'r.acuarela.json': JSON.stringify(report), 's.csv': csvOf(LIST) })
  const cells = async (...name: string[]) =>
    JSON.parse((await acuarela(['rules', 'r.acuarela.json', '--json', '--cells', ...name], cwd)).out) as {
      rule: string
      row: { shop: string }
      value: number
      part: string | null
      won: string[]
      lost: string[]
    }[]
  const told = (await cells()).map(({ rule, row, value, part, won, lost }) =>
    [rule, row.shop, value, part, won.join(' '), lost.join(' ')].join(', '),
  )
  expect(told).toEqual([
    'first, a, 30, sky fill, fill ink, ',
    'first, b, 10, , , ',
    'first, c, 25, , , ',
    'limits, a, 30, Good, status icon, fill ink',
    'limits, b, 10, Bad, status fill ink, ',
    'limits, c, 25, Good, status fill ink icon, ',
    'limits, d, 5, Bad, status fill ink, ',
  ])
  expect((await cells('limits')).length).toBe(4)
  const text = (await acuarela(['rules', 'r.acuarela.json', '--cells', 'limits'], cwd)).out
  expect(text).toBe(`limits: 4 cells
  t.total    a  30  Good  partly painted
  t.total    b  10  Bad   painted
  t.total    c  25  Good  painted
  t.total    d   5  Bad   painted
`)
  const unknown = await acuarela(['rules', 'r.acuarela.json', '--cells', 'limit'], cwd)
  expect([unknown.code, unknown.err]).toEqual([2, expect.stringContaining('did you mean limits')])
})

test('what cannot be shown so is refused with the fix', async () => {
  const refused = async (exhibit: object, more: object = {}): Promise<string> =>
    openReport(spec(exhibit, more), { s: csvOf(LIST) }).then(
      () => 'nothing',
      (error: Error) => error.message,
    )
  const first = { key: 'region', first: { count: 2, of: 'table' } }
  expect(await refused({ table: { rows: [first, 'shop'], show: 'total' } })).toContain('stand on the innermost key')
  const table = { rows: 'shop', show: 'total' }
  expect(await refused({ showing: { status: 'goo', of: 'total' }, table })).toContain('did you mean good')
  expect(await refused({ showing: { status: 'good', of: 'totals' }, table })).toContain('is not shown here')
  expect(await refused({ showing: { status: 'good', of: 'total' }, cards: [{ show: 'total' }] })).toContain('has none')
  const records = { show: ['shop', 'amount'], group: 'regio' }
  expect(await refused({ records })).toContain('did you mean region')
  expect(await refused({ records: { ...records, group: 'region', oneAtATime: true } })).toContain('have no groups')
  expect(await refused({ records: { show: ['shop', 'amount'], sort: ['shop', '-amoun'] } })).toContain('amoun')
  expect(await refused({ table: { rows: 'shop', show: [{ status: 'total', draw: 'bar' }] } })).toContain(
    'draw is for a',
  )
})

test('law 49: a chart along several keys has the rows of a table with these keys, the groups together', async () => {
  const count = fc.oneof(fc.constant(undefined), fc.integer({ min: 1, max: 4 }))
  await fc.assert(
    fc.asyncProperty(rows, count, fc.boolean(), async (list, count, over) => {
      const first = over && count !== undefined ? { count, of: 'table' } : count
      const keys = ['region', { key: 'shop', ...(first && { first, others: 'Rest' }) }]
      const of = async (exhibit: object): Promise<[string, string | number | null][]> => {
        const page = await openReport(spec({ ...exhibit }), { s: csvOf(list) })
        return cellsOf(page.exhibits[0]).map(({ row, value }) => [keysOf(row), value])
      }
      const table = await of({ table: { rows: keys, show: 'total' } })
      const marks = await of({ chart: { along: keys, show: 'total' } })
      const deepest = table.filter(([key]) => key.includes('/'))
      expect(marks.filter(([key]) => key.includes('/'))).toEqual(deepest)
      // The others of the outer key are a row of the table and a place of the chart.
      expect(marks.length).toBe(deepest.length + table.filter(([key]) => key === 'Rest').length)
      const groups = marks.map(([key]) => key.split('/')[0])
      expect(groups.filter((group, i) => group !== groups[i - 1])).toEqual([...new Set(groups)])
    }),
    { numRuns: effort(200, 50), seed: 490 },
  )
})

test('law 49: lines of a chart end with their group', async () => {
  const list = ['N', 'S'].flatMap((region) => ['a', 'b', 'c'].map((shop) => ({ region, shop, kind: 'x', amount: 5 })))
  const chart = { along: ['region', 'shop'], show: { show: 'total', draw: 'line' } }
  const page = await openReport(spec({ chart }), { s: csvOf(list) })
  const html = await toHtml(page)
  const lines = [...html.matchAll(/<path [^>]*?\bd="(M[^"Z]*)"/g)].filter(([, d]) => d.includes('L'))
  expect(lines.map(([, d]) => d.split('L').length)).toEqual([3, 3])
  expect(html).toMatch(/<text[^>]*>N<\/text>/)
})
