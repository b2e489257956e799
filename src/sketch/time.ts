import { civil, dayOf } from '../time/day.js'
import type { ColumnFacts } from './facts.js'

/** The times that a starter shows. */
export interface Times {
  /** The period of the report; `all` is left out. */
  period: string
  /** For a comment. */
  because: string
  /** Whether the same days a year before are in the data. */
  hasLastYear: boolean
  /** The unit across a heatmap and along trends. */
  unit: 'month' | 'week' | 'day'
  /** Whether a trend has enough points. */
  hasTrend: boolean
}

/** Shorter data are shown by week, and those of a few days by day. */
const MIN_DAYS_BY_MONTH = 62
const MIN_DAYS_BY_WEEK = 21

const SHOWN = 'what is shown; comparisons look outside it'

/**
 * Chooses the period by how much the data cover. A plan that ends before the data is compared with
 * the months that it covers.
 */
export function timesOf(
  date: ColumnFacts | undefined,
  grain: string | undefined,
  plan: ColumnFacts | undefined,
): Times | undefined {
  if (date === undefined || Number.isNaN(date.low)) return undefined
  const { low, high } = date
  const shared = plan && sharedMonths(date, plan)
  if (shared !== undefined)
    return {
      hasTrend: true,
      period: shared,
      because: 'the months that the plan covers, too',
      hasLastYear: false,
      unit: 'month',
    }
  const { year, month } = civil(high)
  const yearBefore = dayOf(year - 1, 1, 1)
  const twoYears = dayOf(year - 2, month + 1, 1)
  const common = { hasTrend: high - low >= 5 * 30, because: SHOWN }
  if (low <= twoYears) return { ...common, period: 'last 12 months', hasLastYear: true, unit: 'month' }
  if (low <= yearBefore && month >= 3) return { ...common, period: 'this year', hasLastYear: true, unit: 'month' }
  const days = high - low
  if (days > 366) return { ...common, period: 'last 12 months', hasLastYear: false, unit: 'month' }
  const byMonth = grain !== undefined || days >= MIN_DAYS_BY_MONTH
  return {
    ...common,
    period: 'all',
    hasLastYear: false,
    unit: byMonth ? 'month' : days >= MIN_DAYS_BY_WEEK ? 'week' : 'day',
  }
}

/**
 * The months that both cover if the plan ends before the data, or begins after them: `2024-06 to
 * 2024-12`.
 */
function sharedMonths(date: ColumnFacts, plan: ColumnFacts): string | undefined {
  const end = civil(plan.high)
  const month = ({ year, month: of }: { year: number; month: number }): number => year * 12 + of - 1
  const [first, last] = [
    Math.max(month(civil(date.low)), month(civil(plan.low))),
    Math.min(month(civil(date.high)), month(end)),
  ]
  // A plan to the end of the data leaves the period as it is.
  if (last - first < 1 || last >= month(civil(date.high))) return undefined
  const text = (of: number): string => `${Math.floor(of / 12)}-${String((of % 12) + 1).padStart(2, '0')}`
  return `${text(Math.max(first, last - 11))} to ${text(last)}`
}
