import type { Column } from '../../column/column.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { ReportSpec } from '../../spec/report.js'
import type { SourceSpec } from '../../spec/sources.js'
import type { DerivedColumn, LookedUpColumn } from '../../summary/contract.js'
import { columnDecimals } from '../../table/decimals.js'
import { rowPlaces } from '../../table/join.js'
import { keyWords, type LookupDays, type LookupRows, NO_END, placesOf } from '../../table/lookup.js'
import type { Table, TableColumn } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { PERIOD_UNITS, type PeriodUnit, periodOf, spanOf } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'

/**
 * A key that two sources share: `left` in the source that looks up, `right` in the lookup table.
 */
export interface MatchKey {
  left: string
  right: string
}

/** A lookup table with its rows by their keys. */
export interface LookupTable {
  name: string
  mode: NonNullable<BoundSource['lookup']>
  match: readonly MatchKey[]
  grain: PeriodUnit
  table: Table
  rows: LookupRows
}

/** A column of a lookup table, as a source knows it: `shops.manager`. */
interface Attribute {
  name: string
  lookup: LookupTable
  /** The columns of the source, in the order of the keys. */
  by: readonly string[]
  column: TableColumn
}

/** The shared keys of a source, as written. */
export function matchOf(match: SourceSpec['match']): MatchKey[] {
  const list = match === undefined ? [] : typeof match === 'string' ? [match] : match
  return list.flatMap((key) =>
    typeof key === 'string'
      ? [{ left: key, right: key }]
      : Object.entries(key).map(([left, right]) => ({ left, right })),
  )
}

/** How a source is looked up; undefined for one that is not. */
export function lookupMode({ lookup }: SourceSpec): LookupTable['mode'] | undefined {
  if (lookup === undefined || lookup === false) return undefined
  return lookup === true ? 'always' : lookup
}

/** Checks how the lookup tables of a report are declared, whatever their data. */
export function checkLookups(spec: ReportSpec, diagnostics: Diagnostics): void {
  const [home] = Object.keys(spec.sources)
  for (const [name, source] of Object.entries(spec.sources)) {
    const at = diagnostics.at('sources', name)
    const mode = lookupMode(source)
    if (source.per !== undefined) {
      if (mode !== 'always') at.at('per').report('per-lookup', { name })
      else if (spec.sources[home].date === undefined) at.at('per').report('no-date', { name: 'per' })
    }
    if (mode === undefined) {
      const renamed = matchOf(source.match).find(({ left, right }) => left !== right)
      if (renamed !== undefined) at.at('match').report('match-renamed', renamed)
      continue
    }
    if (name === home) at.at('lookup').report('lookup-home', { name })
    else if (mode === 'always' && source.date !== undefined)
      at.at('lookup').report('lookup-dated', { date: source.date })
    else if (mode !== 'always' && source.date === undefined) at.at('lookup').report('lookup-undated', { mode })
    else if (mode === 'always' && matchOf(source.match).length === 0) at.report('lookup-keys', { name })
  }
}

/** A lookup table by its keys. A combination of keys that stands twice in a period is reported. */
export function createLookup(
  name: string,
  source: SourceSpec,
  table: Table,
  grain: PeriodUnit,
  calendar: Calendar,
  diagnostics: Diagnostics,
): LookupTable {
  const match = matchOf(source.match)
  const mode = lookupMode(source) ?? 'always'
  const columns = match.map(({ right }) => table.columns.get(right)?.column)
  const words = columns.map((column) =>
    column === undefined ? Array.from({ length: table.length }, () => null) : keyWords(column, table.length),
  )
  const date = source.date === undefined ? undefined : table.columns.get(source.date)?.column
  const ids = Array.from({ length: table.length }, (_, row) => idOf(words, row))
  const starts = date?.kind === 'date' ? startsOf(date.values, grain, calendar) : undefined
  checkTwice(name, match, ids, starts, diagnostics)
  const days = starts && daysOf(ids, starts, mode, grain, calendar)
  return { name, mode, match, grain, table, rows: { length: table.length, words, ...(days && { days }) } }
}

/** The keys of a row as one text; null if one is missing. */
function idOf(words: readonly (readonly (string | null)[])[], row: number): string | null {
  const list = words.map((column) => column[row])
  return list.includes(null) ? null : JSON.stringify(list)
}

/** The first day of the period of each row. */
function startsOf(days: Float64Array, grain: PeriodUnit, calendar: Calendar): Float64Array {
  return days.map((day) => (Number.isNaN(day) ? day : spanOf(grain, periodOf(grain, day, calendar), calendar).from))
}

function checkTwice(
  name: string,
  match: readonly MatchKey[],
  ids: readonly (string | null)[],
  starts: Float64Array | undefined,
  diagnostics: Diagnostics,
): void {
  const seen = new Map<string, number>()
  const twice = new Map<string, number[]>()
  ids.forEach((id, row) => {
    if (id === null || Number.isNaN(starts?.[row])) return
    const key = `${id} ${starts?.[row] ?? ''}`
    const before = seen.get(key)
    if (before === undefined) seen.set(key, row)
    else twice.set(key, [...(twice.get(key) ?? [before]), row])
  })
  const [first] = twice
  if (first === undefined) return
  const [key, rows] = first
  const values = (JSON.parse(key.slice(0, key.lastIndexOf(' '))) as string[]).join(', ')
  diagnostics.report('lookup-twice', {
    name,
    keys: match.map(({ right }) => right),
    values,
    rows: rows.map((row) => row + 1),
    count: twice.size,
  })
}

/** The days in which each row holds: its period, or until the next row of the same keys. */
function daysOf(
  ids: readonly (string | null)[],
  starts: Float64Array,
  mode: LookupTable['mode'],
  grain: PeriodUnit,
  calendar: Calendar,
): LookupDays {
  const to = new Float64Array(starts.length).fill(NO_END)
  if (mode === 'exact') {
    starts.forEach((day, row) => {
      if (!Number.isNaN(day)) to[row] = spanOf(grain, periodOf(grain, day, calendar), calendar).to
    })
    return { from: starts, to }
  }
  const lists = new Map<string, number[]>()
  ids.forEach((id, row) => {
    if (id !== null && !Number.isNaN(starts[row])) lists.set(id, [...(lists.get(id) ?? []), row])
  })
  for (const list of lists.values()) {
    list.sort((a, b) => starts[a] - starts[b])
    for (let i = 0; i + 1 < list.length; i++) to[list[i]] = starts[list[i + 1]] - 1
  }
  return { from: starts, to }
}

/** The source that looks up. */
export interface Looking {
  name: string
  table: Table
  date: string | undefined
  grain: PeriodUnit
}

/**
 * The columns of all lookup tables whose keys a source has: its own columns, or such that were
 * looked up before (a shop has a town, a town a country).
 */
function attributesOf(source: Looking, lookups: readonly LookupTable[]): Map<string, Attribute> {
  const attributes = new Map<string, Attribute>()
  const resolve = (name: string): string | undefined => {
    if (source.table.columns.has(name) || attributes.has(name)) return name
    const inside = [...attributes.keys()].filter((attribute) => attribute.endsWith(`.${name}`))
    return inside.length === 1 ? inside[0] : undefined
  }
  let waiting = lookups.filter((lookup) => lookup.name !== source.name && hasTime(source, lookup))
  for (let before = -1; before !== waiting.length; ) {
    before = waiting.length
    waiting = waiting.filter((lookup) => {
      const by = lookup.match.map(({ left }) => resolve(left)).filter((name) => name !== undefined)
      if (by.length < lookup.match.length) return true
      for (const column of lookup.table.columns.values()) {
        const name = `${lookup.name}.${column.name}`
        // A column that the lookup table has looked up itself keeps its name.
        if (!column.name.includes('.') && !source.table.columns.has(name))
          attributes.set(name, { name, lookup, by, column })
      }
      return false
    })
  }
  return attributes
}

/** Whether rows of a dated lookup table can be found by the date of a source. */
function hasTime({ date, grain }: Looking, lookup: LookupTable): boolean {
  if (lookup.mode === 'always') return true
  return date !== undefined && PERIOD_UNITS.indexOf(grain) >= PERIOD_UNITS.indexOf(lookup.grain)
}

/** What a source knows of lookup tables. */
export interface Attributes {
  table: Table
  /** The names of its looked-up columns. */
  attributes: ReadonlySet<string>
  /** Its own columns by which each lookup table is looked up. */
  by: ReadonlyMap<string, readonly string[]>
  /** The same columns for an engine that joins them itself. */
  derived: DerivedColumn[]
}

/**
 * A source with the columns that it can look up: in its table, computed when they are first read,
 * and as columns for an engine that joins them itself.
 */
export function withAttributes(source: Looking, lookups: readonly LookupTable[]): Attributes {
  const attributes = attributesOf(source, lookups)
  const columns = new Map(source.table.columns)
  const places = new Map<LookupTable, Int32Array>()
  const placed = (lookup: LookupTable, by: readonly string[]): Int32Array => {
    const before = places.get(lookup)
    if (before !== undefined) return before
    const keys = by.map((name) => (columns.get(name) as TableColumn).column)
    const dated = source.date === undefined ? undefined : columns.get(source.date)?.column
    const days = dated?.kind === 'date' ? dated.values : undefined
    const made = placesOf(lookup.rows, keys, days, source.table.length)
    places.set(lookup, made)
    return made
  }
  const derived: DerivedColumn[] = []
  for (const { name, lookup, by, column } of attributes.values()) {
    columns.set(
      name,
      lazyColumn(name, column, () => rowPlaces(column.column, placed(lookup, by))),
    )
    derived.push(lookedUp(name, lookup, by, column))
  }
  return {
    table: { length: source.table.length, columns },
    attributes: new Set(attributes.keys()),
    by: new Map([...attributes.values()].map(({ lookup, by }) => [lookup.name, by])),
    derived,
  }
}

function lookedUp(name: string, { rows }: LookupTable, by: readonly string[], column: TableColumn): LookedUpColumn {
  return {
    name,
    by,
    rows,
    type: column.type,
    get column() {
      return column.column
    },
    decimals: columnDecimals(column) ?? null,
  }
}

/** A column whose values are computed when they are first read: few of all attributes are. */
function lazyColumn(name: string, like: TableColumn, make: () => Column): TableColumn {
  let column: Column | undefined
  return {
    ...like,
    name,
    label: like.label,
    get column() {
      column ??= make()
      return column
    },
    get decimals() {
      return columnDecimals(like) ?? null
    },
  }
}

/**
 * A lookup table with the names by which other sources know its columns.
 *
 * @param by the columns of home, in the order of its keys
 */
export function withOwnAttributes({ name, match, table }: LookupTable, by: readonly string[]): Table {
  const columns = new Map(table.columns)
  match.forEach(({ right }, k) => {
    const column = table.columns.get(right)
    if (column !== undefined && k < by.length && !columns.has(by[k])) columns.set(by[k], { ...column, name: by[k] })
  })
  for (const column of table.columns.values())
    if (!column.name.includes('.')) columns.set(`${name}.${column.name}`, { ...column, name: `${name}.${column.name}` })
  return { length: table.length, columns }
}

/** Reports lookup tables that no source can look up: a key that none has, or a circle of them. */
export function checkReach(
  lookups: readonly LookupTable[],
  sources: readonly { table: Table; attributes: ReadonlySet<string> }[],
  home: { name: string; table: Table },
  diagnostics: Diagnostics,
): void {
  const reached = (lookup: LookupTable): boolean =>
    sources.some(({ attributes }) => [...attributes].some((name) => name.startsWith(`${lookup.name}.`)))
  const lost = lookups.filter((lookup) => !reached(lookup))
  for (const lookup of lost)
    for (const { left, right } of lookup.match) {
      // A key that the lookup table lacks itself is reported already.
      if (home.table.columns.has(left) || !lookup.table.columns.has(right)) continue
      const at = diagnostics.at('sources', lookup.name, 'match')
      const before = lost.find(({ name }) => left.startsWith(`${name}.`))
      const candidates = [...home.table.columns.keys()]
      if (before !== undefined) at.report('lookup-circle', { names: [lookup.name, before.name] })
      else
        at.report('unknown-column', {
          name: `${home.name}.${left}`,
          nearest: nearest(left, candidates),
          known: candidates,
        })
    }
}
