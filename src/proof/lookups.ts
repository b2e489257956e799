import { periodPrinter } from '../format/period.js'
import { readsSource } from '../report/answer/join-sources.js'
import { firstFew } from '../report/answer/value.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { BoundReport, BoundSource } from '../report/model/bound.js'
import type { Keyed } from '../summary/contract.js'
import { PERIOD_UNITS } from '../time/period.js'
import { finding, type ProofFinding } from './finding.js'

/** A row of a lookup table is old once this many of its usual steps are over. */
const MAX_STEPS = 3

/**
 * Keys of lookup tables that no row has, and rows that are still in force long after their period.
 * Both hold for all rows, whatever the filters.
 */
export async function lookupFindings({ report }: DecidedReport): Promise<ProofFinding[]> {
  const [home, ...others] = report.sources
  const findings = await Promise.all(
    others
      .filter(({ lookup }) => lookup !== undefined)
      .map(async (source) => [
        ...(mattersUnused(report, source) ? await unusedKeys(home, source) : []),
        ...(await agedRows(report, home, source)),
      ]),
  )
  return findings.flat()
}

/**
 * A key that no row has is harmless, as that of a plant that is not sold yet, unless amounts of the
 * table are added up, or rows lack a key: then one is misspelt.
 */
function mattersUnused(report: BoundReport, { name }: BoundSource): boolean {
  const lacks = report.coverage?.gaps.some(({ source, unit }) => source === name && unit === undefined) === true
  return lacks || readsSource(report, name)
}

/** Asks a source which keys it has; one text for each combination without a missing part. */
async function keysOf({ engine }: BoundSource, keys: readonly string[]): Promise<readonly Keyed[]> {
  return (await engine.ask({ keys, parts: [], fields: [], where: [] })).keys
}

/** Calls back with each combination of keys, and the period of the last of them if it is a time. */
function eachGroup(keys: readonly Keyed[], visit: (name: string, period: number) => void): void {
  for (let g = 0; g < (keys[0]?.codes.length ?? 0); g++) {
    if (keys.some(({ codes }) => codes[g] < 0)) continue
    let period = 0
    const words: string[] = []
    for (const { codes, domain } of keys)
      if (domain.kind === 'text') words.push(domain.words[codes[g]])
      else period = domain.periods[codes[g]]
    visit(words.join(', '), period)
  }
}

async function unusedKeys(home: BoundSource, source: BoundSource): Promise<ProofFinding[]> {
  if (source.match.length === 0) return []
  const met = new Set<string>()
  eachGroup(await keysOf(home, source.match), (name) => met.add(name))
  const all = new Set<string>()
  eachGroup(await keysOf(source, source.match), (name) => all.add(name))
  const unused = [...all].filter((name) => !met.has(name)).sort()
  if (unused.length === 0) return []
  const numbers = { count: unused.length, of: all.size }
  const message = `${numbers.count} of ${numbers.of} keys of ${source.name} ${unused.length === 1 ? 'is' : 'are'} in no row of ${home.name}: ${firstFew(unused, '; ')}`
  return [finding('lookup-unused', { at: source.name, message, numbers, path: ['sources', source.name] })]
}

/**
 * The usual step of a table is the median of those between the rows of a key: twelve months for
 * rates of a year. One by day holds the days of changes, which come at no regular step.
 */
async function agedRows(report: BoundReport, home: BoundSource, source: BoundSource): Promise<ProofFinding[]> {
  const unit = source.grain
  if (source.lookup !== 'latest' || unit === 'day' || home.date === undefined) return []
  if (home.grain !== unit && PERIOD_UNITS.indexOf(home.grain) < PERIOD_UNITS.indexOf(unit)) return []
  const given = new Map<string, number[]>()
  eachGroup(await keysOf(source, [...source.match, unit]), (name, period) =>
    given.set(name, [...(given.get(name) ?? []), period]),
  )
  const most = MAX_STEPS * usualStep(given)
  const oldest = new Map<string, { from: number; at: number }>()
  eachGroup(await keysOf(home, [...source.match, unit]), (name, at) => {
    const from = Math.max(...(given.get(name) ?? []).filter((period) => period <= at))
    const known = oldest.get(name)
    const isOlder = known === undefined || at - from > known.at - known.from
    if (Number.isFinite(from) && at - from > most && isOlder) oldest.set(name, { from, at })
  })
  if (oldest.size === 0) return []
  const print = periodPrinter(report.locale, report.calendar)
  const notes = [...oldest]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, { from, at }]) => {
      const row = `that of ${print.long(unit, from)} in ${print.long(unit, at)}`
      return name === '' ? row : `${name}, ${row}`
    })
  const message = `rows of ${source.name} are in force for more than ${most} ${unit}s: ${firstFew(notes, '; ')}`
  const numbers = { count: oldest.size, most }
  return [finding('lookup-aged', { at: source.name, message, numbers, path: ['sources', source.name] })]
}

function usualStep(given: ReadonlyMap<string, readonly number[]>): number {
  const steps = [...given.values()]
    .flatMap((periods) => {
      const sorted = [...periods].sort((a, b) => a - b)
      return sorted.slice(1).map((period, i) => period - sorted[i])
    })
    .sort((a, b) => a - b)
  return steps[steps.length >> 1] ?? 1
}
