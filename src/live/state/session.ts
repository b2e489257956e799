import { decideReport } from '../../report/layout/decide.js'
import type { DecidedReport } from '../../report/model/answered.js'
import type { BoundReport } from '../../report/model/bound.js'
import { applyState } from '../../report/transfer/apply-state.js'
import { parseSpan, periodOf, periodText } from '../../time/period.js'
import { type Allowed, FIRST_STATE, type LiveState } from './state.js'

/** A key that the reader may narrow by. */
export interface Filter {
  name: string
  label: string
  values: readonly string[]
}

export interface Session {
  /** The report before the reader changed anything. */
  first: DecidedReport
  allowed: Allowed
  filters: readonly Filter[]
  /** Periods to choose from, beside the report's own; empty where it may not be changed. */
  periods: readonly string[]
  /** The first and last month of the data, as `2025-06`; empty where there are no dates. */
  months: readonly [string, string]
  /** The report as the reader has it. */
  answer(state: LiveState): Promise<DecidedReport>
}

/** Answers a report once and finds out what its reader may change. */
export async function createSession(bound: BoundReport): Promise<Session> {
  const first = await decideReport(bound, { again: true })
  const { report, context: asked } = first
  const wanted = bound.filters
  const [home] = report.sources
  const { compare } = new Intl.Collator(report.locale, { numeric: true })
  const filters = await Promise.all(
    wanted
      .filter((name) => name !== 'period')
      .map(async (name): Promise<Filter> => {
        const { keys } = await home.engine.ask({ keys: [name], parts: [], fields: [], where: report.where })
        const [{ codes, domain }] = keys
        const words = domain.kind === 'text' ? Array.from(codes, (code) => domain.words[code] ?? '') : []
        const label = report.labels.get(name) ?? name
        return {
          name,
          label: label.charAt(0).toUpperCase() + label.slice(1),
          values: [...new Set(words.filter((word) => word !== ''))].sort(compare),
        }
      }),
  )
  const asOf = asked.asOf
  const timed = wanted.includes('period') && asOf !== undefined
  const span = asked.stats[0].span
  const allowed: Allowed = {
    parameters: report.parameters,
    filters: new Map(filters.map(({ name, values }) => [name, values])),
    isPeriod: (text) => timed && parseSpan(text, asOf, report.starts) !== undefined,
    rules: [...new Set(report.rules.map(({ name }) => name))],
    sorts: new Map(
      report.exhibits.flatMap(({ name, kind, show, rows }) =>
        kind === 'table' || kind === 'heatmap' || kind === 'list' ? [[name, [...show, ...rows]]] : [],
      ),
    ),
  }
  // What reads no parameter is as it was; the last report is kept, for dials move in small steps.
  let last = { key: stateKey(FIRST_STATE), decided: first }
  return {
    first,
    allowed,
    filters,
    periods: timed && span !== undefined ? periodsOf(span, asOf) : [],
    months: span === undefined ? ['', ''] : [monthText(span.from), monthText(Math.min(span.to, asOf ?? span.to))],
    async answer(state) {
      const key = stateKey(state)
      const parameters = parametersOf(first, state)
      const decided =
        key === last.key
          ? await redecided(last.decided, parameters)
          : await decideReport(applyState(bound, { ...state, parameters }), { again: true })
      last = { key, decided }
      return decided
    },
  }
}

/** A report without parameters has nothing to decide again. */
async function redecided(decided: DecidedReport, parameters: Record<string, number>): Promise<DecidedReport> {
  if (decided.report.parameters.size === 0) return decided
  return (await import('../../report/layout/redecide.js')).redecide(decided, parameters)
}

/** All of a state that needs another answer than a parameter does; the theme needs none. */
function stateKey({ filters: keys, period, paused, sorts, plain }: LiveState): string {
  return JSON.stringify([keys, period, paused, sorts, plain])
}

/** The value of every parameter, those that nobody moved included. */
function parametersOf({ report }: DecidedReport, state: LiveState): Record<string, number> {
  return Object.fromEntries(
    [...report.parameters].map(([name, own]) => {
      const value = state.parameters[name]
      if (value === undefined) return [name, own.value]
      return [name, own.format.kind === 'percent' ? percentOf(value) / 100 : value]
    }),
  )
}

/** What is written in percent stays so; 0.07 is 7, not 7.000000000000001. */
function percentOf(value: number): number {
  return Number((value * 100).toPrecision(14))
}

function monthText(day: number): string {
  return periodText('month', periodOf('month', day))
}

/** What readers mostly ask for, and each year of the data. */
function periodsOf(span: { from: number; to: number }, asOf: number): string[] {
  const year = (day: number): number => new Date(day * 86_400_000).getUTCFullYear()
  const years = Array.from({ length: year(asOf) - year(span.from) + 1 }, (_, i) => String(year(asOf) - i))
  return ['all', 'this year', 'this quarter', 'last 3 months', 'last 6 months', 'last 12 months', ...years]
}
