import { parseColor } from '../color/parse.js'
import type { ColumnFacts } from './facts.js'
import { means, wordsOf } from './words.js'

/**
 * What a column is for. Amounts, costs, quantities, targets and previous values are added up;
 * prices, levels and rates are averaged; keys, statuses and conditions split tables; the others are
 * left aside.
 */
export type Role =
  | 'amount'
  | 'cost'
  | 'quantity'
  | 'target'
  | 'previous'
  | 'price'
  | 'level'
  | 'rate'
  | 'key'
  | 'status'
  | 'condition'
  | 'name'
  | 'time'
  | 'date'
  | 'id'
  | 'period'
  | 'color'
  | 'picture'
  | 'text'
  | 'constant'
  | 'empty'

/** A column with its role and the reason for it. */
export interface RoleOf {
  facts: ColumnFacts
  role: Role
  /** For a comment: `each value once, rising`. */
  because: string
}

/** More values than these make a list, not a table. */
export const MAX_KEY_VALUES = 60

/** A table of so few rows cannot show that a column is unique. */
const MIN_UNIQUE_ROWS = 12

/** The role of every column. */
export function rolesOf(columns: readonly ColumnFacts[]): RoleOf[] {
  const roles = columns.map((facts): RoleOf => ({ facts, ...roleOf(facts) }))
  return withTime(withTargets(roles))
}

type Found = Omit<RoleOf, 'facts'>

function roleOf(facts: ColumnFacts): Found {
  if (facts.kind === 'blank') return { role: 'empty', because: 'no values' }
  if (facts.kind === 'text') return textRole(facts)
  if (facts.kind === 'condition') return { role: 'condition', because: 'true or false' }
  if (facts.kind === 'date') return { role: 'date', because: 'dates' }
  return numberRole(facts)
}

const IMAGE = /^data:image\/|\.(?:png|jpe?g|gif|webp|svg|avif)$/i

function textRole(facts: ColumnFacts): Found {
  const { name, words, distinct, rows, missing, length } = facts
  const share = (holds: (word: string) => boolean): number => words.filter(holds).length / words.length
  if (share((word) => IMAGE.test(word)) > 0.8) return { role: 'picture', because: 'names of image files' }
  if (share((word) => /^#/.test(word) && parseColor(word) !== undefined) > 0.8)
    return { role: 'color', because: 'colours' }
  if (means(name, 'color') && share((word) => parseColor(word) !== undefined) > 0.8)
    return { role: 'color', because: 'colours' }
  const unique = distinct === rows - missing && rows > MIN_UNIQUE_ROWS
  if (unique && (means(name, 'id') || share((word) => /\d/.test(word) && !/\s/.test(word)) > 0.9))
    return { role: 'id', because: 'each value once' }
  if (distinct > MAX_KEY_VALUES && means(name, 'id')) return { role: 'id', because: 'named like an id' }
  if (length > 24 && (distinct > MAX_KEY_VALUES || means(name, 'text') || (unique && length > 40)))
    return { role: 'text', because: 'free text' }
  if (distinct === 1 && missing === 0) return { role: 'constant', because: 'the same in every row' }
  if (unique) return { role: 'name', because: 'each value once' }
  if (means(name, 'status') && distinct <= MIN_UNIQUE_ROWS) return { role: 'status', because: `${distinct} values` }
  if (distinct > MAX_KEY_VALUES) return { role: 'name', because: `${distinct} values` }
  return { role: 'key', because: `${distinct} values` }
}

/** Columns of plain consecutive numbers are numbered, whatever their name. */
function isNumbered({ rising, whole, distinct, rows, low, high, name }: ColumnFacts): boolean {
  if (!rising || !whole || rows <= MIN_UNIQUE_ROWS || low < 0) return false
  const dense = high - low < distinct * 2
  return dense && !means(name, 'amount') && !means(name, 'quantity')
}

function numberRole(facts: ColumnFacts): Found {
  const { name, whole, low, high, percent, distinct, rows, missing } = facts
  if (percent) return { role: 'rate', because: 'percents' }
  const named = (meaning: Parameters<typeof means>[1]): boolean => means(name, meaning)
  const words = wordsOf(name)
  if (whole && low >= 1900 && high <= 2100 && (named('eventDate') || distinct < rows / 4) && !named('amount'))
    return { role: 'period', because: 'years as numbers' }
  if (
    whole &&
    low >= 1 &&
    high <= 53 &&
    words.some((word) => /^(month|week|quarter|weekday|monat|woche|mes|semana|mois|semaine|mese)$/.test(word))
  )
    return { role: 'period', because: 'numbers of periods' }
  if (isNumbered(facts)) return { role: 'id', because: 'each value once, rising' }
  const counts = named('quantity') || named('amount') || named('cost') || named('target')
  const isNumberOf = /^(number|num|nr|no|numero|nombre|anzahl) (of|de|di|der|von)\b/.test(words.join(' '))
  if (whole && named('id') && !isNumberOf && (!counts || distinct === rows - missing))
    return { role: 'id', because: 'named like an id' }
  if (named('target')) return { role: 'target', because: 'named like a plan' }
  if (named('cost')) return { role: 'cost', because: 'named like a cost' }
  if (named('previous') && (named('amount') || named('eventDate')))
    return { role: 'previous', because: 'named like an earlier value' }
  if (named('rate') && high <= 100 && low >= -100) return { role: 'rate', because: 'named like a rate' }
  if (named('price') && !words.some((word) => /^(total|sum|summe|gesamt|totale)$/.test(word)))
    return { role: 'price', because: 'named like a price' }
  if (named('level')) return { role: 'level', because: 'named like a level' }
  if (named('quantity') && !facts.currency) return { role: 'quantity', because: 'named like a quantity' }
  if (named('amount')) return { role: 'amount', because: 'named like an amount' }
  if (facts.currency !== undefined) return { role: 'amount', because: `in ${facts.currency}` }
  if (whole && low >= 0 && high <= 10 && distinct <= 11 && rows >= 50)
    return { role: 'level', because: 'a scale of a few values' }
  if (distinct === 1 && missing === 0 && rows > 1) return { role: 'constant', because: 'the same in every row' }
  return whole ? { role: 'quantity', because: 'whole numbers' } : { role: 'amount', because: 'numbers with decimals' }
}

/** A plan is one only beside what was reached; else it is an amount of its own. */
function withTargets(roles: readonly RoleOf[]): RoleOf[] {
  const actual = roles.some(({ role }) => role === 'amount' || role === 'quantity')
  return roles.map((of) => {
    if ((of.role !== 'target' && of.role !== 'previous') || actual) return of
    return { ...of, role: 'amount', because: 'named like a plan, with nothing beside it' }
  })
}

/**
 * The date that moves with the rows: of an order, not of a birthday. A table with one row for each
 * name and dates of its own (a team, its shops) has no time.
 */
function withTime(roles: readonly RoleOf[]): RoleOf[] {
  const dates = roles.filter(({ role, facts }) => role === 'date' && facts.distinct > 1)
  const isEntity = roles.some(({ role, facts }) => role === 'name' && facts.distinct === facts.rows)
  const rank = ({ facts: { name } }: RoleOf): number => {
    if (means(name, 'attributeDate')) return 3
    if (means(name, 'laterDate')) return 2
    return means(name, 'eventDate') ? 0 : 1
  }
  const [best] = dates
    .filter((date) => rank(date) < 3 && !(isEntity && rank(date) > 0))
    .sort((a, b) => rank(a) - rank(b) || a.facts.missing - b.facts.missing)
  return roles.map((of) => {
    if (of.role !== 'date') return of
    if (of === best)
      return {
        ...of,
        role: 'time',
        because: dates.length === 1 ? 'the date of the rows' : 'of the dates, the one that rows happen on',
      }
    return {
      ...of,
      because: means(of.facts.name, 'attributeDate') ? 'a date that stays with its name' : 'another date',
    }
  })
}
