import { type Bound, referencesOf } from '../../expression/bound.js'
import { createColorNamer, type PhraseContext } from '../../rule/explain/phrases.js'
import { ROW } from '../../rule/row.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'

/** The context of phrases for a report. */
export function phraseContextOf(report: BoundReport): PhraseContext {
  return {
    locale: report.locale,
    statuses: report.statuses,
    parameters: report.parameters,
    label: (name) => (name === ROW ? 'row' : (report.measures.get(name)?.label ?? report.labels.get(name) ?? name)),
    color: createColorNamer(report.palette),
    format: (name) => report.measures.get(name)?.format,
  }
}

export function parameterValues(report: BoundReport): Map<string, number> {
  return new Map([...report.parameters].map(([name, parameter]) => [name, parameter.value]))
}

/** Whether some style may have a flag: of a status, of a rule, or from a column of the data. */
export function hasFlags({ statuses, rules }: Pick<BoundReport, 'statuses' | 'rules'>): boolean {
  return (
    Object.values(statuses).some(({ flag }) => flag !== undefined) ||
    rules.some(({ kind, effects }) => kind.key === 'fromColumn' || effects.some(({ flag }) => flag !== null))
  )
}

/** Whether a condition on rows reads a parameter. */
export function readsParameter(condition: Bound): boolean {
  return referencesOf(condition).some(({ kind }) => kind === 'parameter')
}

/** Whether a condition of an exhibit reads a parameter. */
export function filtersByParameter({ where }: BoundExhibit): boolean {
  return where.some(readsParameter)
}
