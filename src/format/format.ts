import { cachedFormatter } from './formatter-cache.js'

/**
 * How a number is printed: `money CUR | percent | number`, digits, then any of `signed`, `compact`,
 * and for a number `unit pots`.
 */
export interface NumberFormat {
  kind: 'money' | 'percent' | 'number'
  /** ISO 4217, with `money` alone. */
  currency?: string
  /** Digits after the point; left out: up to 2. */
  digits?: number
  signed: boolean
  compact: boolean
  /** The unit printed after each number, with `number` alone. */
  unit?: string
}

export const PLAIN_FORMAT: NumberFormat = { kind: 'number', signed: false, compact: false }

/**
 * A word, or a sign such as m², €/m² or °C. Percents have a format of their own, and digits would
 * run into the number.
 */
const UNIT = /^[^\s\d%"'<>&]{1,16}$/u

/** Parses the format grammar; undefined for other text. */
export function readFormat(text: string): NumberFormat | undefined {
  const words = text.trim().split(/\s+/)
  const kind = words.shift()
  if (kind !== 'money' && kind !== 'percent' && kind !== 'number') return undefined
  const format: NumberFormat = { kind, signed: false, compact: false }
  if (kind === 'money') {
    const currency = words.shift()
    if (currency === undefined || !/^[A-Z]{3}$/.test(currency)) return undefined
    format.currency = currency
  }
  if (words.length > 0 && /^\d$/.test(words[0])) format.digits = Number(words.shift())
  while (words.length > 0) {
    const word = words.shift()
    if (word === 'unit' && kind === 'number' && format.unit === undefined) {
      const unit = words.shift()
      if (unit === undefined || !UNIT.test(unit)) return undefined
      format.unit = unit
      continue
    }
    if (word !== 'signed' && word !== 'compact') return undefined
    if (format[word]) return undefined
    format[word] = true
  }
  return format
}

/**
 * A cached formatter: number to text, missing to an empty text. The minus is U+2212, as wide as a
 * plus.
 */
export type NumberPrinter = (value: number) => string

export function numberPrinter(format: NumberFormat, locale: string): NumberPrinter {
  const options: Intl.NumberFormatOptions = {
    ...unitOptions(format),
    ...digitOptions(format),
    ...(format.compact ? { notation: 'compact' as const } : {}),
    // exceptZero leaves 0 without a sign.
    signDisplay: format.signed ? 'exceptZero' : 'negative',
  }
  const intl = cachedFormatter('number', locale, options, () => new Intl.NumberFormat(locale, options))
  // A no-break space keeps a unit beside its number.
  const behind = format.unit === undefined ? '' : `\u00a0${format.unit}`
  return (value) => (Number.isNaN(value) ? '' : `${intl.format(value).replace('-', '−')}${behind}`)
}

function unitOptions({ kind, currency }: NumberFormat): Intl.NumberFormatOptions {
  if (kind === 'money') return { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }
  return kind === 'percent' ? { style: 'percent' } : {}
}

function digitOptions(format: NumberFormat): Intl.NumberFormatOptions {
  if (format.digits === undefined) return { minimumFractionDigits: 0, maximumFractionDigits: 2 }
  return { minimumFractionDigits: format.digits, maximumFractionDigits: format.digits }
}
