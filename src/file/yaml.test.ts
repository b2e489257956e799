import { expect, test } from 'vitest'
import { readReport } from './report.js'
import { readYaml } from './yaml.js'

/** Code, line and column of each problem. */
function messagesOf(text: string): string[] {
  return readReport(text, 'r.yaml').problems.map((p) => `${p.code} ${p.place.line}:${p.place.column}`)
}

const SOUND = `title: T
sources: { sales: { file: s.csv } }
measures: { revenue: sum(amount) }
exhibits:
  - table: { rows: shop, show: revenue }
`

test('a sound report has no problems, as YAML and as JSON', () => {
  expect(messagesOf(SOUND)).toEqual([])
  const tree = readYaml(SOUND, undefined).tree
  expect(messagesOf(JSON.stringify(tree))).toEqual([])
  expect(readReport(JSON.stringify(tree)).spec).toEqual(readReport(SOUND).spec)
})

test.each([
  [
    'a value cut at a comma',
    'measures: { p: { formula: percentile(amount, 90%), label: P } }',
    ['yaml-cut-at-comma 2:27'],
    'percentile(amount, 90%)',
  ],
  ['a value cut at #, after text', 'note: Shop #1 of ten', ['yaml-cut-at-hash 2:7'], 'Shop #1 of ten'],
  ['a colour cut at #', 'statuses: { a: { label: A } }\nnote: #f4a19e', ['yaml-cut-at-hash 3:1'], '#f4a19e'],
  ['braces read as a map', 'note: {growth}', ['yaml-braces 2:7'], '{growth}'],
  ['braces with words behind', 'note: {growth} on last year', ['yaml-braces 2:7'], '{growth} on last year'],
  ['null', 'note:', ['yaml-null 2:1'], 'note has no value'],
  ['null in words', 'note: null', ['yaml-null 2:1'], 'note has no value'],
  [
    'leading zeros',
    'rules: [{ paint: revenue, bands: [{ equals: 007, status: a }] }]',
    ['yaml-leading-zero 2:45'],
    "'007'",
  ],
  ['a comparison read as block text', 'where: > target', ['yaml-block-text 2:8'], "'> target'"],
  ['an alias', 'note: *x', ['yaml-alias 2:7'], 'anchors'],
])('%s is refused in its own words', (_, line, wanted, says) => {
  // `sources` and the rest follow, so that the line under test is line 2.
  const text = `title: T\n${line}\n${SOUND.slice('title: T\n'.length)}`
  const problems = readReport(text, 'r.yaml').problems.filter(
    (p) => p.code !== 'yaml-broken' && p.code !== 'yaml-key-twice',
  )
  expect(problems.map((p) => `${p.code} ${p.place.line}:${p.place.column}`)).toEqual(wanted)
  expect(problems[0].message).toContain(says)
})

test('a comment with a space after # is a comment', () => {
  expect(messagesOf(SOUND.replace('title: T', 'title: T   # the title, with a comma'))).toEqual([])
})

test('5,000 brackets are refused in their own words, not by running out of stack', () => {
  for (const text of [
    '['.repeat(5000),
    `title: ${'{ a: '.repeat(5000)}`,
    '- '.repeat(5000),
    `title: ${'['.repeat(5000)}${']'.repeat(5000)}`,
  ])
    expect(messagesOf(text)[0], text.slice(0, 12)).toMatch(/^file-too-deep 1:/)
})

test('problems of shape name the key, the nearest known one, and the place', () => {
  const text = SOUND.replace('rows: shop', 'row: shop').replace('title: T', 'tittle: T\nlocale: 5')
  const { problems } = readReport(text, 'r.yaml')
  expect(problems.map((p) => [p.code, p.place.line, p.place.column, p.message])).toEqual([
    ['unknown-key', 1, 1, 'unknown key: tittle; did you mean title?'],
    ['wrong-shape', 2, 9, 'expected a text, found 5'],
    ['unknown-key', 6, 14, 'unknown key: row; did you mean rows?'],
  ])
})

test('what is faulty is taken out and the rest is kept in its place', () => {
  const text = `${SOUND}rules:\n  - { paint: 5, bands: [] }\n  - { paint: revenue, rank: { top: 3, status: a } }\n`
  const file = readReport(text, 'r.yaml')
  expect(file.problems.length).toBeGreaterThan(0)
  expect(file.spec?.rules).toHaveLength(2)
  expect(file.spec?.rules?.[0]).toBeNull()
  expect(file.spec?.rules?.[1]).toMatchObject({ paint: 'revenue' })
})

test('whatever is written, reading ends with problems or a tree', () => {
  for (const text of [
    '5',
    'a',
    '[]',
    '- 1',
    '{}',
    '"',
    '\t',
    'a: b: c',
    '? x',
    '%YAML 9',
    '---\n---\n',
    '__proto__: 1',
    '\u0000',
    'title: [',
    '&a [*a]',
  ])
    expect(readReport(text, 'r.yaml').problems.length, JSON.stringify(text)).toBeGreaterThan(0)
})
