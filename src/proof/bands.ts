import { numbers } from '../expression/evaluate.js'
import { createPhrases } from '../rule/explain/phrases.js'
import { constantIntervals, type Intervals, type Ladder, nextUp } from '../rule/kinds/ladder.js'
import { isWritten } from '../rule/kinds/limit-text.js'
import type { BoundRule, RuleResult } from '../rule/model.js'
import { tryValues } from '../rule/run/run.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, meaningOf, runsOf, type Subject } from './subject.js'

/** A ladder of constant limits over one population. */
interface Run {
  rule: BoundRule
  result: RuleResult
  at: string
  plan: Ladder
  intervals: Intervals
  print: (value: number) => string
}

function laddersOf(subject: Subject): Run[] {
  const seen = new Set<string>()
  return runsOf(subject).flatMap(({ level, result }): Run[] => {
    const { rule, judged } = result
    if (rule.kind.key !== 'bands') return []
    const plan = rule.plan as Ladder
    const intervals = constantIntervals(plan, judged)
    const at = `${rule.name}, ${levelText(level, result.measure)}`
    const key = `${rule.name} ${result.measure} ${intervals === undefined ? at : [...intervals.low, ...intervals.high].join()}`
    if (intervals === undefined || seen.has(key)) return []
    seen.add(key)
    return [{ rule, result, at, plan, intervals, print: createPhrases(rule, subject.facts).print }]
  })
}

function path(rule: BoundRule, band?: number): (string | number)[] {
  return ['rules', rule.index, 'bands', ...(band === undefined ? [] : [band])]
}

/** Bands sorted by their numbers, with their place in the report. */
function inOrder({ intervals: { low, high } }: Run): { low: number; high: number; band: number }[] {
  return Array.from(low, (_, band) => ({ low: low[band], high: high[band], band }))
    .filter((interval) => interval.low <= interval.high)
    .sort((a, b) => a.low - b.low || a.high - b.high)
}

/**
 * Bands from 1000 to 4000 and from 4001 up leave a gap for 4000.5. An unpainted middle between two
 * open bands is intended.
 */
export function holes(subject: Subject): ProofFinding[] {
  return laddersOf(subject).flatMap((run) => {
    if (run.plan.otherwise >= 0) return []
    const sorted = inOrder(run)
    const findings: ProofFinding[] = []
    let reached = Number.NEGATIVE_INFINITY
    sorted.forEach((interval, i) => {
      const before = sorted[i - 1]
      if (before !== undefined && interval.low > reached && !adjoins(reached, interval.low)) {
        const bothOpen = before.low === Number.NEGATIVE_INFINITY && interval.high === Number.POSITIVE_INFINITY
        const width = interval.low - reached
        // Bands above and below one limit leave out the limit itself on purpose: no change is no
        // news.
        const point = nextUp(nextUp(reached)) === interval.low
        if (!bothOpen || (!point && width <= unitOf(reached, interval.low) * 1.0000001)) {
          const middle = (reached + interval.low) / 2
          const message = `no band takes values between ${plain(run, reached)} and ${plain(run, interval.low)}, such as ${middle}`
          findings.push(
            finding('hole', {
              at: run.at,
              message,
              numbers: { from: reached, to: interval.low },
              path: path(run.rule, interval.band),
            }),
          )
        }
      }
      reached = Math.max(reached, interval.high)
    })
    return findings
  })
}

/** Between adjacent doubles there is no gap; a single value between two limits may be intended. */
function adjoins(high: number, low: number): boolean {
  return (
    (high + low) / 2 === high || (high + low) / 2 === low || Math.abs(low - high) <= Number.EPSILON * 4 * Math.abs(low)
  )
}

/** One unit of the last written digit of two limits. */
function unitOf(a: number, b: number): number {
  const digits = Math.max(...[a, b].map((x) => String(Number(x.toPrecision(12))).split('.')[1]?.length ?? 0))
  return 10 ** -digits
}

function plain({ print }: Run, value: number): string {
  return print(value)
}

/** No band above the last of several, or below the first, although these end there. */
export function openEnds(subject: Subject): ProofFinding[] {
  return laddersOf(subject).flatMap((run) => {
    const sorted = inOrder(run)
    if (run.plan.otherwise >= 0 || sorted.length < 2) return []
    const first = sorted[0]
    const last = sorted.reduce((a, b) => (b.high > a.high ? b : a))
    const findings: ProofFinding[] = []
    const tell = (side: string, value: number, band: number): void => {
      const message = `values ${side} ${run.print(value)} take no band`
      findings.push(finding('open-end', { at: run.at, message, numbers: { limit: value }, path: path(run.rule, band) }))
    }
    if (Number.isFinite(last.high) && Number.isFinite(last.low)) tell('above', last.high, last.band)
    if (Number.isFinite(first.low) && Number.isFinite(first.high)) tell('below', first.low, first.band)
    return findings
  })
}

/** Overlapping bands, none inside the other: nested ones are a ladder. */
export function overlaps(subject: Subject): ProofFinding[] {
  return laddersOf(subject).flatMap((run) => {
    const sorted = inOrder(run)
    return sorted.flatMap((interval, i) => {
      const before = sorted
        .slice(0, i)
        .find((b) => b.high > interval.low && b.high < interval.high && b.low < interval.low)
      if (before === undefined) return []
      const message = `values from ${run.print(interval.low)} to ${run.print(before.high)} are in two bands; the first one takes them`
      const numbers = { from: interval.low, to: before.high }
      return [finding('overlap', { at: run.at, message, numbers, path: path(run.rule, interval.band) })]
    })
  })
}

/** A band whose values are all taken by earlier bands. */
export function unreachableBands(subject: Subject): ProofFinding[] {
  return laddersOf(subject).flatMap((run) => {
    const { low, high } = run.intervals
    return Array.from(low, (_, band): ProofFinding[] => {
      const empty = low[band] > high[band]
      const earlier = inOrder(run).filter((interval) => interval.band < band)
      let reached = low[band]
      for (const interval of earlier)
        if (interval.low <= reached || adjoins(reached, interval.low)) reached = Math.max(reached, interval.high)
      const swallowed =
        !empty &&
        earlier.some((interval) => interval.low <= low[band]) &&
        (reached > high[band] || reached >= high[band])
      if (!empty && !swallowed) return []
      const message = empty
        ? `no value can be from ${run.print(low[band])} and up to ${run.print(high[band])} at once`
        : `the bands before it take all its values${Number.isFinite(low[band]) ? ` from ${run.print(low[band])}` : ''}${Number.isFinite(high[band]) ? ` up to ${run.print(high[band])}` : ''}`
      return [
        finding('unreachable-band', { at: run.at, message, numbers: { band: band + 1 }, path: path(run.rule, band) }),
      ]
    }).flat()
  })
}

/** Two rules over the same cells whose limits differ only in being strict. */
export function twins(subject: Subject): ProofFinding[] {
  const runs = laddersOf(subject)
  return runs.flatMap((run, i) => {
    const twin = runs
      .slice(0, i)
      .find((other) => other.rule !== run.rule && other.result.measure === run.result.measure && alike(other, run))
    if (twin === undefined) return []
    const message = `${run.rule.name} and ${twin.rule.name} paint ${run.result.measure} by the same limits, strict in one and not in the other`
    return [finding('twin-rules', { at: `${run.rule.name}, ${twin.rule.name}`, message, path: path(run.rule) })]
  })
}

function alike(a: Run, b: Run): boolean {
  const near = (x: number, y: number): boolean => x === y || adjoins(x, y)
  const { intervals: p } = a
  const { intervals: q } = b
  const same = p.low.length === q.low.length && p.low.every((x, k) => near(x, q.low[k]) && near(p.high[k], q.high[k]))
  return same && String(a.rule.where?.text) === String(b.rule.where?.text)
}

/** A value exactly at a strict limit becomes bad, in the direction of the limit. */
export function equalInBad(subject: Subject): ProofFinding[] {
  const findings: ProofFinding[] = []
  const seen = new Set<string>()
  for (const { level, result } of runsOf(subject)) {
    const { rule, judged } = result
    if (rule.kind.key !== 'bands' || judged.value.kind !== 'number') continue
    const plan = rule.plan as Ladder
    const cell = Array.from(result.classes, (_, i) => i).find((i) => !Number.isNaN(valueAt(result, i)))
    if (cell === undefined) continue
    plan.bands.forEach(({ tests, gives }, band) => {
      const [test] = tests
      if (tests.length !== 1 || test.kind !== 'limit' || (test.sign !== 'above' && test.sign !== 'below')) return
      if (meaningOf({ ...result, effects: rule.effects }, gives, subject.facts) === 'bad') return
      const limit = numbers(judged.run(test.limit.bound), judged.length)[result.judgedAt(cell)]
      if (Number.isNaN(limit) || seen.has(`${rule.name} ${band}`)) return
      const [given] = tryValues(result, cell, [limit])
      const status = given?.status
      if (status == null || subject.facts.statuses[status]?.verdict !== 'bad') return
      seen.add(`${rule.name} ${band}`)
      const telling = createPhrases(rule, subject.facts)
      const message = `a value of exactly ${telling.print(limit)}${isWritten(test.limit.bound) ? '' : ` (${telling.words(test.limit.bound, test.limit.text)})`} becomes ${subject.facts.statuses[status].label ?? status}`
      const at = `${rule.name}, ${levelText(level, result.measure)}`
      findings.push(finding('equal-in-bad', { at, message, numbers: { limit }, path: path(rule, band) }))
    })
  }
  return findings
}

export function valueAt({ judged, judgedAt }: RuleResult, cell: number): number {
  return judged.value.kind === 'number' ? judged.value.values[judgedAt(cell)] : Number.NaN
}

/** A missing value is no reason for a bad status. */
export function missingInBad({ rules, facts }: Subject): ProofFinding[] {
  const seen = new Set<number>()
  return rules.flatMap((rule) => {
    if (rule.paused || rule.kind.key !== 'bands' || seen.has(rule.index)) return []
    const { missing, missingBand } = rule.plan as Ladder
    const status = missing < 0 ? null : rule.effects[missing].status
    if (status === null || facts.statuses[status]?.verdict !== 'bad') return []
    seen.add(rule.index)
    const message = `a missing value becomes ${facts.statuses[status].label ?? status}`
    return [finding('missing-in-bad', { at: rule.name, message, path: path(rule, missingBand) })]
  })
}
