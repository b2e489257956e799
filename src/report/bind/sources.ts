import type { Found, Names, Setting } from '../../expression/bind.js'
import type { Type } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, ProblemError } from '../../problem/problem.js'
import type { ReportSpec } from '../../spec/report.js'
import { cachedAnswers } from '../../summary/answer-cache.js'
import type { Engine, RemoteTable } from '../../summary/contract.js'
import { createMemoryEngine } from '../../summary/memory/engine.js'
import { addFields, columnNames } from '../../table/fields.js'
import type { SourceTable } from '../../table/source-table.js'
import type { Table } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { isTimeUnit } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'
import type { ProgressEvent } from '../model/progress.js'

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
  const sources: BoundSource[] = []
  const columns = new Map<string, Names>()
  for (const name of names) {
    const source = read.get(name)
    const { date, grain, stack, expect = {} } = spec.sources[name]
    if (source === undefined) {
      columns.set(name, anyName())
      continue
    }
    const { table, bounds } = addFields(source.table, name, spec.fields?.[name] ?? {}, diagnostics.at('fields', name), {
      calendar,
      ...(hidden && { hidden }),
    })
    columns.set(name, columnNames(table, name))
    for (const column of Object.keys(spec.sources[name].labels ?? {}))
      if (!table.columns.has(column) && !isTimeUnit(column)) {
        const candidates = [...table.columns.keys()]
        const params = { name: column, nearest: nearest(column, candidates), known: candidates }
        diagnostics.at('sources', name, 'labels', column).report('unknown-column', params)
      }
    for (const column of Object.keys(spec.sources[name].expect ?? {}))
      if (column !== 'rows' && !['number', 'blank'].includes(table.columns.get(column)?.type.kind ?? '')) {
        const candidates = [...table.columns.values()].flatMap((c) => (c.column.kind === 'number' ? [c.name] : []))
        const params = { name: column, nearest: nearest(column, candidates), known: candidates }
        diagnostics.at('sources', name, 'expect', column).report('unknown-column', params)
      }
    const fine = grain ?? (date === undefined ? undefined : source.grains.get(date)) ?? 'day'
    const options = { ...(date === undefined ? {} : { date }), calendar }
    const asked = isRemote(source)
      ? source.connect(bounds, typesOf(table), options)
      : createMemoryEngine(table, options)
    let question = 0
    const engine = cachedAnswers(
      watched(asked, ['sources', name], () => follow({ source: name, question: ++question })),
    )
    const match = matchOf(spec.sources[name].match)
    sources.push({
      name,
      from: sourceText(spec.sources[name]),
      stack,
      expect,
      table,
      date,
      grain: fine,
      known: name === first ? undefined : new Set(),
      match,
      fields: bounds,
      engine,
    })
  }
  checkKinds(spec, read, diagnostics)
  checkMatch(spec, columns, diagnostics)
  const home = columns.get(first) ?? anyName()
  return { sources, whole: sources.length === names.length, home, all: allNames(first, columns) }
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

/** Shared keys must be columns of both. */
function checkMatch(spec: ReportSpec, columns: ReadonlyMap<string, Names>, diagnostics: Diagnostics): void {
  const [home] = columns.keys()
  for (const [name, { match }] of Object.entries(spec.sources)) {
    const keys = matchOf(match)
    keys.forEach((key, i) => {
      const path = diagnostics.at('sources', name, 'match', ...(typeof match === 'string' ? [] : [i]))
      for (const source of [name, home]) {
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

function matchOf(match: string | readonly string[] | undefined): readonly string[] {
  return match === undefined ? [] : typeof match === 'string' ? [match] : match
}

function allNames(home: string, columns: ReadonlyMap<string, Names>): Names {
  return {
    find(name, source): Found | undefined {
      if (source === undefined || source === home) return columns.get(home)?.find(name)
      const column = columns.get(source)?.find(name)
      return column && { ...column, ref: { ...column.ref, source } }
    },
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

/** The same engine; its problems name the source, and its questions are counted for progress. */
function watched(engine: Engine, path: Path, asking: () => void): Engine {
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
    withColumns: (more) => watched(engine.withColumns(more), path, asking),
  }
}

function typesOf(table: Table): Map<string, Type> {
  return new Map([...table.columns].map(([name, { type }]) => [name, type]))
}

function isRemote(source: SourceTable): source is RemoteTable {
  return 'connect' in source
}
