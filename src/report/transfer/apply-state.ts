import type { Bound } from '../../expression/bound.js'
import { nameText, quoteText } from '../../expression/print.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'

/** The changes of a reader. */
export interface ReaderState {
  /** Changed parameters, as plain numbers. */
  parameters: Readonly<Record<string, number>>
  /**
   * The chosen values of each filter: words, or `true` and `false` of a condition; a key that is
   * left out is not filtered.
   */
  filters: Readonly<Record<string, readonly string[]>>
  /** As in a report file; null for that of the report. */
  period: string | null
  /** Names of paused rules. */
  paused: readonly string[]
  /** By exhibit: a measure or key, with a minus for descending order. */
  sorts: Readonly<Record<string, string>>
  /** Every exhibit without colours beside it. */
  plain: boolean
}

/**
 * A bound report with the changes of its reader: the same as if they had been written in the file
 * or passed as settings. Unknown names are ignored.
 */
export function applyState(bound: BoundReport, moves: ReaderState): BoundReport {
  const { parameters, filters: keys, period, paused, sorts, plain } = moves
  const narrowing = Object.entries(keys).map(([name, values]) => narrowedBy(bound, name, values))
  const { where: conditions, whereText, unfiltered = { where: conditions, period: bound.period } } = bound
  const texts = [
    ...(whereText === null ? [] : [conditions.length === 1 && narrowing.length > 0 ? `(${whereText})` : whereText]),
    ...narrowing.map(({ text }) => (conditions.length + narrowing.length > 1 ? `(${text})` : text)),
  ]
  return {
    ...bound,
    parameters: new Map(
      [...bound.parameters].map(([name, one]) => [name, { ...one, value: parameters[name] ?? one.value }]),
    ),
    where: [...conditions, ...narrowing.map((one) => one.bound)],
    whereText: texts.length === 0 ? null : texts.join(' and '),
    wanted: new Set([...bound.wanted, ...Object.keys(keys)]),
    period: period ?? bound.period,
    ...(narrowing.length > 0 || period !== null ? { unfiltered } : {}),
    rules: bound.rules.map((rule) => (paused.includes(rule.name) ? { ...rule, paused: true } : rule)),
    exhibits: bound.exhibits.map((one) => {
      const sorted = Object.hasOwn(sorts, one.name) ? sortedBy(one, sorts[one.name]) : one
      return plain ? { ...sorted, besideUnpainted: plain } : sorted
    }),
  }
}

function sortedBy(exhibit: BoundExhibit, text: string): BoundExhibit {
  const falling = text.startsWith('-')
  const name = falling ? text.slice(1) : text
  if (exhibit.show.includes(name)) return { ...exhibit, sort: { measure: name, falling }, turned: [] }
  return { ...exhibit, sort: exhibit.byDefault, turned: falling ? [name] : [] }
}

/** A filter as a condition on rows, and as text: `region in ('Coast', 'Hills')`. */
function narrowedBy({ sources }: BoundReport, name: string, values: readonly string[]): { bound: Bound; text: string } {
  const type = { kind: 'condition' } as const
  const ref = { kind: 'field', name } as const
  if (sources[0].table.columns.get(name)?.type.kind !== 'condition')
    return {
      bound: {
        op: 'in',
        of: { op: 'name', ref, type: { kind: 'text' } },
        list: values.map((value) => ({ op: 'text', value, type: { kind: 'text' } })),
        not: false,
        type,
      },
      text: `${nameText(name)} in (${values.map(quoteText).join(', ')})`,
    }
  const parts = values.map((value): { bound: Bound; text: string } => {
    const column: Bound = { op: 'name', ref, type }
    if (value === 'true') return { bound: column, text: nameText(name) }
    return { bound: { op: 'not', of: column, type }, text: `not ${nameText(name)}` }
  })
  return parts.reduce((left, right) => ({
    bound: { op: 'or', left: left.bound, right: right.bound, type },
    text: `${left.text} or ${right.text}`,
  }))
}
