import type { Problem } from '../problem/problem.js'
import { laidOut } from '../source/layout.js'
import type { SourceTable } from '../table/source-table.js'
import type { PeriodUnit } from '../time/period.js'
import { type ColumnFacts, columnFacts } from './facts.js'
import { type Keys, keysOf, lookedUp, lookupKey, type SharedKey, sharedKeys } from './keys.js'
import { chooseMeasures, type Measures, type OtherColumn, type Rate } from './measures.js'
import { sourceNames, written } from './names.js'
import { MAX_KEY_VALUES, type RoleOf, rolesOf } from './roles.js'
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
  /** Of a workbook, what was chosen of its sheets. */
  sheet: Readonly<Record<string, string | number>>
  /** Set for a lookup table: it has each of its keys once, or once in each period. */
  lookup?: 'true' | 'exact' | 'latest'
  /** The period that its target is most likely for. */
  per?: PeriodUnit
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
  const sources = rowsFirst(data.map((each, i) => sourceOf(each, names[i], i === 0 ? answers : {})))
  const [home, ...others] = sources
  const joined = [home, ...others.map((other) => joinedTo(home, other))]
  const date = home.facts.find(({ name }) => name === home.date)
  const further = furtherColumns(joined)
  const planned = joined.find(({ name }) => further.some(({ source, isPlan }) => isPlan && source === name))
  const planDates = planned?.facts.find(({ name }) => name === planned.date)
  const times = timesOf(date, date && home.source.grains.get(date.name), planDates)
  const rates = joined.flatMap((source) => ratesOf(home, source))
  const measures = chooseMeasures(home.roles, further, {
    rate: rates[0],
    long: times?.hasLastYear === true,
    reserved: [...names, 'target', 'slack'],
    answers,
  })
  if (answers.better !== undefined) measures.main.better = answers.better
  return {
    sources: joined,
    keys: keysWith(keysOf(rowsRoles(joined), planKeys(planned)), home.facts, answers.rows),
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
  return {
    name,
    file,
    source: laid,
    facts,
    roles,
    shape,
    date,
    shared: [],
    reads: readAs(source.notes),
    sheet: source.declares ?? {},
  }
}

/** A table that others look up is no first source, whichever file is named first. */
function rowsFirst(sources: readonly StarterSource[]): readonly StarterSource[] {
  const [first, ...rest] = sources
  const isLooked = rest.some(({ facts }) => lookupKey(facts, first.facts) !== undefined)
  const home = isLooked ? rest.find(({ facts }) => lookupKey(first.facts, facts) === undefined) : undefined
  return home === undefined ? sources : [home, ...sources.filter((source) => source !== home)]
}

function joinedTo(home: StarterSource, other: StarterSource): StarterSource {
  const key = other.shape === undefined ? lookupKey(home.facts, other.facts) : undefined
  if (key === undefined) {
    const joined = { ...other, shared: sharedKeys(home.facts, other.facts) }
    return { ...joined, ...datedLookup(home, joined) }
  }
  const { date: _, ...undated } = other
  const roles = other.roles.map(
    (of): RoleOf => (of.role === 'time' ? { ...of, role: 'date', because: 'a date that stays with its row' } : of),
  )
  const per = perOf(home, targetOf(other))
  return { ...undated, roles, date: undefined, shared: [key], lookup: 'true', ...(per && { per }) }
}

/**
 * A table of rates: one number for each currency and period. It is `exact` if it has every one of
 * them, else the latest holds.
 */
function datedLookup(home: StarterSource, other: StarterSource): Pick<StarterSource, 'lookup'> {
  const { shape, date, shared, facts } = other
  const dates = facts.find(({ name }) => name === date)
  const key = facts.find(({ name }) => name === shared[0]?.other)
  const sold = home.facts.find(({ name }) => name === home.date)
  if (shape !== undefined || shared.length !== 1 || dates?.values === undefined || key?.codes === undefined) return {}
  if (sold === undefined || !key.words.every((word) => CURRENCY.test(word)) || numbersOf(other).length !== 1) return {}
  const { codes } = key
  const groups = new Set(Array.from(dates.values, (day, row) => `${codes[row]} ${day}`))
  if (groups.size !== dates.rows) return {}
  const isWhole = groups.size === key.distinct * dates.distinct && dates.low <= sold.low
  return { lookup: isWhole && sold.high - dates.high < 31 ? 'exact' : 'latest' }
}

/** Codes of currencies are three capital letters (ISO 4217). */
const CURRENCY = /^[A-Z]{3}$/

function numbersOf({ facts }: StarterSource): ColumnFacts[] {
  return facts.filter(({ kind }) => kind === 'number')
}

/** The rate that turns an amount into the currency whose rate is always 1, if there is one. */
function ratesOf(home: StarterSource, source: StarterSource): Rate[] {
  if (source === home || source.lookup === 'true' || source.lookup === undefined) return []
  const [rate] = numbersOf(source)
  const key = source.facts.find(({ name }) => name === source.shared[0].other)
  const { codes, words } = key as ColumnFacts
  const base = words.findIndex((_, code) => rate.values?.every((x, row) => codes?.[row] !== code || x === 1))
  return base < 0 ? [] : [{ formula: written(rate.name, source.name), currency: words[base] }]
}

function targetOf({ roles }: StarterSource): ColumnFacts | undefined {
  return roles.find(({ role, facts }) => role === 'target' || (role === 'amount' && means(facts.name, 'target')))?.facts
}

/** Days of the periods that a target may be for. */
const DAYS: readonly (readonly [PeriodUnit, number])[] = [
  ['month', 365 / 12],
  ['quarter', 365 / 4],
  ['year', 365],
]

/** What the rows reach in a period of a target differs from it by less than this factor. */
const MAX_OFF = 1.7

/** The period in which the rows reach about as much as a target; undefined without one. */
function perOf({ facts, roles, date }: StarterSource, target: ColumnFacts | undefined): PeriodUnit | undefined {
  const dates = facts.find(({ name }) => name === date)
  if (target === undefined || dates === undefined) return undefined
  const reached = roles
    .filter(({ role }) => role === 'amount')
    .map(({ facts }) => facts.sum / (dates.high - dates.low + 1))
  const fits = DAYS.flatMap(([unit, days]) =>
    reached.map((daily) => ({ unit, off: Math.abs(Math.log(target.sum / (daily * days))) })),
  )
  return fits.filter(({ off }) => off < Math.log(MAX_OFF)).sort((a, b) => a.off - b.off)[0]?.unit
}

/** What rows may be split by: columns of their own, and those that they look up. */
function rowsRoles(sources: readonly StarterSource[]): RoleOf[] {
  const [home, ...others] = sources
  const looked = others.flatMap((other) => lookedUpRoles(home, other))
  // A name says more than the code that it is looked up by.
  const named = new Set(looked.flatMap(({ key, isName }) => (isName ? [key] : [])))
  return [...rowRoles(home).filter(({ facts }) => !named.has(facts)), ...looked.map(({ of }) => of)]
}

/** Columns of a lookup table that split rows, and whether they name the key that has a code. */
function lookedUpRoles(
  home: StarterSource,
  { name: source, lookup, shared: [shared], facts, roles }: StarterSource,
): { of: RoleOf; key: ColumnFacts; isName: boolean }[] {
  const key = home.facts.find((each) => each.name === shared?.home)
  const to = facts.find((each) => each.name === shared?.other)
  if (lookup !== 'true' || key === undefined || to === undefined) return []
  const isCode = to.kind === 'number' || to.words.every((word) => /\d/.test(word) && !/\s/.test(word))
  return roles
    .filter(({ role, facts: { kind, distinct } }) => {
      const splits = role === 'key' || role === 'status' || (role === 'name' && isCode)
      return splits && kind === 'text' && distinct <= MAX_KEY_VALUES
    })
    .filter(({ facts: each }) => each !== to && !home.facts.some(({ name }) => name === each.name))
    .map(({ facts: each, because }) => {
      const isName = isCode && each.distinct === each.rows
      const of = lookedUp(key, to, each, `${source}.${each.name}`)
      return { of: { facts: of, role: 'key', because }, key, isName }
    })
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
  return others.flatMap((other): OtherColumn[] => {
    const { name, roles, shared, date, lookup, per } = other
    if (lookup === 'exact' || lookup === 'latest') return []
    if (lookup === 'true') {
      const facts = targetOf(other)
      // A target for an unknown time is no plan.
      const isPlan = home.date === undefined || per !== undefined
      return facts === undefined || !isPlan ? [] : [{ source: name, facts, isPlan }]
    }
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
