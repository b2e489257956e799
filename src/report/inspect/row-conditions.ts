import type { Bound } from '../../expression/bound.js'
import type { Axis, AxisNode } from '../../summary/cells/axis.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import { isPeriodUnit, isTimeUnit, spanOf, type TimeUnit } from '../../time/period.js'
import { OTHERS_CODE } from '../layout/labels.js'
import type { AnsweredExhibit } from '../model/answered.js'

/** The conditions of the rows behind a heading: one for each key, with those of time or without. */
export function conditionsOf(answered: AnsweredExhibit, axis: Axis, node: AxisNode, timed = true): Bound[] {
  return node.codes.flatMap((code, depth): Bound | [] => {
    const { name, domain } = axis.keys[depth]
    if (!timed && isTimeUnit(name)) return []
    if (code === OTHERS_CODE) return outside(answered, name, domain, node, depth)
    const { report } = answered
    const [home] = report.sources
    const of = reference(answered, isTimeUnit(name) && home.date !== undefined ? home.date : name)
    if (code < 0) return { op: 'missing', of, not: false, type: CONDITION }
    if (domain.kind === 'text') return equals(of, domain.words[code])
    return inPeriod(of, domain.unit, domain.periods[code], domain.calendar ?? CIVIL_CALENDAR)
  })
}

const CONDITION = { kind: 'condition' } as const
const NUMBER = { kind: 'number', unit: { is: 'none' } } as const

export function reference({ report }: AnsweredExhibit, name: string): Bound {
  const type = report.sources[0].table.columns.get(name)?.type ?? { kind: 'text' as const }
  return { op: 'name', ref: { kind: 'field', name }, type }
}

/** The word of a key as a value of its column. */
function equals(of: Bound, word: string): Bound {
  const { kind } = of.type
  if (kind === 'condition') return word === 'true' ? of : { op: 'not', of, type: CONDITION }
  const right: Bound =
    kind === 'number'
      ? { op: 'number', value: Number(word), type: NUMBER }
      : { op: 'text', value: word, type: { kind: 'text' } }
  return { op: 'compare', sign: '=', left: of, right, type: CONDITION }
}

export function inPeriod(of: Bound, unit: TimeUnit, period: number, calendar: Calendar): Bound {
  if (isPeriodUnit(unit)) return { op: 'during', sign: '=', of, span: spanOf(unit, period, calendar), type: CONDITION }
  // Expressions count months of the year and weekdays from 1.
  const left: Bound = { op: 'dated', unit, calendar, of, type: NUMBER }
  return { op: 'compare', sign: '=', left, right: { op: 'number', value: period + 1, type: NUMBER }, type: CONDITION }
}

/** The condition of the others of a key: none of the shown ones. */
function outside(
  answered: AnsweredExhibit,
  name: string,
  domain: Axis['keys'][number]['domain'],
  node: AxisNode,
  depth: number,
): Bound {
  const { rest } = answered.summary.rests.find((other) => other.rest.depth === depth + 1) ?? {}
  const place = rest?.parents.indexOf(node.parent) ?? -1
  const shown = [...(rest?.shown[place] ?? [])]
  const of = reference(answered, name)
  const missing: Bound = { op: 'missing', of, not: false, type: CONDITION }
  const words = domain.kind === 'text' ? shown.filter((code) => code >= 0).map((code) => domain.words[code]) : []
  const others = words
    .map((word): Bound => ({ op: 'not', of: equals(of, word), type: CONDITION }))
    .reduce((left: Bound | undefined, right): Bound => {
      return left === undefined ? right : { op: 'and', left, right, type: CONDITION }
    }, undefined)
  if (others === undefined) return { op: 'missing', of, not: shown.includes(-1), type: CONDITION }
  return shown.includes(-1) ? others : { op: 'or', left: others, right: missing, type: CONDITION }
}
