import type { ReaderState } from '../../report/transfer/apply-state.js'

/** What the reader of a live report has changed. Plain data: the same state gives the same page. */
export interface LiveState extends ReaderState {
  theme: 'auto' | 'light' | 'dark'
}

/** The initial state. */
export const FIRST_STATE: LiveState = {
  parameters: {},
  filters: {},
  period: null,
  paused: [],
  sorts: {},
  theme: 'auto',
  plain: false,
}

/** An action of a reader. */
export type Action =
  | { do: 'set'; parameter: string; value: number }
  /** All values at once; an empty list removes the filter. */
  | { do: 'filter'; key: string; values: readonly string[] }
  | { do: 'period'; period: string | null }
  | { do: 'pause'; rule: string; paused: boolean }
  | { do: 'sort'; exhibit: string; by: string | null }
  | { do: 'theme'; theme: LiveState['theme'] }
  | { do: 'plain'; plain: boolean }
  | { do: 'reset' }
  /** Asks the session again, as when it has another version of the report. */
  | { do: 'again' }

/** The actions that a report allows. */
export interface Allowed {
  parameters: ReadonlyMap<string, { value: number; from?: number; to?: number; step?: number }>
  /** The values of each filtered key. */
  filters: ReadonlyMap<string, readonly string[]>
  /** Whether a text is a period that may be chosen. */
  isPeriod(text: string): boolean
  rules: readonly string[]
  /** By exhibit, the measures and keys to sort by. */
  sorts: ReadonlyMap<string, readonly string[]>
}

/** The state after an action; the same object if the action changes nothing or is not allowed. */
export function nextState(state: LiveState, action: Action, allowed: Allowed): LiveState {
  switch (action.do) {
    case 'again':
      return state
    case 'set': {
      const parameter = allowed.parameters.get(action.parameter)
      if (parameter === undefined || !Number.isFinite(action.value)) return state
      const value = Math.min(parameter.to ?? action.value, Math.max(parameter.from ?? action.value, action.value))
      if ((state.parameters[action.parameter] ?? parameter.value) === value) return state
      return {
        ...state,
        parameters: withEntry(state.parameters, action.parameter, value === parameter.value ? undefined : value),
      }
    }
    case 'filter': {
      const allowedValues = allowed.filters.get(action.key)
      if (allowedValues === undefined) return state
      const wanted = new Set(action.values)
      const values = allowedValues.filter((value) => wanted.has(value))
      if (sameList(state.filters[action.key] ?? [], values)) return state
      return { ...state, filters: withEntry(state.filters, action.key, values.length === 0 ? undefined : values) }
    }
    case 'period': {
      const { period } = action
      if (period === state.period || (period !== null && !allowed.isPeriod(period))) return state
      return { ...state, period }
    }
    case 'pause': {
      if (!allowed.rules.includes(action.rule) || state.paused.includes(action.rule) === action.paused) return state
      const others = state.paused.filter((rule) => rule !== action.rule)
      const paused = action.paused ? [...others, action.rule] : others
      // In the order of the report, so that equal sets of rules are equal states.
      return { ...state, paused: allowed.rules.filter((rule) => paused.includes(rule)) }
    }
    case 'sort': {
      const columns = allowed.sorts.get(action.exhibit)
      if (columns === undefined || (state.sorts[action.exhibit] ?? null) === action.by) return state
      if (action.by !== null && !columns.includes(action.by.replace(/^-/, ''))) return state
      return { ...state, sorts: withEntry(state.sorts, action.exhibit, action.by ?? undefined) }
    }
    case 'theme':
      return state.theme === action.theme ? state : { ...state, theme: action.theme }
    case 'plain':
      return state.plain === action.plain ? state : { ...state, plain: action.plain }
    case 'reset': {
      const first = { ...FIRST_STATE, theme: state.theme }
      return toAddress(first) === toAddress(state) ? state : first
    }
  }
}

function sameList(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((value, i) => value === b[i])
}

/** The record with one entry changed or removed, entries sorted by name. */
function withEntry<T>(record: Readonly<Record<string, T>>, name: string, value: T | undefined): Record<string, T> {
  const entries = Object.entries(record).filter(([key]) => key !== name)
  if (value !== undefined) entries.push([name, value])
  return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)))
}

/** The state as the fragment of a URL, empty for the initial state. Every word is escaped. */
export function toAddress(state: LiveState): string {
  const query = new URLSearchParams()
  for (const [name, value] of Object.entries(state.parameters)) query.append(`set.${name}`, String(value))
  for (const [name, values] of Object.entries(state.filters))
    for (const value of values) query.append(`filter.${name}`, value)
  if (state.period !== null) query.append('period', state.period)
  for (const rule of state.paused) query.append('paused', rule)
  for (const [name, by] of Object.entries(state.sorts)) query.append(`sort.${name}`, by)
  if (state.theme !== 'auto') query.append('theme', state.theme)
  if (state.plain) query.append('plain', 'yes')
  return query.toString()
}

/** The state of a URL fragment, as far as the report allows it; the rest is ignored. */
export function fromAddress(text: string, allowed: Allowed): LiveState {
  let state = FIRST_STATE
  const step = (action: Action): void => {
    state = nextState(state, action, allowed)
  }
  const filters = new Map<string, string[]>()
  for (const [name, value] of new URLSearchParams(text.replace(/^#/, ''))) {
    const dot = name.indexOf('.')
    const [kind, of] = dot < 0 ? [name, ''] : [name.slice(0, dot), name.slice(dot + 1)]
    if (kind === 'set' && value.trim() !== '') step({ do: 'set', parameter: of, value: Number(value) })
    else if (kind === 'filter') filters.set(of, [...(filters.get(of) ?? []), value])
    else if (kind === 'sort') step({ do: 'sort', exhibit: of, by: value })
    else if (kind === 'period') step({ do: 'period', period: value })
    else if (kind === 'paused') step({ do: 'pause', rule: value, paused: true })
    else if (kind === 'theme' && (value === 'light' || value === 'dark')) step({ do: 'theme', theme: value })
    else if (kind === 'plain') step({ do: 'plain', plain: value === 'yes' })
  }
  for (const [key, values] of filters) step({ do: 'filter', key, values })
  return state
}
