import { STATISTICS } from '../../column/statistic.js'
import type { Unit } from '../../expression/unit.js'
import type { Shape } from '../../shape/shape.js'
import { PERIOD_UNITS, type PeriodUnit } from '../../time/period.js'

/**
 * A question to an engine and its answer as data. Expressions travel as text: the server parses and
 * binds them again, and knows no other columns than its own. A request is JSON; an answer has typed
 * arrays and is written by devalue.
 */
export interface EngineRequest {
  call: 'columns' | 'stats' | 'ask' | 'askWhole' | 'records'
  /** The column with the date. */
  date?: string
  /** The month in which years begin. */
  yearStarts?: number
  /** Fields of the source, each after those that it reads. */
  fields?: readonly { name: string; text: string }[]
  derived?: readonly WireDerived[]
  question?: WireQuestion
}

export interface WireQuestion {
  keys: readonly string[]
  parts: readonly WirePart[]
  fields: readonly string[]
  where: readonly string[]
  /** First and last day since 1970-01-01; null for all days up to the last. */
  span?: readonly [number | null, number]
}

export interface WirePart {
  statistic: string
  share: number
  of?: string
  where?: string
}

/** The kind of a column, as it is written to the other side. */
export interface WireType {
  kind: 'number' | 'text' | 'date' | 'condition'
  unit?: Unit
  /** The period of a date that is longer than a day. */
  period?: PeriodUnit
}

/** A column that the source looks up, or a second name of another. */
export interface WireDerived extends Partial<WireType> {
  name: string
  same?: string
  by?: readonly string[]
  words?: readonly (readonly (string | null)[])[]
  /** First and last days of the rows. */
  days?: readonly (readonly [number, number])[]
  /** A value for each row of the lookup table; null is missing. */
  values?: readonly (string | number | boolean | null)[]
  decimals?: number | null
}

/** What a source has. */
export interface WireColumns {
  columns: readonly (WireType & { name: string; label: string; format?: string; better?: string })[]
  /** Date columns whose texts are months or years. */
  grains: readonly (readonly [string, PeriodUnit])[]
  currencies: readonly (readonly [string, string])[]
  /** Whether rows themselves are answered. */
  records: boolean
}

const UNIT: Shape = {
  keys: { is: { oneOf: ['none', 'percent', 'count', 'money'] }, 'like?': 'truth', 'currency?': 'text' },
}
const KIND: Shape = { oneOf: ['number', 'text', 'date', 'condition'] }
const PERIOD: Shape = { oneOf: PERIOD_UNITS }
const TEXTS: Shape = { list: 'text' }
const END: Shape = { any: [{ is: 'whole' }, 'nothing'] }

const QUESTION: Shape = {
  keys: {
    keys: TEXTS,
    parts: {
      list: {
        keys: {
          statistic: { oneOf: STATISTICS },
          share: { is: 'number', min: 0, max: 1 },
          'of?': 'text',
          'where?': 'text',
        },
      },
    },
    fields: TEXTS,
    where: TEXTS,
    'span?': { list: END, min: 2 },
  },
}

const DERIVED: Shape = {
  keys: {
    name: 'text',
    'same?': 'text',
    'kind?': KIND,
    'unit?': UNIT,
    'period?': PERIOD,
    'by?': TEXTS,
    'words?': { list: { list: { any: ['text', 'nothing'] } } },
    'days?': { list: { list: { is: 'number' }, min: 2 } },
    'values?': { list: { any: ['text', 'number', 'truth', 'nothing'] } },
    'decimals?': { any: [{ is: 'whole', min: 0, max: 15 }, 'nothing'] },
  },
}

/** The shape of a request; what is in it is bounded and bound afterwards. */
export const REQUEST: Shape = {
  keys: {
    call: { oneOf: ['columns', 'stats', 'ask', 'askWhole', 'records'] },
    'date?': 'text',
    'yearStarts?': { is: 'whole', min: 1, max: 12 },
    'fields?': { list: { keys: { name: 'text', text: 'text' } } },
    'derived?': { list: DERIVED },
    'question?': QUESTION,
  },
}

/** The shape of what a server says of its columns. */
export const COLUMNS: Shape = {
  keys: {
    columns: {
      list: {
        keys: {
          name: 'text',
          label: 'text',
          kind: KIND,
          'unit?': UNIT,
          'period?': PERIOD,
          'format?': 'text',
          'better?': { oneOf: ['higher', 'lower', 'neither'] },
        },
      },
    },
    grains: { list: { list: 'text', min: 2 } },
    currencies: { list: { list: 'text', min: 2 } },
    records: 'truth',
  },
}
