import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { toJson } from 'acuarela/data'
import { applyEdit, diff, type Edit, type NamedKind, openDraft } from 'acuarela/edit'
import { openReport, readReport } from 'acuarela/report'
import { expect, test } from 'vitest'
import { FULL, some } from '../support/effort.js'
import { ROOT } from '../support/tool.js'
import { EXAMPLES } from './texts.js'

const BREZAL = join(ROOT, 'examples/brezal')
type Plain = Record<string, unknown>

/** The first lines of each file: a rename is right or wrong whatever the numbers are. */
const FILES = new Map<string, string>()
function data(spec: Plain): Record<string, string> {
  const sources = Object.entries((spec.sources ?? {}) as Record<string, { file?: string }>)
  return Object.fromEntries(
    sources.flatMap(([name, { file }]) => {
      if (file === undefined) return []
      if (!FILES.has(file))
        FILES.set(file, readFileSync(join(BREZAL, file), 'utf8').split('\n').slice(0, 900).join('\n'))
      return [[name, FILES.get(file) ?? '']]
    }),
  )
}

/** The names that a report gives, with what they name. */
function namesOf(spec: Plain): { kind: NamedKind; name: string; in?: string }[] {
  const sections: [NamedKind, string][] = [
    ['source', 'sources'],
    ['measure', 'measures'],
    ['parameter', 'parameters'],
    ['status', 'statuses'],
    ['pigment', 'pigments'],
    ['icon', 'icons'],
  ]
  const listed: [NamedKind, string][] = [
    ['rule', 'rules'],
    ['exhibit', 'exhibits'],
  ]
  return [
    ...sections.flatMap(([kind, section]) =>
      Object.keys((spec[section] ?? {}) as Plain).map((name) => ({ kind, name })),
    ),
    ...Object.entries((spec.fields ?? {}) as Record<string, Plain>).flatMap(([source, fields]) =>
      Object.keys(fields).map((name) => ({ kind: 'field' as const, name, in: source })),
    ),
    ...listed.flatMap(([kind, section]) =>
      ((spec[section] ?? []) as { name?: string }[]).flatMap(({ name }) =>
        name === undefined ? [] : [{ kind, name }],
      ),
    ),
  ]
}

/** The painted data, with a new name written as the old one. */
async function painted(text: string, files: Record<string, string>, from = '', to = ''): Promise<string> {
  const json = toJson(await openReport(text, files))
  // Things without a label are shown by their name, in words.
  const words = from.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
  const shown = words.charAt(0).toUpperCase() + words.slice(1)
  return from === '' ? json : json.replaceAll(to, from).replaceAll(to.charAt(0).toUpperCase() + to.slice(1), shown)
}

test('a renamed thing is renamed wherever it is meant: every name of every example paints the same', async () => {
  // Files that include others, or are included, are tried by themselves below.
  const whole = EXAMPLES.filter(
    ([name, text]) => !/^include:/m.test(text) && !['house', 'careless'].some((part) => name.startsWith(part)),
  )
  expect(whole.length).toBeGreaterThan(5)
  let count = 0
  for (const [file, text] of whole) {
    const draft = openDraft(text)
    expect(draft.problems, file).toEqual([])
    const files = data(draft.spec)
    const before = await painted(text, files)
    for (const { kind, name, in: source } of some(namesOf(draft.spec), 6, file.length)) {
      const to = `renamed${name.length}`
      const where = `${file} ${kind} ${name}`
      const edit: Edit = { do: 'rename', kind, from: name, to, ...(source !== undefined && { in: source }) }
      const next = applyEdit(draft, edit)
      expect(next.refused, where).toBeUndefined()
      expect(next.problems, where).toEqual([])
      const own = kind === 'source' && name in files ? { ...files, [to]: files[name] } : files
      if (kind === 'source') delete own[name]
      expect(await painted(next.text, own, name, to), where).toBe(before)
      // Renamed back it is the same file again.
      const back = applyEdit(next, { ...edit, from: to, to: name })
      expect(back.text, where).toBe(text)
      count++
    }
  }
  expect(count).toBeGreaterThan(FULL ? 100 : 15)
})

const TEXT = `title: T
sources:
  sales: { file: a.csv, date: day }
  budget: { file: b.csv, date: day, match: shop }
fields:
  sales: { net: amount - tax, 'double': net * 2 }
measures:
  amount: sum(amount)                  # the column has the same name
  plan: "sum(budget.amount)"
  share: amount / (plan) + sum(net) where net > 0
  most: 'highest(amount) within shop'   # an aggregate of the column
  quoted: "column('amount') * 1"
  folded: >-
    amount
    - plan
parameters: { limit: 5, net2: 1 }
labels: { shop: Shop, net: After tax }
statuses:
  ahead: { wash: aqua, flag: '{amount} of {plan}' }
rules:
  - amount of each shop: at least limit → ahead; when 'amount' = 'amount' → bold
  - say: 'amount and plan in shops judged by amount / plan: above limit of amount → flag ''amount {amount}'''
    name: second
  - { paint: [amount, plan], where: "plan > amount", bands: [{ above: '2 * amount', status: ahead }] }
exhibits:
  - name: shops
    table: { rows: [shop, net], show: [amount, { show: plan, draw: bar }], sort: [-amount, shop] }
  - { name: cards, cards: [{ show: amount, versus: plan, note: 'amount was {amount}' }] }
  - { name: amount, records: { show: [day, amount], sort: -amount } }
strip: shops.amount
proof: { ignore: [{ code: unused-status, at: shops.amount, because: amount is shown }] }
filters: [shop]
`

/** The lines that a rename changes, as they are afterwards. */
function renamed(kind: NamedKind, from: string, to: string, text = TEXT): string[] {
  const next = applyEdit(openDraft(text), { do: 'rename', kind, from, to })
  expect(next.refused).toBeUndefined()
  return diff(text, next.text).flatMap(({ is, text: line }) => (is === 'added' ? [line.trim()] : []))
}

test('a measure is renamed outside aggregates, in flags, notes and lists; not as a column, text or exhibit', () => {
  expect(renamed('measure', 'amount', 'sold')).toEqual([
    'sold: sum(amount)                  # the column has the same name',
    'share: sold / (plan) + sum(net) where net > 0',
    'quoted: "sold * 1"',
    'sold',
    "ahead: { wash: aqua, flag: '{sold} of {plan}' }",
    "- sold of each shop: at least limit → ahead; when 'amount' = 'amount' → bold",
    "- say: 'sold and plan in shops judged by sold / plan: above limit of sold → flag ''amount {sold}'''",
    '- { paint: [sold, plan], where: "plan > sold", bands: [{ above: \'2 * sold\', status: ahead }] }',
    'table: { rows: [shop, net], show: [sold, { show: plan, draw: bar }], sort: [-sold, shop] }',
    "- { name: cards, cards: [{ show: sold, versus: plan, note: 'amount was {sold}' }] }",
    '- { name: amount, records: { show: [day, sold], sort: -sold } }',
    'strip: shops.sold',
    'proof: { ignore: [{ code: unused-status, at: shops.sold, because: amount is shown }] }',
  ])
})

test('a source, a field, a parameter and an exhibit are renamed where they are meant', () => {
  expect(renamed('source', 'budget', 'planned')).toEqual([
    'planned: { file: b.csv, date: day, match: shop }',
    'plan: "sum(planned.amount)"',
  ])
  expect(renamed('field', 'net', 'netto')).toEqual([
    "sales: { netto: amount - tax, 'double': netto * 2 }",
    'share: amount / (plan) + sum(netto) where netto > 0',
    'labels: { shop: Shop, netto: After tax }',
    'table: { rows: [shop, netto], show: [amount, { show: plan, draw: bar }], sort: [-amount, shop] }',
  ])
  expect(renamed('parameter', 'limit', 'goal')).toEqual([
    'parameters: { goal: 5, net2: 1 }',
    "- amount of each shop: at least goal → ahead; when 'amount' = 'amount' → bold",
    "- say: 'amount and plan in shops judged by amount / plan: above goal of amount → flag ''amount {amount}'''",
  ])
  expect(renamed('exhibit', 'shops', 'outlets')).toEqual([
    "- say: 'amount and plan in outlets judged by amount / plan: above limit of amount → flag ''amount {amount}'''",
    '- name: outlets',
    'strip: outlets.amount',
    'proof: { ignore: [{ code: unused-status, at: outlets.amount, because: amount is shown }] }',
  ])
})

test('labels stay where they are written for a name, and an included file that needs a name is told', () => {
  const text = `title: T
include: [house.yaml]
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), label: Net revenue } }
rules:
  - Net revenue: top 3 → leading
  - revenue: top 3 → leading
exhibits: []
`
  expect(renamed('measure', 'revenue', 'sold', text)).toEqual([
    'measures: { sold: { formula: sum(amount), label: Net revenue } }',
    '- sold: top 3 → leading',
  ])
  const house =
    'statuses: { leading: { wash: aqua } }\nrules: [{ paint: revenue, rank: { top: 1, status: leading } }]\n'
  const draft = openDraft(text, { included: { 'house.yaml': house } })
  expect(draft.problems).toEqual([])
  const next = applyEdit(draft, { do: 'rename', kind: 'measure', from: 'revenue', to: 'sold' })
  expect(next.refused?.map(({ message }) => message)).toEqual([
    'house.yaml names revenue, too; rename it there first, to sold',
  ])
  expect(next.text).toBe(text)
})

test('a rule is copied for another measure, and a number or a style gets a name', () => {
  const lines = (edit: Edit): string[] => {
    const next = applyEdit(openDraft(TEXT), edit)
    expect(next.refused).toBeUndefined()
    expect(readReport(next.text).problems.filter(({ code }) => code !== 'no-source')).toEqual([])
    return diff(TEXT, next.text).flatMap(({ is, text }) =>
      is === 'same' ? [] : [`${is === 'added' ? '+' : '-'} ${text.trim()}`],
    )
  }
  expect(lines({ do: 'copyRule', rule: 'second', measure: 'share' })).toEqual([
    "+ - say: 'share in shops judged by share / plan: above limit of share → flag ''amount {share}'''",
    '+ name: secondShare',
  ])
  expect(lines({ do: 'copyRule', rule: 0, measure: 'folded' })).toEqual([
    "+ - folded of each shop: at least limit → ahead; when 'amount' = 'amount' → bold",
  ])
  const text = `title: T
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), format: money EUR 0 }, other: sum(x) }
rules:
  - revenue: at least 50000 → aqua and bold; below 100 → coral
  - revenue of each shop: above 50000 → icon up
  - other: above 50000 → aqua and bold
exhibits: []
`
  const made = (edit: Edit): string => applyEdit(openDraft(text), edit).text
  expect(made({ do: 'extract', path: ['rules', 0, 'bands', 0, 'atLeast'], name: 'goal' })).toBe(
    text
      .replace('rules:\n', 'parameters:\n  goal: { value: 50000, format: money EUR 0 }\nrules:\n')
      .replace('at least 50000', 'at least goal')
      .replace('shop: above 50000', 'shop: above goal'),
  )
  expect(made({ do: 'extract', path: ['rules', 0, 'bands', 0, 'style'], name: 'strong' })).toBe(
    text
      .replace('rules:\n', 'statuses:\n  strong: { wash: aqua, weight: bold }\nrules:\n')
      .replaceAll('aqua and bold', 'strong'),
  )
})
