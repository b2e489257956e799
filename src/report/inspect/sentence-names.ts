import { HOUSE_PIGMENTS } from '../../color/pigments.js'
import type { NamedThing, SentenceNames } from '../../rule/grammar/names.js'
import { statusLabel } from '../../style/status.js'
import type { DecidedReport } from '../model/answered.js'

/** The names that a sentence about a report may use, those of its columns included. */
export function sentenceNames({ bound, report }: DecidedReport): SentenceNames {
  const { measures, parameters, labels, sources, statuses, palette } = report
  const values = new Map<string, string>()
  for (const { table } of sources) for (const { name, label } of table.columns.values()) values.set(name, label)
  for (const [name, label] of labels) values.set(name, label)
  for (const [name, { label }] of parameters) values.set(name, label)
  for (const [name, { label }] of measures) values.set(name, label)
  return {
    values: [...values].map(([id, label]): NamedThing => ({ id, label })),
    statuses: Object.keys(statuses).map((id) => ({ id, label: statusLabel(statuses, id) })),
    exhibits: bound.exhibits.map(({ name, title }) => ({ id: name, label: title ?? name })),
    pigments: Object.keys(palette.pigments).filter((name) => !Object.hasOwn(HOUSE_PIGMENTS, name)),
  }
}
