import type { Page, Strip, Trend } from '../../page/page.js'
import type { NamedParameter } from '../../rule/bind/parameters.js'
import type { RuleSentence } from '../../rule/explain/sentence.js'
import type { Calendar } from '../../time/calendar.js'
import { parseSpan } from '../../time/period.js'
import type { Allowed, LiveState } from '../state/state.js'

/**
 * The messages between a page and its session. A session runs in the thread of the page or in
 * another one (`port.ts`), so everything here is data that `structuredClone` accepts.
 */

/** A key that the reader may filter by. */
export interface Filter {
  name: string
  label: string
  /** Its values in the order of the report's language. */
  values: readonly string[]
}

/** What the reader of a report may change. */
export interface ReportControls {
  /** The report's language, a BCP 47 tag. */
  locale: string
  /** Parameters with the values, bounds and formats of the report. */
  parameters: readonly NamedParameter[]
  filters: readonly Filter[]
  /** Periods to choose from, besides the report's own; empty where the period is fixed. */
  periods: readonly string[]
  /** The first and last month of the data, as `2025-06`; empty where there are no dates. */
  months: readonly [string, string]
  /** The calendar for parsing periods; null where the period is fixed. */
  calendar: { asOf: number; calendar: Calendar } | null
  /** Rules by name, in the order of the report. */
  rules: readonly Pick<RuleSentence, 'rule' | 'title'>[]
  /** Tables and lists with the measures and keys that they can be sorted by. */
  sorts: readonly Sortable[]
}

/** An exhibit whose rows the reader may sort. */
export interface Sortable {
  exhibit: string
  by: readonly string[]
  /** Whether the headings of its measures sort it: not where columns have keys. */
  byHeading: boolean
}

/** A report as it is after an action. */
export interface Update {
  /** An exhibit, row or cell that has not changed is the same object as in the update before. */
  page: Page
  /**
   * Why no exhibit has rows: the source has none, or none pass the filters. Null where some has.
   */
  empty: 'source' | 'filters' | null
  /** The rules with their limits as they are by now. */
  sentences: readonly Pick<RuleSentence, 'rule' | 'explanation'>[]
  /** What moved parameters and paused rules changed; null where there are none. */
  changes: Changes | null
  /** The strip without these changes; null where there are none. */
  openedStrip: Strip | null
}

/**
 * How a view differs from the same view with the parameters and rules of the report as it was
 * opened.
 */
export interface Changes {
  /** Parts of the strip whose count changed, in its order. */
  counts: readonly { label: string; before: number; after: number }[]
  /** How many detail cells changed their status. */
  moved: number
  /** How many changed their style alone. */
  restyled: number
  /**
   * The cells whose status changed, and those whose style alone did, totals included, as places of
   * `page/places.ts` in rising order.
   */
  cells: readonly { exhibit: string; moved: readonly number[]; restyled: readonly number[] }[]
}

/** A cell that is asked for: a cell of an exhibit, or a heading by its key as measure. */
export interface CellRequest {
  exhibit: string
  measure: string
  keys: Readonly<Record<string, string>>
}

/** Why a cell looks as it does. */
export interface Reasons {
  /** The cell by name; null where it cannot be found again. */
  title: string | null
  /** The rules that were applied, a sentence each, then remarks. */
  sentences: readonly string[]
}

/** Answers a report for its reader. */
export interface Session {
  readonly controls: ReportControls
  /**
   * The report in a state, and how it differs from the report as it was opened.
   *
   * @throws ProblemError where an engine fails; the session stays as it was.
   */
  answer(state: LiveState): Promise<Update>
  /** Why a cell of the last update looks as it does. */
  reasons(cell: CellRequest): Promise<Reasons>
  /** The measure of a cell month by month; null where there is no such line. */
  trend(cell: CellRequest): Promise<Trend | null>
  /** The cells that a rule is applied to, as `cellId` names them. */
  coveredCells(rule: string): Promise<readonly string[]>
  /** Ends it; no further call is answered. */
  close(): void
}

/** The name of a cell for sets: its exhibit, measure and keys, outermost first. */
export function cellId(
  exhibit: string,
  measure: string,
  keys: readonly { name: string; value: string | null }[],
): string {
  return JSON.stringify([exhibit, measure, keys.map(({ name, value }) => [name, value])])
}

/** The checks of actions on a report. */
export function allowedActions({ parameters, filters, calendar, rules, sorts }: ReportControls): Allowed {
  return {
    parameters: new Map(parameters.map((parameter) => [parameter.name, parameter])),
    filters: new Map(filters.map(({ name, values }) => [name, values])),
    isPeriod: (text) => calendar !== null && parseSpan(text, calendar.asOf, calendar.calendar) !== undefined,
    rules: [...new Set(rules.map(({ rule }) => rule))],
    sorts: new Map(sorts.map(({ exhibit, by }) => [exhibit, by])),
  }
}
