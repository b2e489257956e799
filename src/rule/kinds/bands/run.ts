import { readsCells } from '../../../expression/bound.js'
import { numbers } from '../../../expression/evaluate.js'
import { addLimit, type BoundText, type Finding, type Judged, type Kind, type Phrases } from '../../model.js'
import {
  constantIntervals,
  type Ladder,
  type LadderFit,
  missingMask,
  nextUp,
  runIntervals,
  runLadder,
  type Sign,
  type Test,
  truthOf,
} from '../ladder.js'
import { isWritten, limitNumber, limitText } from '../limit-text.js'

/** Bands in order; the first that holds wins. */
export const kind: Kind<Ladder, LadderFit> = {
  key: 'bands',

  expressions: (plan) => bandLimits(plan).map((limit) => limit.bound),

  readsPopulation: () => false,

  fit: (plan, judged) => constantIntervals(plan, judged),

  cuts: (_, fit) =>
    fit === undefined ? undefined : [...fit.low, ...Array.from(fit.high, nextUp)].filter((cut) => Number.isFinite(cut)),

  decide: (plan, fit, judged) => ({
    classes: fit === undefined ? runLadder(plan, judged) : runIntervals(plan, fit, judged),
  }),

  alone(plan) {
    const bands = plan.bands.filter(({ tests }) => !tests.some(comparesCells))
    // `otherwise` takes what no band takes; a band that needs a population leaves that open.
    return { ...plan, bands, otherwise: bands.length === plan.bands.length ? plan.otherwise : -1 }
  },

  legend(plan, _, judged, telling) {
    const limits: string[] = []
    for (const { gives, tests } of plan.bands)
      addLimit(limits, gives, tests.map((test) => testText(test, judged, telling)).join(' and '))
    if (plan.otherwise >= 0) addLimit(limits, plan.otherwise, otherwiseText(plan, judged, telling))
    if (plan.missing >= 0) addLimit(limits, plan.missing, 'missing')
    return { limits }
  },

  describe(plan, telling) {
    const parts = plan.bands.map(
      ({ tests, gives }) => `${telling.gives(gives)} ${tests.map((test) => rangeText(test, telling)).join(' and ')}`,
    )
    if (plan.otherwise >= 0) parts.push(`${telling.gives(plan.otherwise)} ${otherwiseWords(plan)}`)
    if (plan.missing >= 0) parts.push(`${telling.gives(plan.missing)} for missing values`)
    return `${parts.join(', ')}${plan.missing >= 0 ? '' : '; missing values stay unpainted'}`
  },

  explain(plan, _, judged, cell, telling) {
    const findings: Finding[] = []
    if (missingMask(judged.value, judged.length)[cell] === 1)
      return [{ text: 'the value is missing', conclusion: true }]
    for (const { tests } of plan.bands) {
      const tested = tests.map((test) => findingOf(test, judged, cell, telling))
      findings.push(...tested)
      if (tested.some((finding) => finding.holds === false)) continue
      if (tested.some((finding) => finding.holds === null))
        findings.push({ text: 'what cannot be compared is treated as missing', conclusion: true })
      return findings
    }
    findings.push({ text: noneText(plan), conclusion: true })
    return findings
  },
}

/** One comparison at one cell: `at least €60,000 (target): no`. */
function findingOf(test: Test, judged: Judged, cell: number, telling: Phrases): Finding {
  const truth = truthOf(test, judged)[cell]
  const holds = truth < 0 ? null : truth === 1
  const out = holds === null ? 'unknown' : holds ? 'yes' : 'no'
  if (test.kind !== 'limit') return { text: `${testWords(test, telling)}: ${out}`, holds }
  const limit = numbers(judged.run(test.limit.bound), judged.length)[cell]
  const words = isWritten(test.limit.bound) ? '' : ` (${telling.words(test.limit.bound, test.limit.text)})`
  const value = judged.value.kind === 'number' ? judged.value.values[judged.value.constant ? 0 : cell] : Number.NaN
  // With more digits, if rounded values are equal: the sentence would contradict itself.
  const shown = limitNumber(limit, test.limit.bound, telling)
  const alike = value !== limit && telling.print(value) === shown
  const number = Number.isNaN(limit) ? 'missing' : alike ? telling.apart(limit, value) : shown
  const nearly = alike ? `, for it is ${telling.apart(value, limit)}` : ''
  const finding: Finding = { text: `${TEST_WORDS[test.sign]} ${number}${words}: ${out}${nearly}`, holds }
  return Number.isNaN(limit) ? finding : { ...finding, limit }
}

/** Whether a test reads other cells of its population. */
function comparesCells(test: Test): boolean {
  if (test.kind === 'limit') return readsCells(test.limit.bound)
  return test.kind === 'when' && readsCells(test.condition.bound)
}

/** The values of a test: `at €60,000 or more`, `below −8.0%`, `where it is Trade`. */
function rangeText(test: Test, telling: Phrases): string {
  if (test.kind === 'equals') return `where it is ${test.written}`
  if (test.kind === 'contains') return `where it contains ${test.text}`
  if (test.kind === 'when') return `where ${telling.words(test.condition.bound, test.condition.text)}`
  const limit = telling.amount(test.limit)
  if (test.sign === 'atLeast') return `at ${limit} or more`
  return test.sign === 'atMost' ? `at ${limit} or less` : `${test.sign} ${limit}`
}

/** A test other than a limit, at one cell. */
function testWords(test: Exclude<Test, { kind: 'limit' }>, telling: Phrases): string {
  if (test.kind === 'equals') return `is ${test.written}`
  return test.kind === 'contains' ? `contains ${test.text}` : telling.words(test.condition.bound, test.condition.text)
}

function noneText({ bands }: Ladder): string {
  const limits = bands.every(({ tests }) => tests.every(({ kind }) => kind === 'limit'))
  const [count, what] = [bands.length, limits ? 'limit' : 'condition']
  if (count === 0) return 'there is a value'
  return count === 1 ? `the ${what} is not met` : `none of the ${what}s is met`
}

function otherwiseWords(plan: Ladder): string {
  const side = openSide(plan)
  return side === undefined ? 'otherwise' : side === 'below' ? 'below' : 'above'
}

function bandLimits(plan: Ladder): BoundText[] {
  const texts: BoundText[] = []
  for (const band of plan.bands)
    for (const test of band.tests) {
      if (test.kind === 'limit') texts.push(test.limit)
      if (test.kind === 'when') texts.push(test.condition)
    }
  return texts
}

/** A limit in a sentence about one cell. */
const TEST_WORDS: Readonly<Record<Sign, string>> = {
  atLeast: 'at least',
  above: 'above',
  atMost: 'at most',
  below: 'below',
}

function testText(test: Test, judged: Judged, telling: Phrases): string {
  if (test.kind === 'limit') return sidedText(test.sign, (side) => limitText(test.limit, judged, telling, side))
  if (test.kind === 'equals') return test.written
  return test.kind === 'contains' ? `contains ${test.text}` : telling.words(test.condition.bound, test.condition.text)
}

/** A limit in a legend: `€60,000 or more`, `below €48,000`. */
function sidedText(sign: Sign, limit: (side: string) => string): string {
  if (sign === 'atLeast') return limit(' or more')
  return sign === 'atMost' ? limit(' or less') : `${sign} ${limit('')}`
}

/** The open side of a ladder of single one-sided limits; undefined for other ladders. */
function openSide(plan: Ladder): 'below' | 'above' | undefined {
  const signs = plan.bands.map(({ tests: [test, ...more] }) =>
    more.length === 0 && test.kind === 'limit' ? test.sign : undefined,
  )
  if (signs.length === 0) return undefined
  if (signs.every((s) => s === 'atLeast' || s === 'above')) return 'below'
  return signs.every((s) => s === 'atMost' || s === 'below') ? 'above' : undefined
}

/** `otherwise` after a ladder of one-sided limits is described as its other side. */
function otherwiseText(plan: Ladder, judged: Judged, telling: Phrases): string {
  const far: Readonly<Record<Sign, Sign>> = { atLeast: 'below', above: 'atMost', atMost: 'above', below: 'atLeast' }
  const last = plan.bands.at(-1)?.tests[0]
  if (openSide(plan) === undefined || last?.kind !== 'limit') return 'all others'
  const { bound, text } = last.limit
  const value = judged.run(bound)
  const limit =
    value.constant && value.kind === 'number'
      ? limitNumber(value.values[0], bound, telling)
      : telling.words(bound, text)
  return sidedText(far[last.sign], (side) => `${limit}${side}`)
}
