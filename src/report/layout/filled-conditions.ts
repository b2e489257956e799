import type { Bound } from '../../expression/bound.js'
import { parameterValues } from '../answer/facts.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'

/** The exhibits of a report with the values of parameters in their conditions. */
export function filledConditions(report: BoundReport): BoundExhibit[] {
  const values = parameterValues(report)
  return report.exhibits.map((exhibit) => ({ ...exhibit, where: exhibit.where.map((where) => filled(where, values)) }))
}

/** A bound expression, or a part of one, with numbers in place of parameters. */
function filled<T>(part: T, values: ReadonlyMap<string, number>): T {
  if (Array.isArray(part)) return part.map((item) => filled(item, values)) as T
  if (typeof part !== 'object' || part === null) return part
  const bound = part as unknown as Bound
  if (bound.op === 'name' && bound.ref.kind === 'parameter') {
    const number: Bound = { op: 'number', value: values.get(bound.ref.name) ?? Number.NaN, type: bound.type }
    return number as T
  }
  return Object.fromEntries(Object.entries(part).map(([key, value]) => [key, filled(value, values)])) as T
}
