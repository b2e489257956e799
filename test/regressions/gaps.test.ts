import { openReport, type Page, type ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'
import { acuarela, folder } from '../support/tool.js'

const REGIONS = ['Coast', 'Upland', 'Valley']
const MONTHS = ['2025-06', '2025-07', '2025-08']
const SALES = `date,region,shop,amount\n${MONTHS.flatMap((month) => REGIONS.map((region, r) => `${month}-15,${region},${region} ${r},${10 * (r + 1)}`)).join('\n')}\n2025-08-16,Coast,Coast 0,\n`
const PLAN = `month,region,planned\n${MONTHS.flatMap((month) =>
  REGIONS.filter((region) => month !== '2025-08' || region !== 'Upland').map((region) => `${month},${region},12`),
).join('\n')}\n`

const SPEC = {
  title: 'Plans',
  sources: {
    sales: { file: 'sales.csv', date: 'date' },
    plan: { file: 'plan.csv', date: 'month', match: 'region' },
  },
  measures: {
    revenue: 'sum(amount)',
    planned: 'sum(plan.planned)',
    gap: 'revenue - planned',
    largest: 'highest(amount)',
  },
  filters: ['shop'],
  exhibits: [
    {
      name: 'august',
      period: '2025-08',
      table: { rows: 'region', show: ['revenue', 'planned', 'gap'], totals: 'bottom' },
    },
    { name: 'total', table: { rows: 'year', show: 'gap' } },
    { name: 'july', period: '2025-07', table: { rows: 'region', show: 'gap' } },
    { name: 'coast', where: "region = 'Coast'", table: { rows: 'region', show: 'gap' } },
    { name: 'alone', table: { rows: 'region', show: 'revenue' } },
  ],
} as unknown as ReportSpec

const messages = (page: Page): string[] =>
  page.exhibits.flatMap(({ name, messages: notes }) =>
    notes.filter((note) => note.includes('totals compare')).map((note) => `${name}: ${note}`),
  )

test('1.8 what a further source lacks is said where it is compared, with its keys and periods', async () => {
  const page = await openReport(SPEC, { sales: SALES, plan: PLAN })
  const text =
    'plan has no rows for 1 combination of region and month that sales has rows for, so totals compare more of sales with less of plan: Upland in Aug 2025'
  expect(messages(page)).toEqual([`august: ${text}`, `total: ${text}`])
  const [, plan] = page.controls
  expect(plan.lacking).toEqual([{ keys: { region: 'Upland' }, periods: ['2025-08'] }])
  expect(plan.text).toContain('no rows for 1 key that sales has')
  // Filtered to shops of other regions, nothing is missing.
  const coast = await openReport(SPEC, { sales: SALES, plan: PLAN }, { where: "shop = 'Coast 0'" })
  expect(messages(coast)).toEqual([])
  const whole = await openReport(SPEC, { sales: SALES, plan: `${PLAN}2025-08,Upland,3\n` })
  expect([messages(whole), whole.controls[1].lacking]).toEqual([[], []])
})

test('1.8 keys and periods that are lacking together are reported together', async () => {
  const few = PLAN.split('\n')
    .filter((line) => !line.startsWith('2025-06') && !line.startsWith('2025-07'))
    .join('\n')
  const page = await openReport(SPEC, { sales: SALES, plan: few })
  expect(messages(page).find((note) => note.startsWith('total'))).toContain(
    '7 combinations of region and month that sales has rows for, so totals compare more of sales with less of plan: Coast, Valley in Jun 2025 to Jul 2025; Upland in Jun 2025 to Aug 2025',
  )
})

test('1.8 rows without an amount are counted: in notes, --verbose, the data and proof', async () => {
  const page = await openReport(SPEC, { sales: SALES, plan: PLAN })
  expect(page.messages).toEqual([])
  expect(page.exhibits[4].messages).toEqual(['1 of 10 rows of sales have no amount and add nothing'])
  expect(page.controls[0].blank).toEqual([{ column: 'amount', rows: 1 }])
  const guarded = {
    ...SPEC,
    measures: { ...SPEC.measures, revenue: 'sum(amount) where amount is not missing' },
  } as ReportSpec
  expect((await openReport(guarded, { sales: SALES, plan: PLAN })).controls[0].blank).toEqual([])
  const cwd = await folder({ 'r.acuarela.json': JSON.stringify(SPEC), 'sales.csv': SALES, 'plan.csv': PLAN })
  const [painted, data, proof] = await Promise.all([
    acuarela(['paint', 'r.acuarela.json', '--verbose'], cwd),
    acuarela(['paint', 'r.acuarela.json', '--to', 'json'], cwd),
    acuarela(['proof', 'r.acuarela.json', '--json'], cwd),
  ])
  expect(painted.err).toContain('1 of 10 rows has no amount')
  expect(painted.err).toContain('no rows for 1 key that sales has')
  const { sources } = JSON.parse(data.out) as { sources: { lacking: object[]; blank: object[] }[] }
  expect(sources.map(({ lacking, blank }) => [lacking.length, blank.length])).toEqual([
    [0, 1],
    [1, 0],
  ])
  const codes = JSON.parse(proof.out) as { code: string; at: string; message: string }[]
  expect(codes.filter(({ code }) => code === 'source-gap').map(({ at, message }) => [at, message])).toEqual([
    ['plan', 'plan has no rows where sales has some: Upland in Aug 2025'],
  ])
  expect(codes.filter(({ code }) => code === 'blank-amounts').map(({ at }) => at)).toEqual(['sales.amount'])
})
