import type { Bound } from '../../expression/bound.js'
import { referencesOf } from '../../expression/bound.js'
import type { NamedParameter } from '../../rule/bind/parameters.js'
import type { BoundRule } from '../../rule/model.js'
import { flagNames } from '../../style/flag.js'
import { redecideExhibit } from '../answer/exhibit.js'
import type { AnsweredExhibit, BuiltExhibit, DecidedReport, QueryContext } from '../model/answered.js'
import type { BoundReport } from '../model/bound.js'
import { builtExhibit, pageOf } from './build-exhibit.js'
import { decideReport, toldParameters } from './decide.js'
import { stripOf } from './strip.js'

/**
 * Decides the same report with other values of its parameters, as plain numbers. Nothing is bound
 * again. Numbers are summarised again only if a measure reads a changed parameter, and an exhibit
 * that reads none is reused.
 *
 * @param before decided with `again`, so that what was found out is still at hand.
 */
export async function redecide(
  before: DecidedReport,
  values: Readonly<Record<string, number>>,
): Promise<DecidedReport> {
  const { report } = before
  const moved = new Set<string>()
  const parameters = new Map(
    [...report.parameters].map(([name, parameter]): [string, NamedParameter] => {
      const value = values[name] ?? parameter.value
      if (value !== parameter.value) moved.add(name)
      return [name, { ...parameter, value }]
    }),
  )
  if (moved.size === 0) return before
  const next: BoundReport = { ...report, parameters }
  const { summed, shown } = readersOf(before, moved)
  if (summed) return decideReport({ ...before.bound, parameters }, { again: true, late: before.context.late === true })
  const asked: QueryContext = { ...before.context, report: next }
  const laid = before.built.map((built): BuiltExhibit => {
    if (!shown(built.answered)) return built
    return builtExhibit(redecideExhibit(asked, built.answered), built.build, asked)
  })
  const exhibits = laid.map(({ answered }) => answered)
  const about = {
    ...before.about,
    parameters: toldParameters(parameters, report.locale),
    strip: stripOf(next, exhibits),
  }
  return {
    bound: { ...before.bound, parameters },
    report: next,
    context: asked,
    built: laid,
    exhibits,
    about,
    page: pageOf(about, laid),
  }
}

/** What reads parameters that moved: `summed` numbers, and each exhibit that is `shown`. */
export function readersOf(
  { report, bound: { exhibits } }: DecidedReport,
  moved: ReadonlySet<string>,
): { summed: boolean; shown(answered: AnsweredExhibit): boolean } {
  const reads = (bounds: readonly Bound[]): boolean =>
    bounds.some((bound) => referencesOf(bound).some((ref) => ref.kind === 'parameter' && moved.has(ref.name)))
  const named = (text: string | null | undefined): boolean =>
    text != null && flagNames(text).some((name) => moved.has(name))
  const ruled = (rule: BoundRule): boolean =>
    rule.parameters.some((name) => moved.has(name)) || rule.effects.some(({ flag }) => named(flag))
  const conditions = exhibits.flatMap(({ where }) => where)
  return {
    // By a measure or a condition on rows.
    summed: reads([...[...report.measures.values()].map(({ bound }) => bound), ...conditions]),
    // By a rule, a reference line, or a text.
    shown: ({ exhibit, rules }) =>
      rules.some(ruled) ||
      reads((exhibit.chart?.references ?? []).map(({ bound }) => bound)) ||
      (exhibit.cards ?? []).some(({ note }) => named(note)),
  }
}
