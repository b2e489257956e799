import type { Problem } from '../problem/problem.js'
import { laidOut } from '../source/layout.js'
import type { SourceTable } from '../table/source-table.js'
import { type ColumnFacts, columnFacts } from './facts.js'
import { type Keys, keysOf, type SharedKey, sharedKeys } from './keys.js'
import { chooseMeasures, type Measures, type OtherColumn } from './measures.js'
import { sourceNames } from './names.js'
import { type RoleOf, rolesOf } from './roles.js'
import { type Shape, shapeOf } from './shape.js'
import { type Times, timesOf } from './time.js'
import { means } from './words.js'

/** Data for a starter report: the file as the report will name it, and its rows. */
export interface SketchSource {
  file: string
  source: SourceTable
}

/** What the author answers instead of the guesses. */
export interface SketchAnswers {
  /** The column that the report is about. */
  main?: string | undefined
  /** The column with the date; `none` for data without time. */
  date?: string | undefined
  /** The column whose values make the rows. */
  rows?: string | undefined
  /** Whether more is better. */
  better?: 'higher' | 'lower' | 'neither' | undefined
}

/** A source of the starter. */
export interface StarterSource {
  name: string
  file: string
  /** Laid out as the report will lay it out. */
  source: SourceTable
  facts: readonly ColumnFacts[]
  roles: readonly RoleOf[]
  shape: Shape | undefined
  date: string | undefined
  /** Keys shared with the first source; empty for the first. */
  shared: readonly SharedKey[]
  reads: readonly [string, string][]
}

/** What a starter report is made of. */
export interface Plan {
  sources: readonly StarterSource[]
  keys: Keys
  times: Times | undefined
  measures: Measures
}

/** Analyses the data and chooses the parts of the report. */
export function planOf(data: readonly SketchSource[], answers: SketchAnswers): Plan {
  const names = sourceNames(data.map(({ file }) => file))
  const sources = data.map((each, i) => sourceOf(each, names[i], i === 0 ? answers : {}))
  const [home, ...others] = sources
  const joined = [home, ...others.map((other) => ({ ...other, shared: sharedKeys(home.facts, other.facts) }))]
  const date = home.facts.find(({ name }) => name === home.date)
  const further = furtherColumns(joined)
  const planned = joined.find(({ name }) => further.some(({ source, isPlan }) => isPlan && source === name))
  const planDates = planned?.facts.find(({ name }) => name === planned.date)
  const times = timesOf(date, date && home.source.grains.get(date.name), planDates)
  const measures = chooseMeasures(home.roles, further, {
    long: times?.hasLastYear === true,
    reserved: [...names, 'target', 'slack'],
    answers,
  })
  if (answers.better !== undefined) measures.main.better = answers.better
  return {
    sources: joined,
    keys: keysWith(keysOf(rowRoles(home), planKeys(planned)), home.facts, answers.rows),
    times,
    measures,
  }
}

function sourceOf({ file, source }: SketchSource, name: string, answers: SketchAnswers): StarterSource {
  const shape = shapeOf(columnFacts(source))
  const laid = shape === undefined ? source : laidOut(source, shape)
  const facts = columnFacts(laid)
  const roles = withAnswers(rolesOf(facts), answers)
  const date = roles.find(({ role }) => role === 'time')?.facts.name
  return { name, file, source: laid, facts, roles, shape, date, shared: [], reads: readAs(source.notes) }
}

/**
 * The keys that rows may be split by so that the plan is there; undefined without a plan, or if it
 * has no key.
 */
function planKeys(planned: StarterSource | undefined): ReadonlySet<string> | undefined {
  const keys = planned?.shared.map(({ home }) => home) ?? []
  return keys.length === 0 ? undefined : new Set(keys)
}

/** The names of stacked columns go across, not down. */
function rowRoles({ roles, shape }: StarterSource): readonly RoleOf[] {
  return roles.filter(({ facts }) => facts.name !== shape?.stack?.name)
}

/** An answered date replaces the guess. */
function withAnswers(roles: readonly RoleOf[], { date, main }: SketchAnswers): RoleOf[] {
  return roles.map((of) => {
    if (date !== undefined && (of.role === 'time' || of.role === 'date')) {
      const isTime = of.facts.name === date
      return { ...of, role: isTime ? 'time' : 'date', because: isTime ? 'as answered' : 'another date' }
    }
    const isOther = of.facts.name === main && of.facts.kind === 'number' && of.role === 'id'
    return isOther ? { ...of, role: 'amount', because: 'as answered' } : of
  })
}

function keysWith(keys: Keys, facts: readonly ColumnFacts[], asked: string | undefined): Keys {
  const rows = facts.find(({ name, kind }) => name === asked && kind !== 'number')
  if (rows === undefined || keys.rows.at(-1) === rows) return keys
  return { rows: [rows], others: [...keys.rows, ...keys.others].filter((each) => each !== rows), because: undefined }
}

/** Each further source gives one column: a plan, or an amount. */
function furtherColumns(sources: readonly StarterSource[]): OtherColumn[] {
  const [home, ...others] = sources
  return others.flatMap(({ name, roles, shared, date }): OtherColumn[] => {
    const isJoined = shared.length > 0 || (date !== undefined && home.date !== undefined)
    const of = (role: string): ColumnFacts | undefined => roles.find((each) => each.role === role)?.facts
    const facts = of('target') ?? of('amount') ?? of('quantity')
    if (!isJoined || facts === undefined) return []
    return [{ source: name, facts, isPlan: means(name, 'target') || means(facts.name, 'target') }]
  })
}

function readAs(notes: readonly Problem[]): [string, string][] {
  return notes.flatMap((p) =>
    p.code === 'note-guessed' ? [[String(p.params.column), String(p.params.as)] as [string, string]] : [],
  )
}
