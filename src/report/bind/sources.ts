import type { Found, Names, Setting } from '../../expression/bind.js'
import type { Bound, Type } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, ProblemError } from '../../problem/problem.js'
import type { ReportSpec } from '../../spec/report.js'
import type { SourceSpec } from '../../spec/sources.js'
import { cachedAnswers } from '../../summary/answer-cache.js'
import type { Engine, RemoteTable } from '../../summary/contract.js'
import { createMemoryEngine } from '../../summary/memory/engine.js'
import { addFields, columnNames } from '../../table/fields.js'
import type { SourceTable } from '../../table/source-table.js'
import type { Table } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { isTimeUnit, type PeriodUnit } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'
import type { ProgressEvent } from '../model/progress.js'
import {
  type Attributes,
  checkLookups,
  checkReach,
  createLookup,
  type LookupTable,
  lookupMode,
  matchOf,
  withAttributes,
  withOwnAttributes,
} from './lookups.js'

export interface SourceNames {
  /** Home, then the others, in the order of the report; unread sources are left out. */
  sources: BoundSource[]
  /** Whether every source could be read. */
  whole: boolean
  /** The columns for conditions and keys: those of home. */
  home: Names
  /** The columns for aggregates: those of home by name, those of all sources as `source.column`. */
  all: Names
}

/**
 * Binds the sources of a report: computes fields, checks shared keys. Column names of an unread
 * source are not checked.
 */
export function bindSources(
  spec: ReportSpec,
  read: ReadonlyMap<string, SourceTable>,
  {
    calendar,
    follow,
    hidden,
  }: { calendar: Calendar; follow: (event: ProgressEvent) => void; hidden: Setting['hidden'] },
  diagnostics: Diagnostics,
): SourceNames {
  const names = Object.keys(spec.sources)
  const [first = ''] = names
  if (names.length === 0) diagnostics.at('sources').report('no-source', {})
  for (const name of Object.keys(spec.fields ?? {}))
    if (!names.includes(name)) {
      const params = { name, nearest: nearest(name, names), known: names }
      diagnostics.at('fields', name).report('unknown-source', params)
    }
  checkLookups(spec, diagnostics)
  const prepared = new Map<string, PreparedSource>()
  const isLookup = (name: string): boolean => name !== first && lookupMode(spec.sources[name]) !== undefined
  let lookups = names.filter(isLookup).flatMap((name): LookupTable[] => {
    const source = read.get(name)
    if (source === undefined) return []
    const grain = grainOf(spec.sources[name], source)
    return [createLookup(name, spec.sources[name], source.table, grain, calendar, diagnostics.at('sources', name))]
  })
  // Lookup tables first: the others know their columns, fields included.
  for (const name of [...names.filter(isLookup), ...names.filter((name) => !isLookup(name))]) {
    const source = read.get(name)
    if (source === undefined) continue
    const one = prepareSource(name, spec, source, lookups, { calendar, hidden }, diagnostics)
    prepared.set(name, one)
    lookups = lookups.map((lookup) => (lookup.name === name ? { ...lookup, table: one.table } : lookup))
  }
  const home = prepared.get(first)
  const sources = names.flatMap((name): BoundSource[] => {
    const one = prepared.get(name)
    if (one === undefined) return []
    const lookup = lookups.find((lookup) => lookup.name === name)
    const bound = boundSource(name, spec, one, lookup, home?.by.get(name) ?? [], calendar)
    const engine = watched(bound.engine, name, follow)
    return [{ ...bound, known: name === first ? undefined : new Set(), engine }]
  })
  const columns = new Map(
    names.map((name): [string, Names] => {
      const bound = sources.find((source) => source.name === name)
      return [name, bound === undefined ? anyName() : columnNames(bound.table, name)]
    }),
  )
  checkKinds(spec, read, diagnostics)
  checkMatch(spec, columns, diagnostics)
  if (home !== undefined) checkReach(lookups, [...prepared.values()], { name: first, table: home.table }, diagnostics)
  return {
    sources,
    whole: sources.length === names.length,
    home: columns.get(first) ?? anyName(),
    all: allNames(first, columns),
  }
}

/** A source with its fields and with the columns that it looks up. */
interface PreparedSource extends Attributes {
  grain: PeriodUnit
  bounds: ReadonlyMap<string, Bound>
  connect: RemoteTable['connect'] | undefined
}

/** The period of its dates: as written, else the precision of their texts. */
function grainOf({ date, grain }: SourceSpec, { grains }: SourceTable): PeriodUnit {
  return grain ?? (date === undefined ? undefined : grains.get(date)) ?? 'day'
}

function prepareSource(
  name: string,
  spec: ReportSpec,
  source: SourceTable,
  lookups: readonly LookupTable[],
  { calendar, hidden }: { calendar: Calendar; hidden: Setting['hidden'] },
  diagnostics: Diagnostics,
): PreparedSource {
  const { date } = spec.sources[name]
  const grain = grainOf(spec.sources[name], source)
  const looked = withAttributes({ name, table: source.table, date, grain }, lookups)
  const { table, bounds } = addFields(looked.table, name, spec.fields?.[name] ?? {}, diagnostics.at('fields', name), {
    calendar,
    ...(hidden && { hidden }),
  })
  checkNamed(name, spec.sources[name], table, diagnostics)
  return { ...looked, table, grain, bounds, connect: (source as Partial<RemoteTable>).connect }
}

/**
 * A source with its engine.
 *
 * @param by the columns of home that a lookup table is looked up by
 */
function boundSource(
  name: string,
  spec: ReportSpec,
  { table: own, attributes, derived, grain, bounds, connect }: PreparedSource,
  lookup: LookupTable | undefined,
  by: readonly string[],
  calendar: Calendar,
): Omit<BoundSource, 'known'> {
  const { date, stack, expect = {}, match, per } = spec.sources[name]
  const options = { ...(date === undefined ? {} : { date }), calendar }
  const table = lookup === undefined ? own : withOwnAttributes(lookup, by)
  const remoteEngine = (): Engine => {
    const engine = connect?.(bounds, typesOf(table), options) as Engine
    return derived.length === 0 ? engine : engine.withColumns(derived)
  }
  const names = lookup === undefined ? [] : [...table.columns.keys()].filter((column) => column.startsWith(`${name}.`))
  return {
    name,
    from: sourceText(spec.sources[name]),
    stack,
    expect,
    table,
    date,
    grain,
    match: lookup === undefined ? matchOf(match).map(({ left }) => left) : by,
    ...(lookup && { lookup: lookup.mode, nearest }),
    ...(per && { per }),
    attributes: new Set([...attributes, ...names]),
    fields: bounds,
    engine: connect === undefined ? createMemoryEngine(table, options) : remoteEngine(),
  }
}

/** Checks the columns that labels and control totals name. */
function checkNamed(name: string, { labels, expect }: SourceSpec, table: Table, diagnostics: Diagnostics): void {
  for (const column of Object.keys(labels ?? {}))
    if (!table.columns.has(column) && !isTimeUnit(column)) {
      const candidates = [...table.columns.keys()]
      const params = { name: column, nearest: nearest(column, candidates), known: candidates }
      diagnostics.at('sources', name, 'labels', column).report('unknown-column', params)
    }
  for (const column of Object.keys(expect ?? {}))
    if (column !== 'rows' && !['number', 'blank'].includes(table.columns.get(column)?.type.kind ?? '')) {
      const candidates = [...table.columns.values()].flatMap((c) => (c.type.kind === 'number' ? [c.name] : []))
      const params = { name: column, nearest: nearest(column, candidates), known: candidates }
      diagnostics.at('sources', name, 'expect', column).report('unknown-column', params)
    }
}

/** The name of a source for readers; a query is not printed. */
function sourceText({ file, table, query }: ReportSpec['sources'][string]): string {
  return file ?? table ?? (query === undefined ? '' : 'a query')
}

/** A source has one place; a source with data from the program needs none. */
function checkKinds(spec: ReportSpec, given: ReadonlyMap<string, SourceTable>, diagnostics: Diagnostics): void {
  for (const [name, { file, postgres, table, query, read, stack, unstack, engine }] of Object.entries(spec.sources)) {
    const path = diagnostics.at('sources', name)
    const kinds = [...(file === undefined ? [] : ['file']), ...(postgres === undefined ? [] : ['postgres'])]
    if (kinds.length > 1 || (kinds.length === 0 && !given.has(name))) path.report('source-kind', { found: kinds })
    const layout = stack ?? unstack
    if (layout !== undefined && (postgres !== undefined || engine === 'duckdb'))
      path.at(stack === undefined ? 'unstack' : 'stack').report('layout-remote', {})
    if (postgres === undefined) continue
    if ((table === undefined) === (query === undefined)) path.report('table-or-query', {})
    if (!/^env:[A-Za-z_][A-Za-z0-9_]*$/.test(postgres))
      path.at('postgres').report('env-form', { found: postgres.replace(/:[^:@/]*@/, ':…@') })
    if (read !== undefined) path.at('read').report('read-typed', {})
  }
}

/** Shared keys must be columns of both; a lookup table may be matched by another one's column. */
function checkMatch(spec: ReportSpec, columns: ReadonlyMap<string, Names>, diagnostics: Diagnostics): void {
  const [home] = columns.keys()
  for (const [name, source] of Object.entries(spec.sources)) {
    const { match } = source
    const isLookup = lookupMode(source) !== undefined
    matchOf(match).forEach(({ left, right }, i) => {
      const path = diagnostics.at('sources', name, 'match', ...(typeof match === 'string' ? [] : [i]))
      const sides = [[name, right], ...(isLookup ? [] : [[home, left]])]
      for (const [source, key] of sides) {
        const ofSource = columns.get(source)
        if (ofSource === undefined || ofSource.find(key) !== undefined) continue
        const candidates = ofSource.all()
        path.report('unknown-column', {
          name: `${source}.${key}`,
          nearest: nearest(key, candidates),
          known: candidates,
        })
      }
    })
  }
}

function allNames(home: string, columns: ReadonlyMap<string, Names>): Names {
  return {
    find(name, source): Found | undefined {
      if (source === undefined || source === home) return columns.get(home)?.find(name)
      const column = columns.get(source)?.find(name)
      return column && { ...column, ref: { ...column.ref, source } }
    },
    attribute: (base, name, source) => columns.get(base ?? home)?.find(name, source),
    all: () =>
      [...columns].flatMap(([source, names]) =>
        source === home ? names.all() : names.all().map((n) => `${source}.${n}`),
      ),
  }
}

/** The columns of an unread source: every name is accepted. */
function anyName(): Names {
  return { find: (name) => ({ ref: { kind: 'field', name }, type: { kind: 'unknown' } }), all: () => [] }
}

/** The same engine, its answers cached; its problems name the source, its questions are counted. */
function watched(engine: Engine, name: string, follow: (event: ProgressEvent) => void): Engine {
  let question = 0
  return cachedAnswers(placed(engine, ['sources', name], () => follow({ source: name, question: ++question })))
}

/** The same engine; questions are announced first, problems without a place get the source's. */
function placed(engine: Engine, path: Path, asking: () => void): Engine {
  const timed = async <T>(ask: () => Promise<T>): Promise<T> => {
    asking()
    return ask().catch((error: unknown) => {
      if (!(error instanceof ProblemError)) throw error
      throw new ProblemError(error.problems.map((p) => (p.place.path === undefined ? { ...p, place: { path } } : p)))
    })
  }
  const records = engine.records?.bind(engine)
  return {
    ask: (question) => timed(() => engine.ask(question)),
    askWhole: (question, part) => timed(() => engine.askWhole(question, part)),
    stats: () => timed(() => engine.stats()),
    ...(records && { records: (question) => timed(() => records(question)) }),
    withColumns: (more) => placed(engine.withColumns(more), path, asking),
  }
}

function typesOf(table: Table): Map<string, Type> {
  return new Map([...table.columns].map(([name, { type }]) => [name, type]))
}
