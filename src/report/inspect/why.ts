import type { Why } from '../../rule/explain/why.js'
import { CellMaker } from '../layout/cells.js'
import type { DecidedReport } from '../model/answered.js'
import { placeTitle } from './cells.js'
import { placeAsked } from './place-asked.js'
import { cellTextAt, keysOf, whyPlace } from './why-place.js'

/** The explained cell, or the candidates. */
export type WhyAnswer =
  | { exhibit: string; keys: Record<string, string | null>; name: string; why: Why }
  | { exhibit: string; candidates: { name: string; keys: Record<string, string | null>; text: string }[] }

/**
 * Explains a cell. Keys that are left out are summed over; if no such cell is shown, the candidates
 * are listed.
 */
export function whyCell(
  decided: DecidedReport,
  exhibitName: string,
  measure: string,
  keys: Readonly<Record<string, string>>,
): WhyAnswer {
  const { answered, fitting, one } = placeAsked(decided, exhibitName, measure, keys)
  if (one !== undefined) return { exhibit: exhibitName, ...whyPlace(answered, measure, one) }
  const make = new CellMaker(answered)
  return {
    exhibit: exhibitName,
    candidates: fitting.map((place) => ({
      name: placeTitle(answered, place, measure),
      keys: keysOf(place.keys),
      text: cellTextAt(make, place, measure),
    })),
  }
}
