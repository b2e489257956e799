import { colorText } from '../color/color.js'
import { numbers } from '../expression/evaluate.js'
import { phraseContextOf } from '../report/answer/facts.js'
import type { DecidedReport } from '../report/model/answered.js'
import { createPhrases } from '../rule/explain/phrases.js'
import type { Ladder, Sign } from '../rule/kinds/ladder.js'
import type { RuleResult } from '../rule/model.js'
import type { Effect } from '../style/cell-style.js'
import { statusLabel } from '../style/status.js'
import type { PlotHandle, PlotLook, PopulationPlot } from './model.js'

/** The words of the tests, as the names of handles begin. */
const WORDS: Readonly<Record<Sign, string>> = { atLeast: 'At least', above: 'Above', atMost: 'At most', below: 'Below' }

/**
 * The population of a rule with its limits: of the exhibit that is asked for, else of the one where
 * it judges most cells. Undefined for a rule that judges no numbers.
 */
export function plotOf(decided: DecidedReport, index: number, exhibit?: string): PopulationPlot | undefined {
  let best: { result: RuleResult; exhibit: string } | undefined
  for (const answered of decided.exhibits) {
    const name = answered.exhibit.name
    if (exhibit !== undefined && name !== exhibit) continue
    for (const { result } of answered.levels.decided())
      for (const one of result.results) {
        const isNumber = one.rule.index === index && one.judged.value.kind === 'number'
        if (isNumber && (best === undefined || one.judged.length > best.result.judged.length))
          best = { result: one, exhibit: name }
      }
  }
  return best === undefined ? undefined : plotted(decided, best.result, best.exhibit)
}

function plotted(decided: DecidedReport, result: RuleResult, exhibit: string): PopulationPlot {
  const { judged, classes, rule, measure, effects } = result
  const all = numbers(judged.value, judged.length)
  const values: number[] = []
  const own: number[] = []
  let missing = 0
  const classOf = new Int16Array(judged.length).fill(-1)
  for (let cell = 0; cell < classes.length; cell++) {
    const at = result.judgedAt(cell)
    if (at >= 0) classOf[at] = classes[cell]
  }
  for (let i = 0; i < all.length; i++) {
    if (judged.population[i] < 0) continue
    if (Number.isNaN(all[i])) missing++
    else {
      values.push(all[i])
      own.push(classOf[i])
    }
  }
  const { report } = decided
  const judge = rule.judge?.bound
  const format = phraseContextOf(report).format(judge?.op === 'name' ? judge.ref.name : measure)
  return {
    exhibit,
    measure,
    values,
    classes: own,
    looks: effects.map((effect) => lookOf(effect, decided)),
    missing,
    handles: rule.kind.key === 'bands' ? handlesOf(decided, result) : [],
    format: format ?? null,
    locale: report.locale,
  }
}

function lookOf(effect: Effect, { report }: DecidedReport): PlotLook {
  const color = effect.fill ?? effect.ink
  const label = effect.status === null ? '' : statusLabel(report.statuses, effect.status)
  return { color: color === null || color === undefined ? null : colorText(color), label }
}

/** The limits of bands: typed ones and those of parameters move, others follow what they name. */
function handlesOf(decided: DecidedReport, { rule, judged }: RuleResult): PlotHandle[] {
  const facts = phraseContextOf(decided.report)
  const phrases = createPhrases(rule, facts)
  return (rule.plan as Ladder).bands.flatMap(({ tests }, band) =>
    tests.flatMap((test): PlotHandle[] => {
      if (test.kind !== 'limit') return []
      const { bound, text } = test.limit
      const vector = judged.run(bound)
      if (vector.kind !== 'number' || !vector.constant || Number.isNaN(vector.values[0])) return []
      const own = ['rules', rule.index, 'bands', band, test.sign]
      const parameter = bound.op === 'name' && bound.ref.kind === 'parameter' ? bound.ref.name : undefined
      const isTyped = bound.op === 'number'
      const path = isTyped ? own : parameter === undefined ? null : ['parameters', parameter, 'value']
      const isPercent = isTyped ? /%\s*$/.test(text) : facts.parameters.get(parameter ?? '')?.unit.is === 'percent'
      const words = isTyped ? phrases.print(vector.values[0]) : phrases.words(bound, text)
      const name = `${WORDS[test.sign]}, ${words}`
      return [{ value: vector.values[0], label: name, path, isPercent, follows: path === null ? words : null }]
    }),
  )
}
