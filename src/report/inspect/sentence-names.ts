import { HOUSE_PIGMENTS } from '../../color/pigments.js'
import type { Type } from '../../expression/bound.js'
import type { NamedThing, SentenceNames } from '../../rule/grammar/names.js'
import { statusLabel } from '../../style/status.js'
import { PERIOD_UNITS } from '../../time/period.js'
import type { DecidedReport } from '../model/answered.js'

/** The names that a sentence about a report may use, those of its columns included. */
export function sentenceNames({ bound, report }: DecidedReport): SentenceNames {
  const { measures, parameters, labels, sources, statuses, palette } = report
  const values = new Map<string, NamedThing>()
  const put = (id: string, label: string, is: NamedThing['is'], isShare = false): void => {
    values.set(id, { id, label, ...(is !== undefined && { is }), ...(isShare && { isShare }) })
  }
  for (const { table } of sources)
    for (const { name, label, type } of table.columns.values()) put(name, label, isKey(type) ? 'key' : undefined)
  for (const unit of PERIOD_UNITS) put(unit, labels.get(unit) ?? unit, 'key')
  for (const [name, label] of labels) put(name, label, values.get(name)?.is)
  for (const [name, { label }] of parameters) put(name, label, 'parameter')
  for (const [name, { label, unit }] of measures) put(name, label, 'measure', unit.is === 'percent')
  return {
    values: [...values.values()],
    statuses: Object.entries(statuses).map(([id, { verdict }]) => ({
      id,
      label: statusLabel(statuses, id),
      ...(verdict !== undefined && { verdict }),
    })),
    exhibits: bound.exhibits.map(({ name, title, show }) => ({ id: name, label: title ?? name, shows: show })),
    pigments: Object.keys(palette.pigments).filter((name) => !Object.hasOwn(HOUSE_PIGMENTS, name)),
    keyWith(value) {
      const wanted = value.toLowerCase()
      for (const { table } of sources)
        for (const { name, column } of table.columns.values()) {
          if (column.kind !== 'text') continue
          const found = column.words.find((word) => word.toLowerCase() === wanted)
          if (found !== undefined) return { key: name, value: found }
        }
      return undefined
    },
  }
}

/** Texts and dates split exhibits. */
function isKey({ kind }: Type): boolean {
  return kind === 'text' || kind === 'date'
}
