import type { Statistic } from '../../column/statistic.js'
import { aggregatesOf, type Bound, type BoundAggregate, referencesOf } from '../../expression/bound.js'
import type { Keyed } from '../../summary/contract.js'
import { columnOfKey } from '../../summary/memory/key-column.js'
import { createTable, type TableColumn } from '../../table/table.js'
import { CIVIL_CALENDAR } from '../../time/calendar.js'
import { PERIOD_UNITS, type PeriodUnit, spanOf } from '../../time/period.js'
import type { Blank, BoundReport, BoundSource, Coverage, Gap } from '../model/bound.js'
import { readsSource } from './join-sources.js'

/**
 * More missing combinations than this are not listed. A source that lacks so many covers another
 * part of the business.
 */
const MAX_GAP_ROWS = 20_000

/** Statistics that ignore rows without a value. */
const ADDS: readonly Statistic[] = ['sum', 'mean', 'median', 'percentile', 'stdev']

/**
 * Finds what the sources of a report lack: two questions for each further source, one for each
 * summed source.
 */
export async function coverageOf(report: BoundReport): Promise<Coverage> {
  const [home, ...others] = report.sources
  const read = aggregatesOfReport(report)
  const gaps: Gap[] = []
  for (const source of others)
    if (source.lookup !== undefined || readsSource(report, source.name)) {
      const gap = await gapOf(report, home, source)
      if (gap !== undefined) gaps.push(gap)
    }
  const blanks: Blank[] = []
  for (const source of report.sources) {
    const parts = read.filter((part) => (part.source ?? home.name) === source.name)
    blanks.push(...(await blanksOf(source, parts)))
  }
  return { gaps, blanks }
}

function aggregatesOfReport(report: BoundReport): BoundAggregate[] {
  return [...report.measures.values()].flatMap(({ bound }) => aggregatesOf(bound))
}

async function blanksOf({ name, engine, table }: BoundSource, parts: readonly BoundAggregate[]): Promise<Blank[]> {
  const columns = new Set(
    parts
      .filter(({ statistic }) => ADDS.includes(statistic))
      .flatMap(({ of, where }) =>
        of === undefined ? [] : referencesOf(of).flatMap(({ name }) => (where && leavesOut(where, name) ? [] : [name])),
      ),
  )
  const names = [...columns].filter((column) => table.columns.get(column)?.type.kind === 'number')
  if (names.length === 0) return []
  const counts = names.map((column): BoundAggregate => {
    const type = { kind: 'number', unit: { is: 'count' } } as const
    const of: Bound = { op: 'name', ref: { kind: 'field', name: column }, type }
    return { op: 'aggregate', statistic: 'count', share: 0.5, key: `values of ${column}`, of, type }
  })
  const { rows, parts: answers } = await engine.ask({ keys: [], parts: counts, fields: [], where: [] })
  const all = total(rows)
  return names.flatMap((column, i) => {
    const blank = all - total(answers[i]?.count ?? rows)
    return blank === 0 ? [] : [{ source: name, column, rows: blank, of: all }]
  })
}

/** Whether a condition excludes rows without a value. */
function leavesOut(where: Bound, name: string): boolean {
  if (where.op === 'and') return leavesOut(where.left, name) || leavesOut(where.right, name)
  return where.op === 'missing' && where.not && where.of.op === 'name' && where.of.ref.name === name
}

function total(counts: Float64Array): number {
  return counts.reduce((sum, n) => sum + n, 0)
}

/** The shortest periods of both sources, at least months; undefined if one has no dates. */
function unitOf(home: BoundSource, source: BoundSource): PeriodUnit | undefined {
  // Rows that hold until the next ones have no gaps in time.
  if (home.date === undefined || source.date === undefined || source.lookup === 'latest') return undefined
  const grains = [home.grain, source.grain]
  if (grains.includes('week')) return grains.every((grain) => grain === 'week' || grain === 'day') ? 'week' : undefined
  return PERIOD_UNITS.find((unit) => unit === 'month' || grains.includes(unit))
}

async function gapOf(report: BoundReport, home: BoundSource, source: BoundSource): Promise<Gap | undefined> {
  const { match } = source
  const unit = unitOf(home, source)
  if (unit === undefined && match.length === 0) return undefined
  const shared = unit === undefined ? match : [...match, unit]
  const ask = (of: BoundSource, keys: readonly string[]) => of.engine.ask({ keys, parts: [], fields: [], where: [] })
  const other = await ask(source, shared)
  const seen = new Set<string>()
  for (let g = 0; g < other.groups; g++) seen.add(idAt(other.keys, g))
  const lackingIn = ({ groups, keys }: { groups: number; keys: readonly Keyed[] }): number[] => {
    const lacking: number[] = []
    for (let g = 0; g < groups && lacking.length < MAX_GAP_ROWS; g++) {
      const own = keys.slice(0, shared.length)
      if (own.every((key) => key.codes[g] >= 0) && !seen.has(idAt(own, g))) lacking.push(g)
    }
    return lacking
  }
  const words = shared.length === 1 ? wordsInMemory(home, shared[0]) : undefined
  if (words?.every((word) => seen.has(JSON.stringify([word]))) === true) return undefined
  // Most sources lack nothing: what else conditions may read is asked only of those that do.
  const plain = await ask(home, shared)
  if (lackingIn(plain).length === 0) return undefined
  const beside = narrowedBy(report, home).filter((name) => !shared.includes(name) && name !== home.date)
  const ofHome = beside.length === 0 ? plain : await ask(home, [...shared, ...beside])
  const lacking = lackingIn(ofHome)
  const columns = ofHome.keys.flatMap((key): TableColumn[] => {
    const codes = Int32Array.from(lacking, (g) => key.codes[g])
    if (key.name === unit) return [dateColumn(home.date ?? '', unit, { ...key, codes })]
    const column = home.table.columns.get(key.name)
    return column === undefined ? [] : [{ ...column, column: columnOfKey(column, { ...key, codes }) }]
  })
  const rows = createTable(lacking.length, columns)
  const near = nearKeys(source, ofHome.keys[0], lacking, other.keys[0])
  const fields = fieldsThatRead(home, source)
  return {
    source: source.name,
    match,
    rows,
    ...(unit === undefined ? {} : { unit }),
    ...(fields.length > 0 && { fields }),
    ...(near && { near }),
  }
}

/** The fields of a source that read another, by themselves or through fields before them. */
function fieldsThatRead({ fields }: BoundSource, { name: source }: BoundSource): string[] {
  const found: string[] = []
  for (const [name, bound] of fields)
    if (referencesOf(bound).some(({ name: read }) => read.startsWith(`${source}.`) || found.includes(read)))
      found.push(name)
  return found
}

/** The words of a text column of rows in memory: known without reading the rows. */
function wordsInMemory({ table }: BoundSource, name: string): readonly string[] | undefined {
  const column = table.length > 0 ? table.columns.get(name)?.column : undefined
  return column?.kind === 'text' ? column.words : undefined
}

/** More keys than these are not searched for near ones. */
const MAX_NEAR = 20

/** The nearest key of a lookup table for each text that it lacks; undefined without any. */
function nearKeys(
  { nearest }: BoundSource,
  key: Keyed | undefined,
  lacking: readonly number[],
  other: Keyed | undefined,
): Map<string, string> | undefined {
  if (nearest === undefined || key?.domain.kind !== 'text' || other?.domain.kind !== 'text') return undefined
  const near = new Map<string, string>()
  const codes = [...new Set(lacking.map((g) => key.codes[g]))]
  for (const code of codes.slice(0, MAX_NEAR)) {
    const lacked = key.domain.words[code]
    const found = nearest(lacked, other.domain.words)
    // A key that is there lacks a period alone.
    if (found !== undefined && found !== lacked) near.set(lacked, found)
  }
  return near
}

/** A group by its keys, the same text in every source. */
function idAt(keys: readonly Keyed[], g: number): string {
  return JSON.stringify(
    keys.map(({ codes, domain }) => (domain.kind === 'text' ? domain.words[codes[g]] : domain.periods[codes[g]])),
  )
}

function dateColumn(name: string, unit: PeriodUnit, { codes, domain }: Keyed): TableColumn {
  const periods = domain.kind === 'time' ? domain.periods : []
  const values = Float64Array.from(
    codes,
    (code) => spanOf(unit, periods[code], domain.kind === 'time' ? domain.calendar : CIVIL_CALENDAR).from,
  )
  return { name, label: name, column: { kind: 'date', values }, type: { kind: 'date' } }
}

/** Home columns that conditions and filters may use. */
function narrowedBy({ where, exhibits, filters }: BoundReport, home: BoundSource): string[] {
  const conditions = [...where, ...exhibits.flatMap((exhibit) => exhibit.where)]
  const names = [...conditions.flatMap((bound) => referencesOf(bound).map((ref) => ref.name)), ...filters]
  return [...new Set(names)].filter((name) => home.table.columns.has(name))
}
