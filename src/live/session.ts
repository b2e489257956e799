import { decideAgain } from '../assemble/again.js'
import { type DecidedReport, decideReport } from '../assemble/answer.js'
import { bindReport } from '../assemble/bind.js'
import type { ReportSpec } from '../file/schema.js'
import { problem } from '../problem/answering.js'
import type { Problem } from '../problem/problem.js'
import { ruleNames } from '../rule/check.js'
import { openStored, type StoredSource } from '../summary/stored.js'
import type { SourceTable } from '../table/source-table.js'
import { parseSpan, periodOf, periodText } from '../time/period.js'
import { type Allowed, FIRST_STATE, type LiveState } from './state.js'

/** A report with its data, to be answered again whenever its reader changes something. */
export interface LiveReport {
  /** A report as `readReport` leaves it, or as a plain object in its place. */
  report: ReportSpec
  /** Tables by the names of the sources, or what a page carries of them. */
  sources: ReadonlyMap<string, SourceTable>
  /** Rules that come from a rule set, by their place among all. */
  sharedRules?: readonly { index: number; file: string }[]
  /** Data addresses of the pictures that the report names. */
  pictures?: Readonly<Record<string, string>>
  /** Days since 1970-01-01, for `asOf: today`. */
  today?: number
  /** What the tool was asked with, beside the report: a condition, a period, a date. */
  given?: { where?: string; period?: string; asOf?: string }
}

/** What a page carries, as data. */
export interface EmbeddedReport extends Omit<LiveReport, 'sources'> {
  sources: Readonly<Record<string, StoredSource>>
}

export function openEmbedded({ sources, ...rest }: EmbeddedReport): LiveReport {
  return { ...rest, sources: new Map(Object.entries(sources).map(([name, own]) => [name, openStored(own)])) }
}

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

/**
 * Answers a report once and finds out what its reader may change.
 *
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function createSession(live: LiveReport): Promise<Session> {
  const first = await answer(live, FIRST_STATE)
  const { report, asked } = first
  const wanted = live.report.filters ?? []
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
  const span = asked.surveys[0].span
  const allowed: Allowed = {
    parameters: report.parameters,
    keys: new Map(filters.map(({ name, values }) => [name, values])),
    isPeriod: (text) => timed && parseSpan(text, asOf, report.starts) !== undefined,
    rules: [...new Set(report.rules.map(({ name }) => name))],
    sorts: new Map(
      report.exhibits.flatMap(({ name, kind, show, rows }) =>
        kind === 'table' || kind === 'heatmap' || kind === 'list' ? [[name, [...show, ...rows]]] : [],
      ),
    ),
  }
  // What reads no parameter is as it was; the last report is kept, for dials move in small steps.
  let last = { key: keyOf(FIRST_STATE), decided: first }
  return {
    first,
    allowed,
    filters,
    periods: timed && span !== undefined ? periodsOf(span, asOf) : [],
    months: span === undefined ? ['', ''] : [monthText(span.from), monthText(Math.min(span.to, asOf ?? span.to))],
    async answer(state) {
      const key = keyOf(state)
      const decided =
        key === last.key ? await decideAgain(last.decided, parametersOf(first, state)) : await answer(live, state)
      last = { key, decided }
      return decided
    },
  }
}

/** All of a state that needs another answer than a parameter does; the theme needs none. */
function keyOf({ keys, period, paused, sorts, plain }: LiveState): string {
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

async function answer(live: LiveReport, state: LiveState): Promise<DecidedReport> {
  const { given = {}, pictures = {} } = live
  const where = [given.where, ...Object.entries(state.keys).map(([name, values]) => narrowing(live, name, values))]
    .filter((text) => text !== undefined)
    .map((text) => `(${text})`)
  const period = state.period ?? given.period
  const picture = (name: string): string | Problem =>
    Object.hasOwn(pictures, name) ? pictures[name] : problem('bad-picture', { name, why: 'the page does not hold it' })
  const file = {
    file: undefined,
    spec: changed(live.report, state),
    problems: [],
    ...(live.sharedRules && { sharedRules: live.sharedRules }),
    place: (p: Problem) => p,
  }
  const bound = bindReport(file, live.sources, {
    ...(where.length === 0 ? {} : { where: where.join(' and ') }),
    ...(period === undefined ? {} : { period }),
    ...(given.asOf === undefined ? {} : { asOf: given.asOf }),
    ...(live.today === undefined ? {} : { today: live.today }),
    picture,
  })
  return decideReport(bound, { again: true })
}

/** A filter as one writes it: `column('region') in ('Coast', 'Hills')`. */
function narrowing({ sources, report }: LiveReport, name: string, values: readonly string[]): string {
  const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`
  const column = `column(${quoted(name)})`
  const [home = ''] = Object.keys(report.sources)
  const kind = sources.get(home)?.table.columns.get(name)?.type.kind
  if (kind === 'condition') return values.map((value) => (value === 'true' ? column : `not ${column}`)).join(' or ')
  return `${column} in (${values.map(quoted).join(', ')})`
}

/** The report with the reader's values, switches and orders written into it. */
function changed(spec: ReportSpec, state: LiveState): ReportSpec {
  const parameters = Object.fromEntries(
    Object.entries(spec.parameters ?? {}).map(([name, own]) => {
      const value = state.parameters[name]
      if (value === undefined) return [name, own]
      const whole = typeof own === 'object' ? own : { value: own }
      const written = typeof whole.value === 'string' ? `${percentOf(value)}%` : value
      return [name, { ...whole, value: written }]
    }),
  )
  const names = ruleNames(spec.rules ?? [], [], [])
  const rules = spec.rules?.map((rule, i) => (state.paused.includes(names[i]) ? { ...rule, paused: true } : rule))
  const exhibits = spec.exhibits.map((exhibit, i) => {
    const sort = state.sorts[exhibit.name ?? `exhibit-${i + 1}`]
    const { table, heatmap, list } = exhibit
    return {
      ...exhibit,
      ...(sort !== undefined && table && { table: { ...table, sort } }),
      ...(sort !== undefined && heatmap && { heatmap: { ...heatmap, sort } }),
      ...(sort !== undefined && list && { list: { ...list, sort } }),
      ...(state.plain && { plain: 'beside' as const }),
    }
  })
  return {
    ...spec,
    ...(spec.parameters === undefined ? {} : { parameters }),
    ...(rules === undefined ? {} : { rules }),
    exhibits,
  } as ReportSpec
}
