import { type Completion, completeSentence, fromColumns, ProblemError, paint, type SentenceNames } from 'acuarela'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'

const NAMES: SentenceNames = {
  values: [
    { id: 'revenue', label: 'Net revenue', is: 'measure' },
    { id: 'plan', label: 'plan', is: 'measure' },
    { id: 'target', label: 'Shop target', is: 'parameter' },
    { id: 'shop', label: 'Shop', is: 'key' },
    { id: 'top', label: 'Top seller', is: 'key' },
  ],
  statuses: [
    { id: 'ahead', label: 'On target', verdict: 'good' },
    { id: 'behind', label: 'Behind', verdict: 'bad' },
  ],
  exhibits: [{ id: 'shops', label: 'The shops' }],
  pigments: ['brand'],
}
const texts = (sentence: string, cursor = sentence.length): string[] =>
  completeSentence(sentence, cursor, NAMES).map(({ text }) => text)

test('what may stand next is offered, narrowed by what is begun', () => {
  expect(texts('')).toEqual(['revenue', 'plan', 'target', 'shop', '"top"', 'rows', 'every measure'])
  expect(texts('re')).toEqual(['revenue'])
  expect(texts('seller')).toEqual(['"top"'])
  expect(texts('revenue of each ').slice(0, 2)).toEqual(['shop', '"top"'])
  expect(texts('revenue in ')).toEqual(['shops'])
  expect(texts('revenue: at ')).toEqual(['at least', 'at most'])
  expect(texts('revenue: at le')).toEqual(['at least'])
  expect(texts('revenue: at least ').slice(-5)).toEqual([
    'the average',
    'the median',
    'the lowest',
    'the highest',
    'the 95th percentile',
  ])
  expect(texts('revenue: at least 80% of t')).toEqual([
    'target',
    '"top"',
    'the average',
    'the median',
    'the lowest',
    'the highest',
    'the 95th percentile',
  ])
  expect(texts('revenue: at least target ')).toEqual(['and', '→'])
  expect(texts('revenue: at least target → a')).toEqual(['aqua', 'ahead'])
  expect(texts('revenue: at least target and a')).toEqual(['above', 'at most'])
  expect(texts('revenue: above 5 → ahead; o')).toEqual(['otherwise'])
  expect(texts('revenue: above 5 → ahead, t')).toEqual(['totals too', 'totals only'])
  expect(texts('revenue: shade from b')).toEqual(['bad', 'brand'])
  expect(texts('revenue: above 5 → ahead', 8)).toEqual(texts('revenue:'))
  expect(texts('no sentence % (')).toEqual([])
  expect(completeSentence('net', 3, NAMES)).toEqual([
    { text: 'revenue', from: 0, is: 'measure', about: 'Net revenue' } satisfies Completion,
  ])
  expect(() => completeSentence('a', -1, NAMES)).toThrow(ProblemError)
})

test('each completion leads on: no walk along them comes to a place where nothing can stand', () => {
  const table = fromColumns({ revenue: [1, 2], plan: [2, 3], shop: ['a', 'b'], top: ['a', 'b'] })
  let whole = 0
  fc.assert(
    fc.property(fc.array(fc.nat(1000), { minLength: 1, maxLength: 18 }), (choices) => {
      let text = ''
      for (const choice of choices) {
        const offered = texts(text)
        // Numbers and texts are not offered.
        const next = offered.length > 0 ? offered[choice % offered.length] : choice % 2 === 0 ? '5' : "'x'"
        const longer = `${text}${next} `
        let problem: string | undefined
        try {
          paint(table, {
            parameters: { target: 5 },
            pigments: { brand: '#123456' },
            statuses: { ahead: { wash: 'aqua' }, behind: { wash: 'coral' } },
            rules: [longer],
          })
          whole++
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error
          const [{ code, place }] = error.problems
          // What follows is missing, or the whole sentence cannot be bound; its words are in order.
          const isOpen =
            code === 'sentence-end' || code === 'expression-end' || (place.from ?? 0) >= longer.trimEnd().length
          const isRead =
            !/^(sentence|expression)-/.test(code) || code === 'sentence-no-colon' || code === 'sentence-meant'
          if (!isOpen && !isRead && offered.length > 0) problem = `${longer}: ${error.message}`
        }
        expect(problem).toBeUndefined()
        if (offered.length === 0 && problem === undefined && choice % 2 === 1) return
        text = longer
      }
    }),
    { seed: 9, numRuns: effort(3000, 400) },
  )
  expect(whole).toBeGreaterThan(5)
})
