import { typeText } from '../../expression/bind.js'
import { numbers } from '../../expression/evaluate.js'
import type { Path } from '../../problem/problem.js'
import {
  addLimit,
  type BoundText,
  type Checker,
  type Finding,
  type Judged,
  type Kind,
  type Telling,
  writtenOutcome,
} from '../kind.js'
import type { BandSpec } from '../spec.js'
import {
  constantIntervals,
  type Ladder,
  type LadderFit,
  type Literal,
  missingMask,
  nextUp,
  runIntervals,
  runLadder,
  SIGNS,
  type Sign,
  spanOfText,
  type Test,
  truthOf,
} from './ladder.js'
import { isWritten, limitText, listed } from './limit-text.js'

/** Limits in order; the first band that holds gives its look. */
export const bands: Kind<Ladder, LadderFit> = {
  key: 'bands',

  check(spec, checker, at) {
    const list = spec.bands ?? []
    const plan: Ladder = { bands: [], missing: -1, otherwise: -1 }
    list.forEach((band, i) => {
      const here = [...at, 'bands', i]
      if (band.missing !== undefined)
        plan.missing = checker.outcome(band.missing, [...here, 'missing'], 'missing') ?? -1
      if (band.otherwise !== undefined) {
        if (list.slice(i + 1).some((later) => later.missing === undefined)) checker.tell('otherwise-last', {}, here)
        plan.otherwise = checker.outcome(band.otherwise, [...here, 'otherwise'], 'otherwise') ?? -1
      }
      const tests = checkTests(band, checker, here)
      if (tests.length === 0) {
        if (band.missing === undefined && band.otherwise === undefined) checker.tell('empty-band', {}, here)
        return
      }
      const own = writtenOutcome(band, here)
      const gives = checker.outcome(own.outcome, own.at, 'the band')
      if (gives !== undefined) plan.bands.push({ tests, gives })
    })
    return plan
  },

  expressions: (plan) => limitsOf(plan).map((limit) => limit.bound),

  readsPopulation: () => false,

  fit: (plan, judged) => constantIntervals(plan, judged),

  cuts: (_, fit) =>
    fit === undefined ? undefined : [...fit.low, ...Array.from(fit.high, nextUp)].filter((cut) => Number.isFinite(cut)),

  decide: (plan, fit, judged) => ({
    classes: fit === undefined ? runLadder(plan, judged) : runIntervals(plan, fit, judged),
  }),

  legend(plan, _, judged, telling) {
    const limits: string[] = []
    for (const { gives, tests } of plan.bands)
      addLimit(limits, gives, tests.map((test) => testText(test, judged, telling)).join(' and '))
    if (plan.otherwise >= 0) addLimit(limits, plan.otherwise, otherwiseText(plan, judged, telling))
    if (plan.missing >= 0) addLimit(limits, plan.missing, 'missing')
    return { limits }
  },

  sentence(plan, telling) {
    const parts = plan.bands.map(
      ({ tests, gives }) => `${telling.gives(gives)} ${tests.map((test) => testWords(test, telling)).join(' and ')}`,
    )
    if (plan.otherwise >= 0) parts.push(`${telling.gives(plan.otherwise)} ${otherwiseWords(plan)}`)
    const missing = plan.missing >= 0 ? `missing is ${telling.gives(plan.missing)}` : 'missing is left alone'
    return `is ${listed(parts)}; ${missing}`
  },

  boundaries(plan, _, judged, cell, telling) {
    return plan.bands.flatMap(({ tests }) =>
      tests.flatMap((test) => {
        if (test.kind === 'equals')
          return test.values.flatMap((value) => (typeof value === 'number' ? [{ value, what: 'equal' }] : []))
        if (test.kind !== 'limit') return []
        const vector = judged.run(test.limit.bound)
        if (vector.kind !== 'number') return []
        const value = vector.values[vector.constant ? 0 : cell]
        return Number.isNaN(value)
          ? []
          : [{ value, what: isWritten(test.limit.bound) ? 'limit' : telling.words(test.limit.bound, test.limit.text) }]
      }),
    )
  },

  texts: (plan) =>
    plan.bands.flatMap(({ tests }) =>
      tests.flatMap((test) =>
        test.kind === 'equals' ? test.values.map(String) : test.kind === 'contains' ? [test.text] : [],
      ),
    ),

  explain(plan, _, judged, cell, telling) {
    const findings: Finding[] = []
    if (missingMask(judged.value, judged.length)[cell] === 1)
      return [{ text: plan.missing < 0 ? 'the value is missing, which the rule leaves alone' : 'the value is missing' }]
    for (const { tests } of plan.bands) {
      const own = tests.map((test) => findingOf(test, judged, cell, telling))
      findings.push(...own)
      if (own.some((finding) => finding.holds === false)) continue
      if (own.some((finding) => finding.holds === null))
        findings.push({ text: 'what cannot be compared is treated as missing' })
      return findings
    }
    if (plan.otherwise >= 0) findings.push({ text: 'no limit holds, so what is left applies' })
    return findings
  },
}

/** One comparison at one cell: `at least €60,000 (target): no`. */
function findingOf(test: Test, judged: Judged, cell: number, telling: Telling): Finding {
  const truth = truthOf(test, judged)[cell]
  const holds = truth < 0 ? null : truth === 1
  const out = holds === null ? 'cannot be told' : holds ? 'yes' : 'no'
  if (test.kind !== 'limit') return { text: `${testWords(test, telling)}: ${out}`, holds }
  const limit = numbers(judged.run(test.limit.bound), judged.length)[cell]
  const words = isWritten(test.limit.bound) ? '' : ` (${telling.words(test.limit.bound, test.limit.text)})`
  const number = Number.isNaN(limit) ? 'missing' : telling.print(limit)
  const finding: Finding = { text: `${SIGN_WORDS[test.sign]} ${number}${words}: ${out}`, holds }
  return Number.isNaN(limit) ? finding : { ...finding, limit }
}

function testWords(test: Test, telling: Telling): string {
  if (test.kind === 'limit') return `${SIGN_WORDS[test.sign]} ${telling.limit(test.limit)}`
  if (test.kind === 'equals') return `where it is ${test.written}`
  return test.kind === 'contains'
    ? `where it contains ${test.text}`
    : `where ${telling.words(test.condition.bound, test.condition.text)}`
}

function otherwiseWords(plan: Ladder): string {
  const side = openSide(plan)
  return side === undefined ? 'otherwise' : side === 'below' ? 'below' : 'above'
}

function checkTests(band: BandSpec, checker: Checker, at: Path): Test[] {
  const tests: Test[] = []
  for (const sign of SIGNS) {
    const limit = band[sign]
    if (limit === undefined) continue
    const bound = checker.limit(limit, [...at, sign])
    // After a problem the test is kept as one that never holds, so that the band is not called empty too.
    tests.push(bound === undefined ? NEVER : { kind: 'limit', sign, limit: bound })
  }
  if (band.equals !== undefined) tests.push(checkLiterals([band.equals], checker, [...at, 'equals']))
  if (band.oneOf !== undefined) tests.push(checkLiterals(band.oneOf, checker, [...at, 'oneOf']))
  if (band.contains !== undefined) {
    const found = typeText(checker.judged)
    if (!isKind(checker, 'text'))
      checker.tell('wrong-type', { what: 'contains', expected: 'a text to judge', found }, [...at, 'contains'])
    tests.push({ kind: 'contains', text: band.contains })
  }
  if (band.when !== undefined) {
    const condition = checker.condition(band.when, [...at, 'when'])
    tests.push(condition === undefined ? NEVER : { kind: 'when', condition })
  }
  return tests
}

/** Holds for no cell. */
const NEVER: Test = { kind: 'equals', written: '', values: [], spans: [] }

function isKind({ judged }: Checker, kind: Checker['judged']['kind']): boolean {
  return judged.kind === kind || judged.kind === 'unknown'
}

/** Plain values must be of the kind that is judged: numbers for a number, periods for a date. */
function checkLiterals(values: readonly Literal[], checker: Checker, at: Path): Test {
  const spans = values.map(spanOfText).filter((span) => span !== undefined)
  const fits: Record<string, (value: Literal) => boolean> = {
    number: (value) => typeof value === 'number',
    condition: (value) => typeof value === 'boolean',
    date: (value) => spanOfText(value) !== undefined,
  }
  const { kind } = checker.judged
  const stray = values.find((value) => !(fits[kind]?.(value) ?? true))
  if (stray !== undefined)
    checker.tell('unlike-types', { left: typeText(checker.judged), right: `'${stray}'`, verb: 'compared' }, at)
  const written = values.join(' or ')
  if (kind === 'date') return { kind: 'equals', written, values: [], spans }
  return { kind: 'equals', written, values, spans: [] }
}

function limitsOf(plan: Ladder): BoundText[] {
  const found: BoundText[] = []
  for (const band of plan.bands)
    for (const test of band.tests) {
      if (test.kind === 'limit') found.push(test.limit)
      if (test.kind === 'when') found.push(test.condition)
    }
  return found
}

const SIGN_WORDS: Readonly<Record<Sign, string>> = { atLeast: 'from', above: 'above', atMost: 'up to', below: 'below' }

function testText(test: Test, judged: Judged, telling: Telling): string {
  if (test.kind === 'limit') return `${SIGN_WORDS[test.sign]} ${limitText(test.limit, judged, telling)}`
  if (test.kind === 'equals') return test.written
  return test.kind === 'contains' ? `contains ${test.text}` : telling.words(test.condition.bound, test.condition.text)
}

/** The side on which a ladder of single one-sided limits is open; undefined where it is none. */
function openSide(plan: Ladder): 'below' | 'above' | undefined {
  const signs = plan.bands.map(({ tests: [test, ...more] }) =>
    more.length === 0 && test.kind === 'limit' ? test.sign : undefined,
  )
  if (signs.length === 0) return undefined
  if (signs.every((s) => s === 'atLeast' || s === 'above')) return 'below'
  return signs.every((s) => s === 'atMost' || s === 'below') ? 'above' : undefined
}

/** What is left under a ladder of one-sided limits is told as its far side. */
function otherwiseText(plan: Ladder, judged: Judged, telling: Telling): string {
  const far: Readonly<Record<Sign, string>> = { atLeast: 'below', above: 'up to', atMost: 'above', below: 'from' }
  const last = plan.bands.at(-1)?.tests[0]
  if (openSide(plan) === undefined || last?.kind !== 'limit') return 'all others'
  const value = judged.run(last.limit.bound)
  return `${far[last.sign]} ${value.constant && value.kind === 'number' ? telling.print(value.values[0]) : telling.words(last.limit.bound, last.limit.text)}`
}
