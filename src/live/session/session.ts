import type { Strip } from '../../page/page.js'
import { phraseContextOf } from '../../report/answer/facts.js'
import { decideOpened, decideReport, type OpenedReport, openReport } from '../../report/layout/decide.js'
import type { DecidedReport, QueryContext } from '../../report/model/answered.js'
import type { BoundReport } from '../../report/model/bound.js'
import { applyState } from '../../report/transfer/apply-state.js'
import { sentencesOf } from '../../rule/explain/sentence.js'
import { periodOf, periodText } from '../../time/period.js'
import { FIRST_STATE, type LiveState } from '../state/state.js'
import type { Changes, Filter, ReportControls, Session, Update } from './model.js'

/** A session decides again and again, and counts are shown before long tables. */
const SEVERAL = { again: true, late: true }

/**
 * Answers a report once, finds out what its reader may change, and answers each state of it.
 *
 * @param known the report as it was answered already.
 */
export async function createSession(bound: BoundReport, known?: DecidedReport): Promise<Session> {
  if (known !== undefined) return sessionOf(bound, known.context, async () => known)
  const opened = await openReport(bound, SEVERAL)
  const first = await decideFirst(opened)
  return sessionOf(bound, opened.context, async () => first)
}

/**
 * The same, but nothing is decided before the first answer: a page shows the controls meanwhile,
 * and what its reader does with them is answered first.
 */
export async function openSession(bound: BoundReport): Promise<Session> {
  const opened = await openReport(bound, SEVERAL)
  return sessionOf(bound, opened.context, () => decideFirst(opened))
}

async function decideFirst(opened: OpenedReport): Promise<DecidedReport> {
  const first = await decideOpened(opened)
  // Loaded early, so that the first popover opens at once.
  import('./reasons.js').catch(() => undefined)
  return first
}

/** A decided report, with the part of the state that it is of. */
interface DecidedState {
  key: string
  decided: DecidedReport
}

/** What a session has decided. */
interface DecidedViews {
  opened: BoundReport
  /** The last view with the parameters and rules of the report, which what-if is compared with. */
  base: DecidedState
  /** Sliders move in small steps, so a parameter is decided again from the last report. */
  last: DecidedState
}

async function sessionOf(
  bound: BoundReport,
  context: QueryContext,
  first: () => Promise<DecidedReport>,
): Promise<Session> {
  const { report } = context
  const controls = await controlsOf(context)
  let begun: Promise<DecidedViews> | undefined
  const begin = async (): Promise<DecidedViews> => {
    const decided = await first()
    return {
      opened: { ...bound, ...(decided.bound.strip && { strip: decided.bound.strip }) },
      base: { key: viewKey(FIRST_STATE), decided },
      last: { key: stateKey(FIRST_STATE), decided },
    }
  }
  const decidedViews = (): Promise<DecidedViews> => {
    begun ??= begin()
    return begun
  }
  /** All laid out: what is asked of cells needs every level decided. */
  const newest = async (): Promise<DecidedReport> => {
    const { decided } = (await decidedViews()).last
    for (const built of decided.built) built.layOut()
    return decided
  }
  return {
    controls,
    async answer(state) {
      const views = await decidedViews()
      const { base, last } = views
      const decide = (of: LiveState, parameters: Record<string, number>): Promise<DecidedReport> =>
        decideReport(applyState(views.opened, { ...of, parameters }), SEVERAL)
      const [view, key] = [viewKey(state), stateKey(state)]
      const parameters = parameterValues(report, state)
      const isWhatIf = state.paused.length > 0 || Object.keys(state.parameters).length > 0
      const nextBase =
        view === base.key || !isWhatIf
          ? base
          : { key: view, decided: await decide({ ...state, paused: [] }, parameterValues(report, FIRST_STATE)) }
      const decided = key === last.key ? await redecided(last.decided, parameters) : await decide(state, parameters)
      const changes = isWhatIf ? await (await import('./changes.js')).changesOf(nextBase.decided, decided) : null
      views.last = { key, decided }
      views.base = isWhatIf || view === base.key ? nextBase : { key: view, decided }
      return updateOf(decided, changes, isWhatIf ? views.base.decided.about.strip : null)
    },
    reasons: async (cell) => (await import('./reasons.js')).reasonsOf(await newest(), cell),
    trend: async (cell) => (await import('./reasons.js')).trendOf(await newest(), cell),
    coveredCells: async (rule) => (await import('./reasons.js')).coveredCells(await newest(), rule),
    close: () => undefined,
  }
}

async function controlsOf({ report, asOf, stats }: QueryContext): Promise<ReportControls> {
  const isTimed = report.filters.includes('period') && asOf !== undefined
  const span = stats[0]?.span
  return {
    locale: report.locale,
    parameters: [...report.parameters.values()],
    filters: await Promise.all(
      report.filters.filter((name) => name !== 'period').map((name): Promise<Filter> => filterOf(report, name)),
    ),
    periods: isTimed && span !== undefined ? periodsOf(span, asOf) : [],
    months: span === undefined ? ['', ''] : [monthText(span.from), monthText(Math.min(span.to, asOf ?? span.to))],
    calendar: isTimed ? { asOf, calendar: report.calendar } : null,
    rules: sentencesOf(report.rules, phraseContextOf(report)).map(({ rule, title }) => ({ rule, title })),
    sorts: report.exhibits.flatMap(({ name, kind, show, rows, columns }) =>
      kind === 'table' || kind === 'heatmap' || kind === 'list'
        ? [{ exhibit: name, by: [...show, ...rows], byHeading: columns.length === 0 }]
        : [],
    ),
  }
}

/** A key with its values. */
async function filterOf(report: BoundReport, name: string): Promise<Filter> {
  const [home] = report.sources
  const { compare } = new Intl.Collator(report.locale, { numeric: true })
  const { keys } = await home.engine.ask({ keys: [name], parts: [], fields: [], where: report.where })
  const [{ codes, domain }] = keys
  const words = domain.kind === 'text' ? Array.from(codes, (code) => domain.words[code] ?? '') : []
  const label = report.labels.get(name) ?? name
  return {
    name,
    label: label.charAt(0).toUpperCase() + label.slice(1),
    values: [...new Set(words.filter((word) => word !== ''))].sort(compare),
  }
}

function updateOf(decided: DecidedReport, changes: Changes | null, openedStrip: Strip | null): Update {
  const { page, report, exhibits, context } = decided
  const isEmpty = exhibits.length > 0 && exhibits.every(({ summary }) => summary.counted === 0)
  return {
    page,
    empty: !isEmpty ? null : context.stats[0]?.rows === 0 ? 'source' : 'filters',
    sentences: sentencesOf(report.rules, phraseContextOf(report)).map(({ rule, explanation }) => ({
      rule,
      explanation,
    })),
    changes,
    openedStrip,
  }
}

/** A report without parameters has nothing to decide again. */
async function redecided(decided: DecidedReport, parameters: Record<string, number>): Promise<DecidedReport> {
  if (decided.report.parameters.size === 0) return decided
  return (await import('../../report/layout/redecide.js')).redecide(decided, parameters)
}

/** The part of a state that decides which cells there are, and in what order. */
function viewKey({ filters, period, sorts, plain }: LiveState): string {
  return JSON.stringify([filters, period, sorts, plain])
}

/**
 * The part of a state that needs new answers when it changes. A parameter needs a new decision, the
 * theme neither.
 */
function stateKey(state: LiveState): string {
  return JSON.stringify([viewKey(state), state.paused])
}

/** The value of every parameter, those that nobody moved included. */
function parameterValues(report: BoundReport, state: LiveState): Record<string, number> {
  return Object.fromEntries(
    [...report.parameters].map(([name, parameter]) => {
      const value = state.parameters[name]
      if (value === undefined) return [name, parameter.value]
      return [name, parameter.format.kind === 'percent' ? percentOf(value) / 100 : value]
    }),
  )
}

/** Rounds to what is written in percent: 0.07 is 7, not 7.000000000000001. */
function percentOf(value: number): number {
  return Number((value * 100).toPrecision(14))
}

function monthText(day: number): string {
  return periodText('month', periodOf('month', day))
}

/** Common periods, and each year of the data. */
function periodsOf(span: { from: number; to: number }, asOf: number): string[] {
  const year = (day: number): number => new Date(day * 86_400_000).getUTCFullYear()
  const years = Array.from({ length: year(asOf) - year(span.from) + 1 }, (_, i) => String(year(asOf) - i))
  return ['all', 'this year', 'this quarter', 'last 3 months', 'last 6 months', 'last 12 months', ...years]
}
