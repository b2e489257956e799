import type { Bound } from '../expression/bound.js'
import type { GradientPlan } from '../rule/kinds/gradient/run.js'
import type { BoundRule } from '../rule/model.js'
import { tryValues } from '../rule/run/run.js'
import { valueAt } from './bands.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, meaningOf, runsOf, type Subject } from './subject.js'

/** A bad status with the pigment of a good one, or a ramp that ends with it on the bad side. */
export function huesOfTwoMeanings({ facts, rules, measures }: Subject): ProofFinding[] {
  const good = new Map<string, string>()
  const bad = new Map<string, string>()
  for (const [name, { verdict: means, wash, fill, ink }] of Object.entries(facts.statuses)) {
    const sides = means === 'good' ? good : means === 'bad' ? bad : undefined
    const hue = wash ?? fill ?? ink
    if (sides !== undefined && hue !== undefined && !sides.has(hue)) sides.set(hue, `the status ${name}`)
  }
  const seen = new Set<number>()
  for (const rule of rules) {
    const ramp = rule.kind.key === 'gradient' ? writtenRamp(rule.plan as GradientPlan) : undefined
    const better = measures.get(judgedMeasure(rule))?.better
    if (rule.paused || seen.has(rule.index) || ramp === undefined || ramp.length < 3) continue
    if (better !== 'higher' && better !== 'lower') continue
    seen.add(rule.index)
    const [low, high] = [ramp[0], ramp[ramp.length - 1]]
    const [worse, best] = better === 'higher' ? [low, high] : [high, low]
    if (!bad.has(worse)) bad.set(worse, `the bad end of ${rule.name}`)
    if (!good.has(best)) good.set(best, `the good end of ${rule.name}`)
  }
  return [...good].flatMap(([hue, by]) => {
    const other = bad.get(hue)
    return other === undefined
      ? []
      : [finding('hue-two-meanings', { at: hue, message: `${hue} is good in ${by} and bad in ${other}` })]
  })
}

/** The colours of a ramp, if they are written. */
function writtenRamp({ stops, icons, byDirection }: GradientPlan): readonly string[] | undefined {
  return icons.length > 0 || byDirection ? undefined : stops
}

/** The measure whose direction a rule follows. */
function judgedMeasure({ judge, measure }: BoundRule): string {
  const bound: Bound | undefined = judge?.bound
  return bound?.op === 'name' && bound.ref.kind === 'measure' ? bound.ref.name : measure
}

const VALUE = { good: 1, fair: 0, bad: -1 }

/**
 * A good status for low values and a bad one for high values where higher is better, or the other
 * way round.
 */
export function upsideDown(subject: Subject): ProofFinding[] {
  const seen = new Set<string>()
  return runsOf(subject).flatMap(({ level, result }) => {
    const { rule } = result
    const better = subject.measures.get(judgedMeasure(rule))?.better
    if ((better !== 'higher' && better !== 'lower') || rule.judged.kind !== 'number') return []
    if (rule.judge !== undefined && rule.judge.bound.op !== 'name') return []
    let reach = 1000
    let some: number | undefined
    for (let i = 0; i < result.classes.length; i++) {
      const value = valueAt(result, i)
      if (Number.isNaN(value)) continue
      some ??= i
      reach = Math.max(reach, Math.abs(value) * 1000)
    }
    if (some === undefined || seen.has(rule.name)) return []
    // Values far outside all limits, to find the direction of a rule.
    const [under, over] = tryValues(result, some, [-reach, reach]).map((given) => {
      const means = given?.status == null ? undefined : subject.facts.statuses[given.status]?.verdict
      return means === undefined ? undefined : VALUE[means]
    })
    if (under === undefined || over === undefined || under === over) return []
    if (over > under === (better === 'higher')) return []
    seen.add(rule.name)
    const message = `${better} is better, and the rule calls ${better === 'higher' ? 'low' : 'high'} values good`
    const at = `${rule.name}, ${levelText(level, result.measure)}`
    return [finding('upside-down', { at, message, path: ['rules', rule.index] })]
  })
}

/** A relative rule with bad cells although every cell meets the limits of another rule. */
export function brandedBad(subject: Subject): ProofFinding[] {
  return subject.levels.flatMap((level) =>
    level.result.results.flatMap((relative) => {
      if (!relative.rule.readsPopulation) return []
      const bad = Array.from(relative.classes, (c) => meaningOf(relative, c, subject.facts) === 'bad')
      const count = bad.filter(Boolean).length
      if (count === 0) return []
      const absolute = level.result.results.find(
        (result) =>
          result.measure === relative.measure &&
          !result.rule.readsPopulation &&
          result.rule.kind.key === 'bands' &&
          result.classes.some((c) => c >= 0) &&
          result.classes.every(
            (c, i) => Number.isNaN(valueAt(result, i)) || meaningOf(result, c, subject.facts) === 'good',
          ),
      )
      if (absolute === undefined) return []
      const message = `${count} ${count === 1 ? 'cell gets' : 'cells get'} a bad status, and ${absolute.rule.name} gives all of them a good one`
      const at = `${relative.rule.name}, ${levelText(level, relative.measure)}`
      return [finding('branded-bad', { at, message, numbers: { count }, path: ['rules', relative.rule.index] })]
    }),
  )
}
