import { quoteText } from '../../../expression/print.js'
import type { BandSpec } from '../../../spec/rules.js'
import {
  conditionInSentence,
  limitInSentence,
  literalInSentence,
  resultInSentence,
  type WriteClauses,
  writtenResult,
} from '../sentence-parts.js'

/** `at least target → ahead; at least 80% of target → close; otherwise → behind`. */
export const writeClauses: WriteClauses = ({ bands = [] }) => {
  const clauses = bands.flatMap((band) => {
    const tests = testsText(band)
    return tests === '' ? [] : [`${tests} → ${writtenResult(band)}`]
  })
  const missing = bands.find((band) => band.missing !== undefined)?.missing
  const otherwise = bands.find((band) => band.otherwise !== undefined)?.otherwise
  if (missing !== undefined) clauses.push(`missing → ${resultInSentence(missing)}`)
  if (otherwise !== undefined) clauses.push(`otherwise → ${resultInSentence(otherwise)}`)
  return clauses.join('; ')
}

const WORDS = { atLeast: 'at least', above: 'above', atMost: 'at most', below: 'below' } as const
const SIGNS = { atLeast: '>=', above: '>', atMost: '<=', below: '<' } as const
const SIDES = ['atLeast', 'above', 'atMost', 'below'] as const

function testsText(band: BandSpec): string {
  // A free condition must be the last part: what follows would become a part of it.
  if (band.when !== undefined) return `when ${conditionOf(band, band.when)}`
  const tests = SIDES.flatMap((side) => {
    const limit = band[side]
    return limit === undefined ? [] : [`${WORDS[side]} ${limitInSentence(limit)}`]
  })
  if (band.equals !== undefined) tests.push(`is ${literalInSentence(band.equals)}`)
  if (band.in !== undefined) tests.push(`in (${band.in.map(literalInSentence).join(', ')})`)
  if (band.contains !== undefined) tests.push(`contains ${literalInSentence(band.contains)}`)
  return tests.join(' and ')
}

function conditionOf(band: BandSpec, when: string): string {
  const literal = (value: string | number | boolean): string =>
    typeof value === 'string' ? quoteText(value) : String(value)
  const tests = SIDES.flatMap((side) => (band[side] === undefined ? [] : [`value ${SIGNS[side]} (${band[side]})`]))
  if (band.equals !== undefined) tests.push(`value = ${literal(band.equals)}`)
  if (band.in !== undefined) tests.push(`value in (${band.in.map(literal).join(', ')})`)
  if (band.contains !== undefined) tests.push(`value contains ${quoteText(band.contains)}`)
  return conditionInSentence(tests.length === 0 ? when : [...tests, `(${when})`].join(' and '))
}
