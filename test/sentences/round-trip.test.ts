import { readdirSync } from 'node:fs'
import { cp, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { type BandSpec, fromColumns, type PaintSpec, ProblemError, paint, type RuleSpec } from 'acuarela'
import { toData } from 'acuarela/data'
import { openReportFile } from 'acuarela/node'
import type { ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { parse, stringify } from 'yaml'
import { effort, some } from '../support/effort.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

/** Names that could be read as something else, and plain ones. */
const NUMBERS = ['x', 'Net sales', 'and', 'gold', 'a"b', "it's", 'top', 'paper', 'average', 'at', 'Straße_2', '3rd']
const TEXTS = ['region', 'in', 'of each', 'rows']
const STATUSES = ['ahead', 'fill', 'bold', 'red', 'no number', 'Not yet', 'aqua', 'good', 'missing']
const VALUES = ['Coast', 'is', 'red', 'two words', "it's", '2025-01', '17', 'true', '']

const TABLE = fromColumns({
  ...Object.fromEntries(NUMBERS.map((name, n) => [name, Float64Array.of(n, 3, -2, Number.NaN, 7 - n, 4)])),
  ...Object.fromEntries(TEXTS.map((name) => [name, ['Coast', 'Coast', 'is', 'two words', null, '17']])),
})
const VOCABULARY: Omit<PaintSpec, 'rules'> = {
  parameters: { target: 3, slack: '15%', high: 5 },
  pigments: { brand: '#123456' },
  statuses: Object.fromEntries(STATUSES.map((name, i) => [name, { wash: i % 2 === 0 ? 'aqua' : 'coral' }])),
}

const column = (name: string): string => `column('${name.replaceAll("'", "''")}')`
const number = fc.constantFrom(...NUMBERS)
const text = fc.constantFrom(...TEXTS)
const status = fc.constantFrom(...STATUSES)
const color = fc.constantFrom('aqua', 'red', '#00aaff', 'brand', 'stone')
const limit: fc.Arbitrary<number | string> = fc.oneof(
  fc.integer({ min: -9, max: 9 }),
  fc.constantFrom(0.5, 1e21, 'target', '80% of target', '-slack of target', 'ofRange(67%)', '(x + 1) * 2', 'high - x'),
  number.map(column),
  number.map((name) => `mean(${column(name)})`),
  fc
    .tuple(number, text)
    .map(([name, key]) => `sum(${column(name)}) within ${/^\w+$/.test(key) && key !== 'in' ? key : 'region'}`),
  fc.constantFrom(
    'mean(value)',
    'median(value) within region',
    'percentile(value, 95%)',
    'lowest(value)',
    'sum(x) where x > 1',
  ),
)
const constant = fc.constantFrom<number | string>(
  0,
  -3,
  9,
  'target',
  'lowest',
  'highest',
  'percentile(value, 90%)',
  'high + 1',
)
const condition = fc.oneof(
  fc.constantFrom(
    "region = 'Coast' and x > 0",
    'not (x > 1 or x is missing)',
    'if x > 1 then x > 2 else x < 0',
    "region contains 'o'",
  ),
  number.map((name) => `${column(name)} >= 2`),
)
const style = fc
  .record(
    {
      wash: fc.constantFrom('aqua', 'stone', 'brand'),
      fill: color,
      ink: color,
      weight: fc.constantFrom('bold', 'normal'),
      icon: fc.constantFrom('up', 'petals-2-of-5', 'bySign'),
      flag: fc.constantFrom("it's {value}", 'new; low: → "x"'),
      hide: fc.constantFrom('value', 'icon'),
    },
    { requiredKeys: [] },
  )
  .filter((one) => Object.keys(one).length > 0) as fc.Arbitrary<object>
const outcome = fc.oneof(
  status.map((name) => ({ status: name })),
  style.map((one) => ({ style: one })),
  fc.tuple(status, style).map(([name, one]) => ({ status: name, style: one })),
)
const single = fc.oneof(status, style)
const tests = fc
  .record({ atLeast: limit, above: limit, atMost: limit, below: limit, when: condition }, { requiredKeys: [] })
  .filter((one) => Object.keys(one).length > 0)
const textTests = fc.oneof(
  fc.record({ equals: fc.constantFrom(...VALUES) }),
  fc.record({ in: fc.array(fc.constantFrom(...VALUES), { minLength: 1, maxLength: 3 }) }),
  fc.record({ contains: fc.constantFrom(...VALUES.filter((value) => value !== '')) }),
)
const ladder = (test: fc.Arbitrary<object>): fc.Arbitrary<{ bands: BandSpec[] }> =>
  fc
    .tuple(fc.array(fc.tuple(test, outcome), { minLength: 1, maxLength: 3 }), fc.option(single), fc.option(single))
    .map(([list, missing, otherwise]) => ({
      bands: [
        ...list.map(([test, given]) => ({ ...test, ...given })),
        ...(missing === null ? [] : [{ missing }]),
        ...(otherwise === null ? [] : [{ otherwise }]),
      ] as BandSpec[],
    }))
const size = fc.constantFrom<number | string>(1, 3, '10%', '12.5%', 'high')
const kind: fc.Arbitrary<object> = fc.oneof(
  ladder(tests),
  fc
    .tuple(fc.constantFrom('top', 'bottom'), size, outcome)
    .map(([end, n, given]) => ({ rank: { [end]: n, ...given } })),
  fc
    .tuple(fc.array(outcome, { minLength: 1, maxLength: 3 }), fc.option(single), fc.option(number, { nil: undefined }))
    .map(([parts, otherwise, of]) => ({
      rank: {
        split: [...parts.map((given) => ({ share: '20%', ...given })), ...(otherwise === null ? [] : [{ otherwise }])],
        ...(of !== undefined && { of }),
      },
    })),
  fc
    .record(
      {
        ramp: fc.oneof(fc.constant('aqua'), fc.array(color, { minLength: 2, maxLength: 4 })),
        from: constant,
        to: constant,
        steps: fc.integer({ min: 2, max: 9 }),
        as: fc.constant('ink'),
      },
      { requiredKeys: ['ramp'] },
    )
    .map((gradient) => ({ gradient })),
  fc
    .constantFrom(
      { ramp: ['red', 'white', 'green'], middle: 1 },
      { ramp: ['red', 'white', 'gold', 'green'], middle: 'target' },
    )
    .map((gradient) => ({ gradient })),
  fc
    .record(
      { icons: fc.constantFrom('petals', ['up', 'dash', 'down']), from: constant, middle: fc.constant(1) },
      { requiredKeys: ['icons'] },
    )
    .map((gradient) => ({ gradient })),
  fc
    .record(
      {
        color,
        negative: color,
        finish: fc.constant('fading'),
        from: constant,
        to: constant,
        base: fc.constantFrom(0, 2),
      },
      { requiredKeys: [] },
    )
    .map((bar) => ({ bar })),
  fc
    .record({ status: text, fill: text, ink: text, icon: text }, { requiredKeys: ['status'] })
    .map((fromColumn) => ({ fromColumn })),
)
const base = fc.record(
  {
    paint: fc.oneof(number, fc.array(number, { minLength: 1, maxLength: 3 }), fc.constantFrom('all')),
    judge: fc.oneof(number.map(column), fc.constantFrom('x / target', 'sum(x) within region - 1')),
    where: condition,
    among: fc.oneof(condition, fc.constant('unfiltered')),
    within: text,
    levels: fc.constantFrom(
      'all',
      'total',
      ['subtotal', 'total'],
      ['detail', 'total'],
      ['detail', 'subtotal'],
      'subtotal',
    ),
    hide: fc.constantFrom('value', 'icon'),
    icon: fc.constant('after'),
    final: fc.constant(true),
    paused: fc.constant(true),
    unfinished: fc.constant('unpainted'),
  },
  { requiredKeys: ['paint'] },
)
const rule = fc.oneof(
  fc.tuple(base, kind).map(([common, own]) => ({ ...common, ...own })),
  fc.tuple(text, ladder(textTests)).map(([paint, own]) => ({ paint, ...own })),
  fc.tuple(ladder(tests)).map(([own]) => ({ paint: 'row', judge: 'x', ...own })),
) as fc.Arbitrary<RuleSpec>

/** A painting of one rule; undefined if the rule has problems. */
function painted(written: PaintSpec['rules'][number]) {
  try {
    return paint(TABLE, { ...VOCABULARY, rules: [written] })
  } catch (error) {
    if (error instanceof ProblemError) return undefined
    throw error
  }
}

/** All cells as one text; names of rules differ where they are made up. */
function cellsOf(painting: ReturnType<typeof paint>): string {
  const cells = [...NUMBERS, ...TEXTS].flatMap((name) =>
    Array.from({ length: TABLE.length }, (_, row) => {
      const { paintedBy, ...style } = painting.cell(row, name)
      return { ...style, set: Object.keys(paintedBy) }
    }),
  )
  return JSON.stringify(cells)
}

test('a rule in keys and its sentence paint the same, and read back as the same sentence', () => {
  let compared = 0
  fc.assert(
    fc.property(rule, (written) => {
      const inKeys = painted(written)
      const list = inKeys?.rules()
      if (inKeys === undefined || list === undefined) return
      const [{ sentence }] = list
      let said: ReturnType<typeof paint>
      try {
        said = paint(TABLE, { ...VOCABULARY, rules: [sentence] })
      } catch (error) {
        throw new Error(`${sentence}\n${String(error)}`)
      }
      // A condition beside limits becomes one condition, which is explained in other words.
      const isOne = sentence.includes('when value')
      const withoutName = ({ rule: _, title: __, explanation, ...rest }: (typeof list)[number]): object => ({
        ...rest,
        ...(!isOne && { explanation }),
      })
      expect(said.rules().map(withoutName)).toEqual(list.map(withoutName))
      expect(cellsOf(said)).toBe(cellsOf(inKeys))
      compared++
    }),
    { seed: 20261130, numRuns: effort(8000, 250) },
  )
  expect(compared).toBeGreaterThan(100)
})

const EXAMPLES = join(ROOT, 'examples/brezal')

test('each example paints the same with its rules as sentences', async () => {
  const copy = join(await folder({}), 'brezal')
  await cp(EXAMPLES, copy, { recursive: true })
  const reports = readdirSync(EXAMPLES).filter((file) => file.endsWith('.acuarela.yaml'))
  for (const name of some(reports, 2)) {
    const file = join(EXAMPLES, name)
    // A file of shared parts is no report.
    const { code, out } = await acuarela(['rules', name, '--json'], EXAMPLES)
    if (code !== 0) continue
    const sentences = new Map(
      (JSON.parse(out) as { rule: string; title: string; sentence: string }[]).map((one) => [one.rule, one]),
    )
    const spec = parse(await readFile(file, 'utf8')) as ReportSpec & { rules?: { name?: string }[] }
    if (sentences.size === 0 || spec.include !== undefined) continue
    const rules = [...sentences.values()].map(({ rule, title, sentence }) => ({ name: rule, title, say: sentence }))
    expect(rules.length, name).toBe(spec.rules?.length)
    await writeFile(join(copy, 'said.acuarela.yaml'), stringify({ ...spec, rules }))
    const said = await openReportFile(join(copy, 'said.acuarela.yaml'))
    expect(toData(said), name).toEqual(toData(await openReportFile(file)))
  }
})
