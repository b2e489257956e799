import { quoteText } from '../../../expression/print.js'
import { problem } from '../../../problem/problem.js'
import type { BandSpec } from '../../../spec/rules.js'
import { condition, conditionInSentence, limit } from '../../grammar/expressions.js'
import {
  chooser,
  either,
  type Leaf,
  list,
  named,
  type Part,
  type Production,
  sequence,
  sign,
  slot,
  words,
} from '../../grammar/productions.js'
import { literal, outcome, result } from '../../grammar/results.js'

const literals: Leaf<(string | number | boolean)[]> = {
  ebnf: '"(" literal { "," literal } ")"',
  read: (reader) =>
    reader.attempt(() => {
      if (!reader.sign('(')) return undefined
      const values: (string | number | boolean)[] = []
      do {
        const value = literal.read(reader)
        if (value === undefined) return undefined
        values.push(value)
      } while (reader.sign(','))
      return reader.sign(')') ? values : undefined
    }),
  write: (values) => `(${values.map((value) => literal.write(value)).join(', ')})`,
}

const TESTS = [
  sequence(words('at least'), slot('atLeast', limit)),
  sequence(words('above'), slot('above', limit)),
  sequence(words('at most'), slot('atMost', limit)),
  sequence(words('below'), slot('below', limit)),
  sequence(words('is'), slot('equals', literal)),
  sequence(words('in'), slot('in', literals)),
  sequence(words('contains'), slot('contains', literal)),
]
const test = named('test', either(...TESTS))
const chooseTest = chooser(TESTS)

/** Tests that all hold; each at most once. */
const tests: Production = {
  ebnf: 'test { "and" test }',
  leads: test.leads,
  read: (reader) =>
    reader.attempt(() => {
      const part: Part = {}
      const taken: Production[] = []
      do {
        const token = reader.peek()
        const found = chooseTest(reader, taken)
        if (found === undefined) {
          // Told from the text alone: a second look by the grammar would count the test among those
          // expected here.
          const rest = reader.text.slice(token.from).toLowerCase()
          const twice = taken.flatMap(({ leads }) => leads ?? []).find((lead) => rest.startsWith(`${lead} `))
          if (twice === undefined) return undefined
          return reader.fail(problem('sentence-test-twice', { found: twice }, reader.place(token)))
        }
        taken.push(found.form)
        Object.assign(part, found.part)
      } while (reader.words('and'))
      return part
    }),
  write(part) {
    const texts = TESTS.flatMap((one) => one.write(part) ?? [])
    return texts.length === 0 ? undefined : texts.join(' and ')
  },
}

const arrow = sign('→')
const band = named(
  'band',
  either(
    sequence(words('when'), slot('when', condition), arrow, result),
    sequence(words('missing'), arrow, slot('missing', outcome)),
    sequence(words('otherwise'), arrow, slot('otherwise', outcome)),
    sequence(tests, arrow, result),
  ),
)
const bands = list('bands', band, ';')

/** `at least target → ahead; at least 80% of target → close; otherwise → behind`. */
export const clauses: Production = {
  ...bands,
  parts: [band, test],
  write: ({ bands: written }) =>
    written === undefined ? undefined : bands.write({ bands: apart(written as BandSpec[]) }),
}

/**
 * Bands with one form each: a free condition stands alone, what is missing and all others come
 * last.
 */
function apart(written: readonly BandSpec[]): BandSpec[] {
  const tested = written.flatMap(({ missing: _, otherwise: __, ...band }): BandSpec[] => {
    if (band.when !== undefined) return [{ when: conditionOf(band, band.when), ...resultOf(band) }]
    return TESTS.some((one) => one.write(band as Part) !== undefined) ? [band] : []
  })
  const missing = written.find((band) => band.missing !== undefined)?.missing
  const otherwise = written.find((band) => band.otherwise !== undefined)?.otherwise
  return [
    ...tested,
    ...(missing === undefined ? [] : [{ missing }]),
    ...(otherwise === undefined ? [] : [{ otherwise }]),
  ]
}

function resultOf({ status, style }: BandSpec): BandSpec {
  return { ...(status !== undefined && { status }), ...(style !== undefined && { style }) }
}

const SIGNS = { atLeast: '>=', above: '>', atMost: '<=', below: '<' } as const
const SIDES = ['atLeast', 'above', 'atMost', 'below'] as const

function conditionOf(band: BandSpec, when: string): string {
  const literalText = (value: string | number | boolean): string =>
    typeof value === 'string' ? quoteText(value) : String(value)
  const parts = SIDES.flatMap((side) => (band[side] === undefined ? [] : [`value ${SIGNS[side]} (${band[side]})`]))
  if (band.equals !== undefined) parts.push(`value = ${literalText(band.equals)}`)
  if (band.in !== undefined) parts.push(`value in (${band.in.map(literalText).join(', ')})`)
  if (band.contains !== undefined) parts.push(`value contains ${quoteText(band.contains)}`)
  return conditionInSentence(parts.length === 0 ? when : [...parts, `(${when})`].join(' and '))
}
