import { typeText } from '../../../expression/bind.js'
import { isOpen } from '../../../expression/bound.js'
import type { Diagnostics } from '../../../problem/diagnostics.js'
import type { BandSpec } from '../../../spec/rules.js'
import { type Check, type Checker, writtenOutcome } from '../check.js'
import { type Ladder, type Literal, SIGNS, spanOfText, type Test } from '../ladder.js'

export const check: Check<Ladder> = (spec, checker, at) => {
  const list = spec.bands ?? []
  const plan: Ladder = {
    bands: [],
    missing: -1,
    missingBand: list.findIndex((band) => band.missing !== undefined),
    otherwise: -1,
  }
  list.forEach((band, i) => {
    const here = at.at('bands', i)
    if (band.missing !== undefined) plan.missing = checker.outcome(band.missing, here.at('missing'), 'missing') ?? -1
    if (band.otherwise !== undefined) {
      if (list.slice(i + 1).some((later) => later.missing === undefined)) here.report('otherwise-last', {})
      plan.otherwise = checker.outcome(band.otherwise, here.at('otherwise'), 'otherwise') ?? -1
    }
    const tests = checkTests(band, checker, here)
    if (tests.length === 0) {
      if (band.missing === undefined && band.otherwise === undefined) here.report('empty-band', {})
      return
    }
    const written = writtenOutcome(band, here)
    const gives = checker.outcome(written.outcome, written.at, 'the band', written.refined)
    if (gives !== undefined) plan.bands.push({ tests, gives })
  })
  return plan
}

function checkTests(band: BandSpec, checker: Checker, at: Diagnostics): Test[] {
  const tests: Test[] = []
  for (const sign of SIGNS) {
    const limit = band[sign]
    if (limit === undefined) continue
    const { kind } = checker.judged
    if (spanOfText(limit) !== undefined && (kind === 'date' || (kind === 'blank' && String(limit).includes('-')))) {
      // A written date is a date here; as an expression it would be a subtraction.
      const condition = checker.condition(`value ${OPERATORS[sign]} ${limit}`, at.at(sign))
      tests.push(condition === undefined ? NEVER : { kind: 'when', condition })
      continue
    }
    const bound = checker.limit(limit, at.at(sign))
    // An invalid test is kept as one that never holds, so that the band is not reported as empty,
    // too.
    tests.push(bound === undefined ? NEVER : { kind: 'limit', sign, limit: bound })
  }
  if (band.equals !== undefined) tests.push(checkLiterals([band.equals], checker, at.at('equals')))
  if (band.in !== undefined) tests.push(checkLiterals(band.in, checker, at.at('in')))
  if (band.contains !== undefined) {
    const type = typeText(checker.judged)
    if (!isKind(checker, 'text'))
      at.at('contains').report('wrong-type', { what: 'contains', expected: 'a text to judge', found: type })
    tests.push({ kind: 'contains', text: band.contains })
  }
  if (band.when !== undefined) {
    const condition = checker.condition(band.when, at.at('when'))
    tests.push(condition === undefined ? NEVER : { kind: 'when', condition })
  }
  return tests
}

const OPERATORS = { atLeast: '>=', above: '>', atMost: '<=', below: '<' } as const

/** A test that never holds. */
const NEVER: Test = { kind: 'equals', written: '', values: [], spans: [] }

function isKind({ judged }: Checker, kind: Checker['judged']['kind']): boolean {
  return judged.kind === kind || isOpen(judged)
}

/** Values must have the judged kind: numbers for a number, periods for a date. */
function checkLiterals(values: readonly Literal[], checker: Checker, at: Diagnostics): Test {
  const spans = values.map(spanOfText).filter((span) => span !== undefined)
  const fits: Record<string, (value: Literal) => boolean> = {
    number: (value) => typeof value === 'number',
    condition: (value) => typeof value === 'boolean',
    date: (value) => spanOfText(value) !== undefined,
  }
  const { kind } = checker.judged
  const stray = values.find((value) => !(fits[kind]?.(value) ?? true))
  if (stray !== undefined)
    at.report('unlike-types', { left: typeText(checker.judged), right: `'${stray}'`, verb: 'compared' })
  const written = values.join(' or ')
  if (kind === 'date') return { kind: 'equals', written, values: [], spans }
  return { kind: 'equals', written, values, spans: [] }
}
