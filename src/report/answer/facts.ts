import { createColorNamer, type PhraseContext } from '../../rule/explain/phrases.js'
import { ROW } from '../../rule/row.js'
import type { BoundReport } from '../model/bound.js'

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
