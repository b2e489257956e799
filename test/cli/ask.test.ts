import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { some } from '../support/effort.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, folder } from '../support/tool.js'

const SPRING = 'examples/brezal/spring.acuarela.yaml'

test('rules: every rule as a sentence, with the cells it covers, paints and loses', async () => {
  const { code, out, err } = await acuarela(['rules', SPRING])
  expect([code, err]).toEqual([0, ''])
  const text = out.replace(/\n\s+/g, ' ')
  expect(text).toContain(
    'revenue of each shop in shops, inWords and toActOn: at least targetLevel of target → ahead; at least 80% of targetLevel of target → close; otherwise → behind Revenue of each shop in shops, inWords and toActOn: On target at 100% (Target level) of Target or more, Near target at 80% (80% of Target level) of Target or more, Behind below; missing values stay unpainted.',
  )
  expect(text).toContain('shops.revenue, details: 9 cells, 9 painted')
  expect(text).toContain('Margin in shops: Leading for the best one (the best is the highest)')
  const brief = await acuarela(['rules', SPRING, '--brief'])
  expect(brief.out.split('\n')).toHaveLength(11)
  expect(brief.out).toContain(
    '\nrevenue in seasons within line: shade from paper at 0 to aqua at the 95th percentile\n',
  )
  const rules = JSON.parse((await acuarela(['rules', SPRING, '--json'])).out) as { rule: string; places: object[] }[]
  expect(rules.map(({ rule }) => rule)).toEqual([
    'againstTarget',
    'quarterOnLastYear',
    'quarterOnPlan',
    'offPlan',
    'regionalBest',
    'seasonShade',
    'monthlyTarget',
    'sinceLastYear',
    'lineSize',
    'tradeOrders',
  ])
})

test('why: a cell by its keys, the total without any, and candidates where several fit', async () => {
  const cell = await acuarela(['why', SPRING, 'shops.revenue', 'shop=Larkmoor'])
  expect(cell.code).toBe(0)
  expect(cell.out).toContain('Revenue is €47,881.')
  expect(cell.out).toMatch(/status {2}Behind +againstTarget/)
  expect(cell.out).toContain('at least €60,000 (100% (Target level) of Target): no; at least €48,000')
  const total = await acuarela(['why', SPRING, 'shops.gap'])
  expect(total.out).toContain('Total (shops)')
  expect(total.out).toContain('not applied, it is for details only')
  const several = await acuarela(['why', SPRING, 'seasons.revenue', 'line=Roses'])
  expect(several.out).toContain('36 cells match; name one with its keys:')
  expect(several.out).toContain('line=Roses month=2023-03')
  const data = JSON.parse((await acuarela(['why', SPRING, 'shops.revenue', 'shop=Larkmoor', '--json'])).out)
  expect(data.why.rules[0]).toMatchObject({
    rule: 'againstTarget',
    won: ['status', 'fill', 'ink', 'weight', 'icon'],
    lost: [],
  })
  expect(data.why.rules[0].findings.map((f: { limit?: number; holds?: boolean }) => [f.limit, f.holds])).toEqual([
    [60000, false],
    [48000, false],
    [undefined, undefined],
  ])
})

/** A small report that is read quickly. */
const SMALL = {
  'd.csv': 'shop,amount\nAsh,30\nElm,10\n',
  'r.acuarela.yaml': `title: t
sources: { s: { file: d.csv } }
measures: { revenue: sum(amount) }
parameters: { target: 20 }
statuses: { ahead: { wash: aqua, icon: tick }, behind: { wash: coral, icon: cross } }
rules: [{ name: target, paint: revenue, bands: [{ atLeast: target, status: ahead }, { otherwise: behind }] }]
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`,
}

test('what is misspelt in a question is reported with the fix', async () => {
  const cwd = await folder(SMALL)
  const asked = async (command: string, ...args: string[]): Promise<string> => {
    const { code, out, err } = await acuarela([command, 'r.acuarela.yaml', ...args], cwd)
    expect([code, out]).toEqual([2, ''])
    return err
  }
  const answers = await Promise.all([
    asked('why', 'shop.revenue'),
    asked('why', 'shops.revenu'),
    asked('why', 'revenue'),
    asked('why', 'shops.revenue', 'shops=Ash'),
    asked('why', 'shops.revenue', 'shop=Nowhere'),
    asked('why', 'shops.revenue', 'Ash'),
    asked('rehearse', '--rule', 'targt'),
    asked('tally', '--expect', 'behnd <= 3'),
    asked('tally', '--expect', 'behind'),
    asked('tally', '--against', '70000'),
  ])
  const ways = [
    'unknown exhibit: shop; did you mean shops?',
    'unknown measure: revenu; did you mean revenue?',
    'write them with a dot, as in shops.revenue',
    'is not split by shops; did you mean shop?',
    'no cell of this exhibit is shop=Nowhere; there are Ash, Elm',
    'write it as shop=Larkmoor',
    'unknown rule: targt; did you mean target?',
    'unknown status: behnd; did you mean behind?',
    'write a status and a limit',
    'write it as target=70000',
  ]
  for (const [i, way] of ways.entries()) expect(answers[i]).toContain(way)
})

test('tally: counts are those of the painted data, and what is expected decides the exit code', async () => {
  const { out } = await acuarela(['tally', SPRING, '--json'])
  const { statuses, readings } = JSON.parse(out) as {
    readings: string[]
    statuses: { exhibit: string; measure: string; status: string; count: number }[]
  }
  const painted = JSON.parse((await acuarela(['paint', SPRING, '--to', 'json'])).out) as Painted
  for (const { exhibit, measure, status, count } of statuses) {
    // A list shows only its statuses, and adds no counts.
    if (readings.includes(exhibit)) continue
    const cells = exhibitOf(painted, exhibit).cells.filter(
      (cell) => cell.measure === measure && cell.level.row === 'detail' && cell.level.column === 'detail',
    )
    expect(cells.filter((cell) => cell.style.status === status).length).toBe(count)
  }
  expect((await acuarela(['tally', SPRING, '--expect', 'shops.behind <= 2', '--expect', 'behind = 6'])).code).toBe(0)
  const missed = await acuarela(['tally', SPRING, '--expect', 'behind < 3'])
  expect(missed.code).toBe(1)
  expect(missed.out).toContain('not as expected: behind < 3 (6)')
})

test('tally --against: each cell that changes its status, as painting with the other value shows', async () => {
  const { out } = await acuarela(['tally', SPRING, '--against', 'targetLevel=125%', '--json'])
  const { against } = JSON.parse(out) as {
    against: { cells: { name: string; measure: string; before: string; after: string }[] }
  }
  const shops = async (...more: string[]): Promise<Map<string, string | null>> => {
    const painted = JSON.parse((await acuarela(['paint', SPRING, '--to', 'json', ...more])).out) as Painted
    const cells = exhibitOf(painted, 'shops').cells.filter((c) => c.measure === 'revenue' && c.level.row === 'detail')
    return new Map(cells.map((cell) => [cell.row.shop ?? '', cell.style.status]))
  }
  const [was, is] = [await shops(), await shops('--set', 'targetLevel=125%')]
  const changed = [...was].filter(([shop, status]) => is.get(shop) !== status).map(([shop]) => shop)
  expect(against.cells.map(({ name }) => name.split(', ').at(-1)).sort()).toEqual(changed.sort())
  expect(changed.length).toBeGreaterThan(0)
  const text = (await acuarela(['tally', SPRING, '--against', 'targetLevel=125%'])).out
  expect(text).toContain('On target → Near target')
})

test('rehearse: just below, at and just above each limit, at the digits shown', async () => {
  const { out } = await acuarela(['rehearse', SPRING, '--rule', 'againstTarget', '--value', '55999.9', '--json'])
  const [{ trials }] = JSON.parse(out) as { trials: { value: number | null; what: string; status: string | null }[] }[]
  const status = (value: number | null): string | null | undefined => trials.find((t) => t.value === value)?.status
  expect([44799, 44800, 44801, 55999, 55999.9, 56000].map(status)).toEqual([
    'behind',
    'close',
    'close',
    'close',
    'close',
    'ahead',
  ])
  expect(status(null)).toBeNull()
  expect(status(0)).toBe('behind')
  expect(trials.find((t) => t.value === 56000)?.what).toBe('at: 100% (Target level) of Target')
})

test('colours are written where they are wanted and nowhere else, and names from data cannot write their own', async () => {
  const plain = await acuarela(['rehearse', SPRING])
  expect(plain.out).not.toContain('\u001b')
  expect((await acuarela(['rehearse', SPRING, '--color'])).out).toContain('\u001b[')
  const cwd = await folder({
    'd.csv': 'shop,amount\n"\u001b[31mred",1\nblue,2\n',
    'r.acuarela.yaml':
      'title: t\nsources: { s: { file: d.csv } }\nmeasures: { total: sum(amount) }\nstatuses: { a: { wash: aqua } }\nrules: [{ paint: total, bands: [{ above: 0, status: a }] }]\nexhibits: [{ name: e, table: { rows: shop, show: total } }]\n',
  })
  for (const args of [
    ['why', 'r.acuarela.yaml', 'e.total'],
    ['tally', 'r.acuarela.yaml', '--against', 'r.acuarela.yaml'],
    ['rehearse', 'r.acuarela.yaml'],
    ['rules', 'r.acuarela.yaml'],
  ])
    expect((await acuarela(args, cwd)).out, args[0]).not.toContain('\u001b')
})

test('own icons, pictures, pigments, bars, flags and painted rows are on the page and in the data', async () => {
  const svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 16"><circle cx="8" cy="8" r="5"/></svg>'
  const report = `title: t
sources: { s: { file: d.csv } }
measures: { total: { formula: sum(amount), format: number 0, label: Total }, half: total / 2 }
pigments: { moss: '#3b6e22' }
icons: { sprout: sprout.svg }
statuses:
  good: { label: Good, wash: moss, icon: sprout, flag: '{half} of {status}' }
rules:
  - { paint: total, bands: [{ atLeast: 20, status: good }] }
  - { paint: total, bar: { color: moss } }
  - { paint: row, judge: kind, bands: [{ equals: Trade, style: { wash: sky } }] }
  - { paint: shop, fromColumn: { picture: photo } }
exhibits: [{ name: e, table: { rows: shop, show: [total, half] } }]
`
  const cwd = await folder({
    'd.csv':
      'shop,kind,photo,amount\nAsh,Trade,sprout.svg,30\nElm,Garden,../secret.png,10\nTern,Trade,https://x.example/a.png,-4\n',
    'r.acuarela.yaml': report,
    'sprout.svg': svg,
  })
  const { code, out, err } = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'json'], cwd)
  expect([code, err]).toEqual([0, ''])
  const { cells, headings, messages } = (JSON.parse(out) as Painted).exhibits[0]
  const [ash] = cells
  expect(ash.style).toMatchObject({ status: 'good', icon: 'sprout', flag: '15 of Good' })
  expect(ash.style.bar).toEqual({ from: 0.1176, to: 1, color: 'moss', finish: 'solid' })
  expect(cells[1].style.fill).toBe('#abd2fb')
  const rows = (headings as { axis: string; style: Record<string, string | null> }[]).filter(
    ({ axis }) => axis === 'row',
  )
  expect(rows.map(({ style: look }) => look.fill)).toEqual(['#abd2fb', null, '#abd2fb'])
  const address = `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}`
  expect(rows.map(({ style: look }) => look.picture)).toEqual([address, null, null])
  expect(messages.join()).toContain('2 texts of its column are unknown')
  expect((await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--static'], cwd)).code).toBe(0)
  const page = readFileSync(join(cwd, 'r.html'), 'utf8')
  expect(page).toContain(`src="${address}"`)
  expect(page).not.toContain('<circle')
  expect(page).toContain('class="bar"')
})

test('pictures that are too large, hold a script or lie elsewhere are refused with words', async () => {
  const report = (icon: string): string =>
    `title: t\nsources: { s: { file: d.csv } }\nmeasures: { total: sum(amount) }\nicons: { own: ${icon} }\nexhibits: [{ name: e, table: { rows: shop, show: total } }]\n`
  const cwd = await folder({
    'd.csv': 'shop,amount\na,1\n',
    'script.svg': '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>',
    'handler.svg': '<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"></svg>',
    'away.svg': '<svg xmlns="http://www.w3.org/2000/svg"><image href="https://x.example/a.png"/></svg>',
    'large.png': `\u0089PNG${'x'.repeat(300_000)}`,
    'text.png': 'hello',
  })
  const { writeFile } = await import('node:fs/promises')
  const message = async (icon: string): Promise<string> => {
    await writeFile(join(cwd, 'r.acuarela.yaml'), report(icon))
    const { code, err } = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'json'], cwd)
    expect(code).toBe(2)
    return err
  }
  expect(await message('script.svg')).toContain('it holds a script')
  expect(await message('handler.svg')).toContain('it holds an event handler')
  expect(await message('away.svg')).toContain('refers to something outside')
  expect(await message('large.png')).toContain('larger than 256 kB')
  expect(await message('text.png')).toContain('no PNG, JPEG, GIF, WebP or SVG')
  expect(await message('../other.png')).toMatch(/no such file|outside/)
  expect(await message('/etc/hostname')).toContain("outside the report's folder")
  expect(await message('https://x.example/a.png')).toContain('web addresses are never fetched')
})

test('why --rows: the rows behind a cell add up to it, in details, totals, periods and the rest of a key', async () => {
  const asked: [string, string[]][] = [
    ['shops.revenue', ['shop=Larkmoor']],
    ['shops.revenue', ['region=Coast']],
    ['lines.revenue', ['line=Other lines']],
    ['seasons.revenue', ['line=Roses', 'month=2024-05']],
    ['channels.revenue', ['quarter=2024-Q1', 'channel=Trade']],
  ]
  const counts = await Promise.all(
    some(asked, 2).map(async ([target, keys]) => {
      const { out } = await acuarela(['why', SPRING, target, ...keys, '--rows', '100000', '--json'])
      const { why, rows: source } = JSON.parse(out) as {
        why: { value: number }
        rows: { count: number; records: { amount: number; record: number }[] }[]
      }
      const [rows] = source
      expect(rows.records.length).toBe(rows.count)
      expect(new Set(rows.records.map(({ record }) => record)).size).toBe(rows.count)
      expect(rows.records.reduce((sum, { amount }) => sum + amount, 0)).toBeCloseTo(why.value, 6)
      return rows.count
    }),
  )
  expect(Math.min(...counts)).toBeGreaterThan(10)
  const first = await acuarela(['why', SPRING, 'shops.revenue', 'shop=Larkmoor', '--rows', '4'])
  expect(first.out).toMatch(/Rows behind it: 300 of sales, Apr 2025 to Jun 2025\n *Row +Date +Region +Shop/)
  const wrong = await Promise.all([
    acuarela(['why', SPRING, 'shops.revenue', '--rows', 'shop=Larkmoor']),
    acuarela(['why', SPRING, 'orders.amount', 'record=24612', '--rows']),
  ])
  expect(wrong.map(({ code }) => code)).toEqual([2, 2])
  expect(wrong[0].err).toContain('is not a count of rows')
  expect(wrong[1].err).toContain('orders lists rows themselves')
})
