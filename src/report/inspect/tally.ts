import { type Tally, tallyCells } from '../../rule/explain/tally.js'
import { phraseContextOf } from '../answer/facts.js'
import { isReading } from '../bind/exhibit-defaults.js'
import type { DecidedReport } from '../model/answered.js'

/** Counts the detail cells of every exhibit. */
export function tallyReport(decided: DecidedReport): ReportTally {
  const facts = phraseContextOf(decided.report)
  const readings = decided.exhibits.flatMap(({ exhibit }) => (isReading(exhibit) ? [exhibit.name] : []))
  const tally: ReportTally = { statuses: [], parts: [], readings }
  for (const { exhibit, levels } of decided.exhibits)
    for (const { cells, result } of levels.decided()) {
      if (cells.level !== 'detail' || cells.part === 'headings') continue
      const exhibitTally = tallyCells(exhibit.name, result.painting, result.results, facts)
      tally.statuses.push(...exhibitTally.statuses)
      tally.parts.push(...exhibitTally.parts)
    }
  return tally
}

/**
 * Lists and readings repeat cells of other exhibits: they are counted for themselves, and left out
 * of sums over exhibits.
 */
export interface ReportTally extends Tally {
  /** The names of lists and readings. */
  readings: string[]
}
