import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ProblemError } from 'acuarela'
import { openReport, type ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'
import { some } from '../support/effort.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

/** The texts of texts.md, over a report that has all that they name. */

const KEYS = ['shop', 'region', 'clerk', 'product', 'channel', 'line', 'name', 'status', 'segment', 'colour']
const CSV = `day,${KEYS.join()},amount,cost\n2025-01-05,${KEYS.map((key) => `${key}1`).join()},10,4\n2025-02-06,${KEYS.map((key) => `${key}2`).join()},20,5\n`
const money = (formula: string, label?: string, better = 'higher'): object => ({
  formula,
  format: 'money EUR 0',
  better,
  ...(label && { label }),
})
const REPORT = {
  title: 'Texts',
  sources: { orders: { file: 'data.csv', date: 'day' } },
  measures: {
    revenue: money('sum(amount)', 'Revenue'),
    amount: money('sum(amount)', 'Amount'),
    sales: money('sum(amount)', 'Sales'),
    target: money('sum(amount) * 0.9', 'Target'),
    plan: money('sum(amount) * 1.1', 'Plan'),
    gap: money('sum(amount) - sum(cost)', 'Gap'),
    cost: money('sum(cost)', 'Cost', 'lower'),
    margin: {
      formula: '(sum(amount) - sum(cost)) / sum(amount)',
      format: 'percent 1',
      better: 'higher',
      label: 'Margin',
    },
    growth: {
      formula: 'percentChange(sum(amount), lag(sum(amount), 1 month))',
      format: 'percent 1',
      label: 'Growth',
      better: 'higher',
    },
    lastYear: money('lag(sum(amount), 1 year)', 'Last year'),
    PY: money('lag(sum(amount), 1 year)', 'Revenue PY'),
  },
  statuses: {
    good: { verdict: 'good', label: 'Good', wash: 'aqua' },
    fair: { verdict: 'fair', label: 'Fair', wash: 'straw' },
    bad: { verdict: 'bad', label: 'Bad', wash: 'coral' },
  },
  exhibits: [
    {
      name: 'shops',
      title: 'Shops',
      table: { rows: ['region', 'shop'], show: ['revenue', 'plan', 'margin', 'growth'] },
    },
    { name: 'orders', title: 'Orders', records: { show: ['name', 'product', 'channel', 'amount'] } },
    {
      name: 'quarterly',
      title: 'Quarterly',
      table: { rows: ['clerk', 'product'], columns: 'quarter', show: ['sales', 'gap', 'cost'] },
    },
    { name: 'seasons', title: 'Seasons', heatmap: { rows: 'line', columns: 'month', show: 'revenue' } },
  ],
} as unknown as ReportSpec

/** Intent, text, class and answer of each row. */
const ROWS = readFileSync(join(ROOT, 'test/sentences/texts.md'), 'utf8')
  .split('\n')
  .filter((line) => /^\| \d/.test(line))
  .map((line) => {
    const cells = line.split(/(?<!\\)\|/).map((cell) => cell.trim().replaceAll('\\|', '|'))
    return { text: cells[2], class: cells[3], answer: cells[5].replaceAll('`', '') }
  })

/** The sentence that a text is read as; undefined if it is not read, or cannot be bound. */
async function said(text: string): Promise<string | undefined> {
  const { readSentence, writeSentence } = (await import(join(ROOT, 'dist/rule/sentence/parse.js'))) as {
    readSentence(text: string, names: object): { spec: object } | { code: string }
    writeSentence(spec: object): string
  }
  const { readLoosely } = (await import(join(ROOT, 'dist/rule/loose/read.js'))) as {
    readLoosely(text: string, names: object): { sentence: string } | undefined
  }
  const { namesOfReport } = (await import(join(ROOT, 'dist/file/rules.js'))) as {
    namesOfReport(tree: object, columns: readonly string[]): object
  }
  const names = namesOfReport(REPORT, [...KEYS, 'month', 'quarter', 'day'])
  const read = readSentence(text, names)
  const sentence = 'spec' in read ? writeSentence(read.spec) : readLoosely(text, names)?.sentence
  return sentence !== undefined && (await binds(sentence)) ? sentence : undefined
}

async function binds(sentence: string): Promise<boolean> {
  try {
    await openReport({ ...REPORT, rules: [sentence] }, { orders: CSV })
    return true
  } catch (error) {
    if (error instanceof ProblemError) return false
    throw error
  }
}

test('the texts of class b are read as the table says; the others are not read as something else', async () => {
  expect(ROWS.length).toBe(252)
  const read: [text: string, sentence: string][] = []
  const wanted: [text: string, sentence: string][] = []
  for (const { text, class: own, answer } of ROWS) {
    const sentence = await said(text)
    if (sentence !== undefined) read.push([text, sentence])
    if (own === 'b') wanted.push([text, answer])
  }
  expect(read).toEqual(wanted)
})

test('each answer is a sentence that binds and is written as it is read', async () => {
  const rows = some(ROWS, 3)
  const read = await Promise.all(rows.map(async ({ answer }) => (await said(answer)) ?? `not read: ${answer}`))
  expect(read).toEqual(rows.map(({ answer }) => answer))
})

/** What is offered for a text, with the values of the data at hand. */
async function offered(text: string): Promise<string[]> {
  const { offersFor } = (await import(join(ROOT, 'dist/rule/loose/offer.js'))) as {
    offersFor(text: string, names: object): string[]
  }
  const { namesOfReport } = (await import(join(ROOT, 'dist/file/rules.js'))) as {
    namesOfReport(tree: object, columns: readonly string[]): object
  }
  const keyWith = (value: string): object | undefined =>
    value.toLowerCase() === 'trade'
      ? { key: 'channel', value: 'Trade' }
      : value === 'returned'
        ? { key: 'status', value }
        : undefined
  return offersFor(text, { ...namesOfReport(REPORT, [...KEYS, 'month', 'quarter', 'day']), keyWith })
}

test('a text of class c is shown every reading, one of class d its answer; what is offered first binds', async () => {
  const asked = ROWS.filter((row) => row.class !== 'b')
  expect(asked.length).toBeGreaterThan(170)
  const wrong: object[] = []
  for (const { text, class: own, answer } of some(asked, 3)) {
    const sentences = await offered(text)
    const isComplete = own === 'd' ? sentences.length > 0 : sentences.length > 1
    if (sentences[0] !== answer || !isComplete || !(await binds(answer))) wrong.push({ text, answer, sentences })
  }
  expect(wrong).toEqual([])
})

test('a text of which nothing is known is offered nothing, and a long one is not looked at', async () => {
  expect(await offered('the weather in spring')).toEqual([])
  expect(await offered(`revenue ${'very '.repeat(200)} red if below plan`)).toEqual([])
})

test('say reads other words, a file is told the sentence', async () => {
  const yaml = (rules: string): string => `title: T
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), better: higher }, target: sum(goal) }
statuses: { good: { verdict: good, wash: aqua }, bad: { verdict: bad, wash: coral } }
${rules}
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`
  const cwd = await folder({ 's.csv': 'shop,amount,goal\na,10,5\nb,2,5\n', 'r.acuarela.yaml': yaml('') })
  const { code, out } = await acuarela(
    ['say', 'r.acuarela.yaml', 'Revenue >= Target: good, the rest bad', '--json'],
    cwd,
  )
  expect(code).toBe(0)
  expect(JSON.parse(out)).toMatchObject({ sentence: 'revenue: at least target → good; otherwise → bad' })
  const other = await folder({
    's.csv': 'shop,amount,goal\na,10,5\n',
    'r.acuarela.yaml': yaml("rules: ['Revenue over Target good, rest bad']"),
  })
  const { err } = await acuarela(['paint', 'r.acuarela.yaml'], other)
  expect(err).toContain('(rules[1]): did you mean revenue: above target → good; otherwise → bad?')
})

test('say offers sentences for prose, and names the statuses of a verdict that several have', async () => {
  const report = `title: T
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), better: higher }, target: sum(goal) }
statuses: { star: { verdict: good, wash: aqua }, fine: { verdict: good, wash: sky }, weak: { verdict: bad, wash: coral } }
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`
  const cwd = await folder({ 's.csv': 'shop,amount,goal\na,10,5\nb,2,5\n', 'r.acuarela.yaml': report })
  const one = await acuarela(['say', 'r.acuarela.yaml', 'please mark shops that miss a revenue under 3'], cwd)
  expect(one.code).toBe(2)
  expect(one.err).toContain('did you mean shop judged by revenue: below 3 → bold?')
  const two = await acuarela(['say', 'r.acuarela.yaml', 'revenue below target, red'], cwd)
  expect(two.err).toContain(
    'did you mean one of these?\n  revenue: below target → red fill\n  revenue: below target → red text\n',
  )
  const verdict = await acuarela(['say', 'r.acuarela.yaml', 'revenue: above 5 → good'], cwd)
  expect(verdict.code).toBe(2)
  expect(verdict.err).toContain('good may be star or fine; write one of these')
  const alone = await acuarela(['say', 'r.acuarela.yaml', 'revenue: below 5 → bad', '--json'], cwd)
  expect(JSON.parse(alone.out)).toMatchObject({ sentence: 'revenue: below 5 → weak' })
})
