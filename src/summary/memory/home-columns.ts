import { rowPlaces } from '../../table/join.js'
import type { Table } from '../../table/table.js'
import type { DerivedColumn, Domain, Engine, Keyed } from '../contract.js'
import { columnOfKey, dayOfPeriod } from './key-column.js'

/** A source with its columns and engine. */
export interface Askable {
  table: Table
  engine: Engine
}

export interface LookedUp {
  known: DerivedColumn
  /** The shared key that determines it. */
  by: string
  /** Keys of the other source that home does not have. */
  unmatched: string[]
}

/**
 * Looks up a column of `home` for the rows of `other`, by the first shared key with one value each
 * (a shop has one region). Undefined if there is none: what only several keys together determine
 * may be chance.
 */
export async function lookUp(
  home: Askable,
  other: Askable,
  match: readonly string[],
  name: string,
): Promise<LookedUp | undefined> {
  const wanted = home.table.columns.get(name)
  if (wanted === undefined) return undefined
  for (const by of match) {
    const pairs = await home.engine.ask({ keys: [by, name], parts: [], fields: [], where: [] })
    const [key, value] = pairs.keys
    const places = oneEach(key, value)
    if (places === undefined) continue
    const rows = { length: places.size, words: [[...places.keys()]] }
    const asked = await other.engine.ask({ keys: [by], parts: [], fields: [], where: [] })
    const asked0 = asked.keys[0]
    const unmatched = Array.from(asked0.codes, (code) => wordOf(asked0.domain, code)).filter(
      (word): word is string => word !== null && !places.has(word),
    )
    const column = rowPlaces(columnOfKey(wanted, value), [...places.values()])
    return { known: { name, by: [by], rows, column, type: wanted.type }, by, unmatched }
  }
  return undefined
}

/** The group of each key; undefined if one key has two values. */
function oneEach(key: Keyed, value: Keyed): Map<string, number> | undefined {
  const places = new Map<string, number>()
  for (let g = 0; g < key.codes.length; g++) {
    const word = wordOf(key.domain, key.codes[g])
    if (word === null) continue
    const before = places.get(word)
    if (before !== undefined && value.codes[before] !== value.codes[g]) return undefined
    places.set(word, g)
  }
  return places
}

function wordOf(domain: Domain, code: number): string | null {
  if (code < 0) return null
  return domain.kind === 'text' ? domain.words[code] : String(dayOfPeriod(domain, code))
}
