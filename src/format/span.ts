import { civil, monthLength } from '../time/day.js'
import type { Span } from '../time/period.js'
import { periodPrinter } from './period.js'

/**
 * A span for readers: `2025`, `June 2025`, `Jan 2025 to Jun 2025`, `3 June 2025 to 9 June 2025`.
 */
export function spanText(span: Span, locale: string): string {
  const print = periodPrinter(locale)
  const from = civil(span.from)
  const to = civil(span.to)
  const month = (c: { year: number; month: number }): number => c.year * 12 + c.month - 1
  const whole = from.day === 1 && to.day === monthLength(to.year, to.month)
  if (!whole)
    return span.from === span.to ? print.date(span.from) : `${print.date(span.from)} to ${print.date(span.to)}`
  if (from.year === to.year && from.month === 1 && to.month === 12) return String(from.year)
  if (month(from) === month(to)) return print.long('month', month(from))
  return `${print.long('month', month(from))} to ${print.long('month', month(to))}`
}
