import { readdirSync, readFileSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { ProblemError, paint } from 'acuarela'
import { applyEdit, openDraft } from 'acuarela/edit'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { parse } from 'yaml'
import { effort } from '../support/effort.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

const CSV = 'shop,kind,amount,cost\nAsh,Trade,10,4\nElm,Shop,20,5\nOak,Trade,,6\n'
const report = (rules: string): string => `title: T
sources: { sales: { file: sales.csv } }
measures:
  revenue: { formula: sum(amount), label: Net revenue, better: higher }
  spent: sum(cost)
parameters: { target: 15 }
statuses: { ahead: { label: On target, wash: aqua }, behind: { wash: coral } }
${rules}
exhibits:
  - { name: shops, table: { rows: [shop, kind], show: [revenue, spent] } }
`

async function painted(rules: string, ...more: string[]): ReturnType<typeof acuarela> {
  const cwd = await folder({ 'sales.csv': CSV, 'r.acuarela.yaml': report(rules) })
  return acuarela(['paint', 'r.acuarela.yaml', '--to', 'json', ...more], cwd)
}

/** The statuses of the cells of the first measure. */
async function statuses(rules: string): Promise<unknown[]> {
  const { code, out, err } = await painted(rules)
  expect([code, err]).toEqual([0, ''])
  const data = JSON.parse(out) as {
    exhibits: { cells: { measure: string; level: { row: string }; style: { status: string | null } }[] }[]
  }
  return data.exhibits[0].cells
    .filter(({ measure, level }) => measure === 'revenue' && level.row === 'detail')
    .map(({ style }) => style.status)
}

test('a rule is a sentence with or without quotes, with a name, in a rule set', async () => {
  const wanted = ['behind', 'ahead', null]
  for (const rules of [
    'rules:\n  - revenue: at least target → ahead; otherwise → behind',
    'rules:\n  - revenue of each shop: at least target -> ahead; otherwise => behind',
    "rules: ['Net revenue: at least target → ahead; otherwise → behind']",
    'rules:\n  - "net revenue: at least target → on target; otherwise → \\"behind\\""',
    "rules:\n  - { name: low, title: Low, say: 'revenue: at least target → ahead; otherwise → behind' }",
    'rules:\n  - { paint: spent, bands: [{ above: 100, status: ahead }] }\n  - revenue: at least target → ahead; otherwise → behind',
    'rules:\n  - say: >-\n      revenue: at least target → ahead;\n      otherwise → behind',
  ])
    expect(await statuses(rules), rules).toEqual(wanted)
  const cwd = await folder({
    'sales.csv': CSV,
    'house.acuarela.yaml': 'rules:\n  - revenue: at least target → ahead; otherwise → behind\n',
    'r.acuarela.yaml': report('include: [house.acuarela.yaml]'),
  })
  const { out } = await acuarela(['rules', 'r.acuarela.yaml', '--brief'], cwd)
  expect(out).toBe('revenue: at least target → ahead; otherwise → behind\n')
})

test('what is called like a column is that column, whatever is labelled so; ids come before labels', async () => {
  const text = (rule: string): string => `title: T
sources: { sales: { file: sales.csv } }
measures: { priceTotal: { formula: sum(price), label: Price }, other: { formula: sum(cost), label: priceTotal } }
rules: ['${rule}']
exhibits: [{ name: lines, records: { show: [price, cost] } }, { name: all, table: { rows: shop, show: [priceTotal, other] } }]
`
  const brief = async (rule: string): Promise<string> => {
    const cwd = await folder({ 'sales.csv': 'shop,price,cost\na,1,2\nb,3,4\n', 'r.acuarela.yaml': text(rule) })
    const { out, err } = await acuarela(['rules', 'r.acuarela.yaml', '--brief'], cwd)
    return out + err
  }
  expect(await brief('price in lines: indigo bar')).toBe('price in lines: indigo bar\n')
  expect(await brief('Price: indigo bar')).toBe('priceTotal: indigo bar\n')
  expect(await brief('priceTotal: indigo bar')).toBe('priceTotal: indigo bar\n')
  expect(await brief('cost in lines: above price → bold')).toBe('cost in lines: above price → bold\n')
})

test('each mistake is told at its place in the sentence, and what YAML reads otherwise is explained', async () => {
  const cases: [rules: string, said: string][] = [
    [
      '  - revenue: at least targt → ahead',
      '9:23 (rules[1]): unknown name: targt; did you mean target?\n    revenue: at least targt → ahead\n                      ^^^^^',
    ],
    ["  - 'revenue: at least target → ahed'", '9:33 (rules[1]): unknown status: ahed; did you mean ahead?'],
    [
      "  - { say: 'revenue: at last 5 → ahead' }",
      "9:22 (rules[1].say): 'at' cannot stand here; did you mean at least?",
    ],
    ['  - revenu: above 5 → ahead', '9:5 (rules[1]): unknown measure: revenu; did you mean revenue?'],
    ['  - revenue: above 5 → red', "9:24 (rules[1]): red: 'red fill', or 'red text'?"],
    ['  - revenue: above 5 → ahead; above 7', '(rules[1]): the sentence ends too early; expected '],
    [
      '  - revenue: top 3 → bold; above 5 → ahead',
      'a rule has one kind; make it two: revenue: top 3 → bold, and revenue: above 5 → ahead',
    ],
    ['  - revenue: above 5 → #ff0000 fill', 'the value is cut at #, which begins a comment; put the value in quotes'],
    [
      '  - { revenue: above 5 → bold, final }',
      "a comma ends it; put 'revenue: above 5 → bold, final' in quotes, whole",
    ],
    [
      "  - 'revenue: is 'Trade' → ahead'",
      "inside single quotes a single quote is written twice: 'revenue: is ''Trade'' → ahead'",
    ],
    [
      '  - revenue: when kind: x → ahead',
      "a second colon needs quotes around the whole sentence: 'revenue: when kind: x → ahead'",
    ],
    ['  - revenue above 5 → ahead', '9:13 (rules[1]): did you mean revenue: above 5 → ahead?'],
    ['  - { say: 5 }', '(rules[1].say): expected a text, found 5'],
    [
      "  - { say: 'revenue: above 5 → bold', paint: revenue }",
      '(rules[1].paint): unknown key: paint; known here: name, title, say',
    ],
    ['  - piant: revenue', 'unknown key: piant; did you mean paint?'],
    ["  - ''", 'the sentence is empty'],
  ]
  for (const [rule, said] of cases) {
    const { code, err } = await painted(`rules:\n${rule}`)
    expect([rule, code]).toEqual([rule, 2])
    expect(err).toContain(said)
    expect(
      err
        .trimEnd()
        .split('\n')
        .filter((line) => line.startsWith('r.acuarela.yaml')),
      rule,
    ).toHaveLength(1)
  }
  const { err } = await painted('rules: [revenue: above 5 → bold, final]')
  expect(err).toContain(
    "'final' is no rule: a sentence has a colon, as in revenue: at least target → ahead; in a list in brackets a comma ends a sentence, so put it in quotes",
  )
})

test('say reads a sentence, tells what it would change, and writes nothing', async () => {
  const text = report('rules:\n  - revenue: at least target → ahead')
  const cwd = await folder({ 'sales.csv': CSV, 'r.acuarela.yaml': text })
  const said = await acuarela(['say', 'r.acuarela.yaml', 'Spent by nothing: above 5 → behind'], cwd)
  expect([said.code, said.out]).toEqual([2, ''])
  const { code, out } = await acuarela(['say', 'r.acuarela.yaml', 'Net Revenue of each shop: below 15 -> behind'], cwd)
  expect(code).toBe(0)
  expect(out).toContain('revenue of each shop: below 15 → behind')
  expect(out).toContain('shops.revenue, details: 3 cells, 1 painted')
  expect(out).toMatch(/1 cell changes status\n {2}shops\.revenue {2}Ash, Trade {2}10\.00 {2}none → behind/)
  expect(out).toContain('Not written; with --write it becomes the first rule.')
  expect(await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')).toBe(text)
  const json = await acuarela(['say', 'r.acuarela.yaml', 'spent: top 1 → bold', '--json'], cwd)
  expect(JSON.parse(json.out)).toMatchObject({
    sentence: 'spent: top 1 → bold',
    index: 0,
    cells: [],
    restyled: [{ measure: 'spent', name: 'Oak, Trade' }],
    written: false,
  })
  const problem = await acuarela(['say', 'r.acuarela.yaml', 'spent: above targt → behind'], cwd)
  expect(problem.err).toBe(
    'unknown name: targt; did you mean target?\n    spent: above targt → behind\n                 ^^^^^\n',
  )
})

test('say --write adds the rule at its place, and leaves every other byte', async () => {
  const text = report(
    '# Rules\nrules:   # the first wins\n  # Against the target\n  - revenue: at least target → ahead   # good\n\n  - { name: low, paint: spent, bands: [{ below: 5, status: behind }] }',
  )
  const cwd = await folder({ 'sales.csv': CSV, 'r.acuarela.yaml': text })
  const say = (...more: string[]) => acuarela(['say', 'r.acuarela.yaml', ...more, '--write'], cwd)
  await say("revenue: above 5 → flag 'a: b'", '--before', 'low')
  const first = await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')
  expect(first).toBe(text.replace('  - { name: low', "  - 'revenue: above 5 → flag ''a: b'''\n\n  - { name: low"))
  const { code, out } = await say('spent: best 1 → bold', '--after', 'low', '--name', 'most')
  expect([code, out]).toEqual([2, ''])
  await say('spent: top 1 → bold', '--after', 'low', '--name', 'most')
  expect(await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')).toBe(
    first.replace('status: behind }] }\n', "status: behind }] }\n\n  - { name: most, say: 'spent: top 1 → bold' }\n"),
  )
  for (const [args, problem] of [
    [['spent: top 1 → bold', '--before', 'nope'], 'no rule is called nope; known: bands-1, bands-2, low, most'],
    [['spent: top 1 → bold', '--before', 'low', '--after', 'low'], '--before and --after name one place'],
    [['spent: top 1 → bold', '--name', 'low'], 'two rules have the name low; rename one\n'],
  ] as const)
    expect((await say(...args)).err).toContain(problem)
})

/** Texts of reports in many spellings, into each of which a rule is written. */
const TEXTS: string[] = [
  ...readdirSync(join(ROOT, 'examples/brezal'))
    .filter((name) => name.endsWith('.acuarela.yaml') && name !== 'house.acuarela.yaml')
    .map((name) => readFileSync(join(ROOT, 'examples/brezal', name), 'utf8')),
  report('rules: []'),
  report('rules:'),
  report(''),
  report("rules: ['revenue: above 5 → bold',\n  'spent: above 5 → bold' ]"),
  report('rules:\n- revenue: above 5 → bold\n# about spent\n- spent: above 5 → bold # yes\n  # deeper\n# outer'),
  report(
    'rules:\n  - paint: spent\n    bands:\n      - { above: 5, status: ahead }\n      # a tail\n  # floating\n\n  - revenue: above 5 → bold',
  ),
  report('rules:\n  - say: |-\n      revenue: above 5 → bold\n  - revenue: above 7 → bold\n\n\n# next'),
  JSON.stringify(parse(report('rules:\n  - revenue: above 5 → bold')), null, 2),
  JSON.stringify(parse(report(''))),
]
const SENTENCES = [
  'revenue: above 6 → bold',
  "revenue: above 6 → flag 'it''s: {value}'",
  'revenue: above 6 → #ff0000 fill',
  '"Net # revenue": above 6 → bold, final',
]

test('a written rule leaves each other line as it is, in every spelling of a file', async () => {
  const cwd = await folder({ 'sales.csv': CSV })
  expect(cwd).not.toBe('')
  const variants = [
    (text: string) => text,
    (text: string) => text.replaceAll('\n', '\r\n'),
    (text: string) => `\uFEFF${text}`,
    (text: string) => text.trimEnd(),
  ]
  let written = 0
  fc.assert(
    fc.property(
      fc.constantFrom(...TEXTS),
      fc.constantFrom(...variants),
      fc.constantFrom(...SENTENCES),
      fc.option(fc.constantFrom('low', 'Low rule', 'true'), { nil: undefined }),
      fc.nat(20),
      (plain, vary, sentence, name, place) => {
        const text = vary(plain)
        const old = parse(text) as { rules?: unknown[] | null }
        const rules = old.rules ?? []
        const at = place % (rules.length + 1)
        const value = name === undefined ? sentence : { name, say: sentence }
        const { text: next, refused } = applyEdit(openDraft(text), { do: 'insert', path: ['rules'], value, at })
        if (refused !== undefined) throw new Error(`refused: ${JSON.stringify(refused)}\n${text}`)
        // The rule is there, and nothing else has changed.
        const now = parse(next) as { rules: unknown[] }
        const [added] = now.rules.splice(at, 1)
        const asText = (value: unknown): unknown =>
          typeof value === 'object' && value !== null && name === undefined
            ? `${Object.keys(value)[0]}: ${String(Object.values(value)[0])}`
            : value
        expect(asText(added)).toEqual(name === undefined ? sentence : { name, say: sentence })
        expect({ ...now }).toEqual({ ...old, rules })
        // Every line of the file is still there, in its order.
        const lines = next.split('\n')
        let from = 0
        for (const line of text.split('\n')) {
          const found = lines.findIndex((one, i) => i >= from && (one === line || isWidened(one, line)))
          expect(found, line).toBeGreaterThanOrEqual(from)
          from = found + 1
        }
        written++
      },
    ),
    { seed: 17, numRuns: effort(2000, 150) },
  )
  expect(written).toBeGreaterThan(100)
})

/** A line that received the rule, or its comma. */
function isWidened(line: string, before: string): boolean {
  if (before.trim() === '') return false
  // A section that was empty has its entries in lines.
  if (before.replace(/: \[\](\r?)$/, ':$1') === line) return true
  const parts = before.split(/(?<=[[,{])|(?=[\]}])/)
  let at = 0
  for (const part of parts) {
    const found = line.indexOf(part.trim(), at)
    if (found < 0) return false
    at = found + part.trim().length
  }
  return true
}

test('no text makes the reading of sentences fail, and it takes no more than its length allows', () => {
  const read = (text: string): boolean => {
    try {
      paint([{ revenue: 1, spent: 2, kind: 'a' }], { rules: [text] })
      return true
    } catch (error) {
      if (error instanceof ProblemError && error.problems.length > 0) return false
      throw error
    }
  }
  const words =
    `revenue spent "a b" of each in judged by within among where : ; , → -> ( ) and at least above 5 80% 2,000
    is contains when missing otherwise top 3 split making next shade from through to aqua red icons petals bar fading
    flag 'x' icon up bold fill text status column hide the number totals too final the average 95th percentile range`.split(
      /\s+/,
    )
  const whole = SENTENCES.concat(
    'revenue and spent within kind: shade from red through white at 0 to green in 5 steps, final',
  )
  const soup = fc.array(fc.constantFrom(...words), { maxLength: 30 }).map((list) => list.join(' '))
  const mutated = fc
    .tuple(fc.constantFrom(...whole), fc.nat(80), fc.nat(8), fc.string({ maxLength: 4 }))
    .map(([text, at, drop, put]) => text.slice(0, at) + put + text.slice(at + drop))
  let good = 0
  fc.assert(
    fc.property(fc.oneof(soup, mutated, fc.string({ unit: 'binary', maxLength: 60 })), (text) => {
      if (read(text)) good++
    }),
    { seed: 18, numRuns: effort(100_000, 1000) },
  )
  // Some mutations are still sentences.
  expect(good).toBeGreaterThan(10)
  for (const deep of [
    '('.repeat(3900),
    `revenue: ${'above 1 and '.repeat(320)}`,
    `${'a, '.repeat(1300)}b: bold`,
    `revenue: above ${'-'.repeat(3800)}1 → bold`,
  ]) {
    const start = performance.now()
    expect(read(deep)).toBe(false)
    expect(performance.now() - start).toBeLessThan(2000)
  }
}, 900_000)
