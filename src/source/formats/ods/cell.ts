import type { ZoneDay } from '../../../time/zone.js'
import { isoDay } from '../../parse-values.js'
import type { Attributes } from './xml.js'

/** What a cell holds, by its own type (ISO/IEC 26300, part 3, 19.387, `office:value-type`). */
export const KIND = {
  missing: 0,
  number: 1,
  percent: 2,
  currency: 3,
  date: 4,
  /** In hours. */
  time: 5,
  condition: 6,
  text: 7,
  /** The result of a formula that failed, or a value that cannot be read. */
  error: 8,
} as const

/** A cell while it is read; one object serves for all. */
export interface CellValue {
  kind: number
  /** The number, day, hours or truth; NaN for others. */
  number: number
  /** Of a text; of an error what is shown. */
  text: string
  /** ISO 4217, of a currency that is named. */
  currency: string
}

/** The errors of formulas, as they are shown (OpenFormula, part 4, 4.6), and with their numbers. */
const ERROR = /^(?:#(?:N\/A|DIV\/0!|NAME\?|NULL!|NUM!|REF!|VALUE!)|Err:\d+)$/

const KINDS: Readonly<Record<string, number>> = {
  float: KIND.number,
  percentage: KIND.percent,
  currency: KIND.currency,
  date: KIND.date,
  time: KIND.time,
  boolean: KIND.condition,
  string: KIND.text,
  void: KIND.missing,
}

/** Reads the values of cells. Days repeat, so each is parsed once. */
export class CellReader {
  readonly #zone: ZoneDay | undefined
  readonly #days = new Map<string, number>()

  constructor(zone: ZoneDay | undefined) {
    this.#zone = zone
  }

  /** Puts what a cell holds into `cell`; `shown` is its text. */
  read(cell: CellValue, attributes: Attributes, shown: string): void {
    const type = attributes['office:value-type'] ?? attributes['calcext:value-type']
    cell.number = Number.NaN
    cell.text = ''
    const isFormula = attributes['table:formula'] !== undefined
    if (attributes['calcext:value-type'] === 'error' || (isFormula && ERROR.test(shown))) {
      cell.kind = KIND.error
      cell.text = shown
      return
    }
    cell.kind = type === undefined ? KIND.text : Object.hasOwn(KINDS, type) ? KINDS[type] : KIND.error
    if (cell.kind === KIND.text || cell.kind === KIND.error) {
      cell.text = (attributes['office:string-value'] ?? shown).trim()
      if (cell.text === '') cell.kind = KIND.missing
    } else if (cell.kind !== KIND.missing) {
      cell.number = this.#numberOf(cell.kind, attributes)
      if (cell.kind === KIND.currency) cell.currency = attributes['office:currency'] ?? ''
      if (Number.isFinite(cell.number)) return
      cell.kind = KIND.error
      cell.text = shown
    }
  }

  #numberOf(kind: number, attributes: Attributes): number {
    if (kind === KIND.date) return this.#dayOf(attributes['office:date-value'] ?? '')
    if (kind === KIND.time) return hours(attributes['office:time-value'] ?? '')
    if (kind === KIND.condition) return truth(attributes['office:boolean-value'])
    const written = attributes['office:value']
    return written === undefined || written.trim() === '' ? Number.NaN : Number(written)
  }

  #dayOf(text: string): number {
    let day = this.#days.get(text)
    if (day === undefined) {
      day = isoDay(text, this.#zone)
      if (this.#days.size < MAX_DAYS) this.#days.set(text, day)
    }
    return day
  }
}

/** More days than any table has: 270 years. */
const MAX_DAYS = 100_000

/** A duration (XML Schema, 3.2.6) in hours: `PT07H30M00S` is 7.5. */
function hours(text: string): number {
  const parts = /^(-?)P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:[.,]\d+)?)S)?)?$/.exec(text.trim())
  if (parts === null) return Number.NaN
  const [, sign, ...own] = parts
  if (own.every((part) => part === undefined)) return Number.NaN
  const [days, wholeHours, minutes, seconds] = own.map((part) => Number((part ?? '0').replace(',', '.')))
  return (sign === '-' ? -1 : 1) * (days * 24 + wholeHours + minutes / 60 + seconds / 3600)
}

function truth(text: string | undefined): number {
  return text === 'true' ? 1 : text === 'false' ? 0 : Number.NaN
}
