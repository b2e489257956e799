import { quantileSorted } from '../column/quantile.js'
import { round14 } from '../column/round.js'
import { fromMoments } from '../column/statistic.js'
import type { BoundAggregate } from '../expression/bound.js'
import { createMemoryEngine } from '../summary/memory/engine.js'
import type { Table, TableColumn } from '../table/table.js'
import { dayText } from '../time/day.js'
import { parseSpan } from '../time/period.js'

/** A column with the facts that decide its use. */
export interface Facts {
  name: string
  kind: TableColumn['column']['kind']
  percent: boolean
  distinct: number
  /** Its content, for readers. */
  says: string
}

const AMOUNT = /amount|revenue|sales|turnover|value|total|net|gross/i

export const COST = /cost|expense/i

export const LEVEL = /price|rate|margin|share|percent|level|stock|score/i

const LABEL = /(?:^|[ _-])(?:id|no|nr|number|code|zip|postcode|year|month|day|week)$|Id$/

export function columnFacts(table: Table): Facts[] {
  return [...table.columns.values()].map(({ name, column, type }) => {
    const percent = type.kind === 'number' && type.unit.is === 'percent'
    if (column.kind === 'text') {
      const { words } = column
      const sample = words.slice(0, 3).join(', ')
      const says = `text, ${words.length} different: ${sample}${words.length > 3 ? ', …' : ''}`
      return { name, kind: 'text', percent, distinct: words.length, says }
    }
    let low = Number.POSITIVE_INFINITY
    let high = Number.NEGATIVE_INFINITY
    let missing = 0
    for (const x of column.values) {
      if (Number.isNaN(x) || (column.kind === 'condition' && x < 0)) missing++
      else {
        if (x < low) low = x
        if (x > high) high = x
      }
    }
    const gone = missing === 0 ? '' : `, ${missing} missing`
    if (column.kind === 'condition')
      return { name, kind: 'condition', percent, distinct: 2, says: `true or false${gone}` }
    const show = (x: number): string => (column.kind === 'date' ? dayText(x) : String(round14(x)))
    const range = low > high ? 'empty' : `${show(low)} to ${show(high)}`
    const kind = column.kind
    return { name, kind, percent, distinct: high - low, says: `${percent ? 'percent' : kind}, ${range}${gone}` }
  })
}

export function mainColumn(facts: readonly Facts[]): Facts | undefined {
  const numbers = facts.filter((f) => f.kind === 'number' && !LABEL.test(f.name))
  return (
    numbers.find((f) => AMOUNT.test(f.name) && !COST.test(f.name)) ??
    numbers.find((f) => !f.percent && !LEVEL.test(f.name)) ??
    numbers[0]
  )
}

/** The median of the row totals in the period, rounded to two digits: a limit that divides them. */
export async function targetOf(
  table: Table,
  date: string | undefined,
  key: string,
  main: Facts | undefined,
  formula: string,
  last: number | undefined,
  period: string,
): Promise<number> {
  const type = { kind: 'number', unit: { is: 'none' } } as const
  const part: BoundAggregate = {
    op: 'aggregate',
    statistic: main === undefined ? 'count' : formula.startsWith('mean') ? 'mean' : 'sum',
    ...(main === undefined ? {} : { of: { op: 'name', ref: { kind: 'field', name: main.name }, type } }),
    share: 0.5,
    key: formula,
    type,
  }
  const engine = createMemoryEngine(table, date === undefined ? {} : { date })
  const span = last === undefined ? undefined : parseSpan(period, last)
  const { parts } = await engine.ask({
    keys: [key],
    parts: [part],
    fields: [],
    where: [],
    ...(span === undefined ? {} : { span }),
  })
  const values =
    parts[0] === undefined ? [] : [...fromMoments(part.statistic, parts[0])].filter((x) => !Number.isNaN(x))
  const middle = quantileSorted(Float64Array.from(values).sort(), 0.5)
  return Number.isNaN(middle) ? 0 : Number(middle.toPrecision(2))
}
