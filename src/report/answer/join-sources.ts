import { aggregatesOf } from '../../expression/bound.js'
import { problem } from '../../problem/optional.js'
import type { Problem } from '../../problem/problem.js'
import type { DerivedColumn } from '../../summary/contract.js'
import { isTimeUnit } from '../../time/period.js'
import type { BoundReport, BoundSource } from '../model/bound.js'
import { isShown } from './questions.js'

/**
 * Keys of a further source that home does not have, so that looked-up columns are missing there.
 */
export interface UnmatchedKeys {
  source: string
  /** The shared key, and the home column that was looked up by it. */
  key: string
  wanted: string
  words: readonly string[]
}

/**
 * Adds to each further source the home columns that its shared keys determine (a shop has one
 * region), as far as they are needed. Columns that cannot be looked up are not in `known`; using
 * one is reported. A lookup table that only limits read adds no rows, so what it lacks is not said.
 */
export async function joinSources(
  report: BoundReport,
): Promise<{ sources: BoundSource[]; unmatched: UnmatchedKeys[]; notes: Problem[] }> {
  const { sources, wanted } = report
  const [home] = sources
  const { lookUp } = await import('../../summary/memory/home-columns.js')
  const unmatched: UnmatchedKeys[] = []
  const joined = sources.map(async (source) => {
    if (source === home) return source
    const matched = new Set([...source.match, ...source.attributes])
    const more: DerivedColumn[] = []
    if (home.date !== undefined && source.date !== undefined) {
      // A condition on the home date applies to the date of this source.
      if (home.date !== source.date) more.push({ name: home.date, same: source.date })
      matched.add(home.date)
    }
    // The rows of a table whose columns alone are looked up are asked for by nothing.
    const isRead = source.lookup === undefined || readsSource(report, source.name)
    for (const name of isRead ? wanted : []) {
      if (matched.has(name) || isTimeUnit(name)) continue
      const lookedUp = await lookUp(home, source, source.match, name)
      if (lookedUp === undefined) continue
      more.push(lookedUp.known)
      matched.add(name)
      if (lookedUp.unmatched.length > 0)
        unmatched.push({ source: source.name, key: lookedUp.by, wanted: name, words: lookedUp.unmatched })
    }
    return { ...source, known: matched, engine: more.length === 0 ? source.engine : source.engine.withColumns(more) }
  })
  const all = await Promise.all(joined)
  const said = unmatched.filter(({ source: name }) => {
    const source = sources.find((one) => one.name === name)
    return source?.lookup === undefined || report.exhibits.some((exhibit) => isShown(report, exhibit, source))
  })
  const notes = said.map(({ source, key, words, wanted }) =>
    problem('note-unmatched', { source, key, words, home: home.name, wanted }),
  )
  return { sources: all, unmatched, notes }
}

/** Whether some measure of a report adds rows of a further source, or picks among them. */
export function readsSource({ measures }: Pick<BoundReport, 'measures'>, name: string): boolean {
  return [...measures.values()].some(({ bound }) => aggregatesOf(bound).some(({ source }) => source === name))
}
