import type { NumberFormat } from '../../format/format.js'
import { escapeText } from '../markup.js'

/**
 * Formats of numbers and dates as data styles of the standard (ISO/IEC 26300, part 3, 16.29). Each
 * is made once, with a name.
 */
export class NumberStyles {
  readonly #locale: Intl.Locale
  readonly #names = new Map<string, string>()
  readonly #xml: string[] = []

  constructor(locale: string) {
    this.#locale = new Intl.Locale(locale)
  }

  /** The data style of a format; `hidden` shows nothing, and keeps the number. */
  number(format: NumberFormat & { digits: number }, hidden: boolean): string {
    return this.#named(JSON.stringify([format, hidden]), (name) =>
      hidden
        ? `<number:number-style style:name="${name}"><number:text/></number:number-style>`
        : this.#numberXml(name, format),
    )
  }

  /** A day, in the order of the locale. */
  date(): string {
    return this.#named('date', (name) => {
      const parts = new Intl.DateTimeFormat(this.#locale.toString(), { dateStyle: 'medium', timeZone: 'UTC' })
        .formatToParts(new Date(0))
        .map(({ type, value }) => {
          if (type === 'day') return '<number:day/>'
          if (type === 'year') return '<number:year number:style="long"/>'
          if (type === 'month')
            return /^\d+$/.test(value) ? '<number:month number:style="long"/>' : '<number:month number:textual="true"/>'
          return textXml(value)
        })
      return `<number:date-style style:name="${name}"${this.#language()}>${parts.join('')}</number:date-style>`
    })
  }

  /** All of them, in the order in which they were asked for. */
  toString(): string {
    return this.#xml.join('')
  }

  #named(key: string, make: (name: string) => string): string {
    let name = this.#names.get(key)
    if (name === undefined) {
      name = `n${this.#names.size + 1}`
      this.#names.set(key, name)
      this.#xml.push(make(name))
    }
    return name
  }

  #language(): string {
    const { language, region } = this.#locale.maximize()
    return ` number:language="${escapeText(language)}"${region === undefined ? '' : ` number:country="${escapeText(region)}"`}`
  }

  #numberXml(name: string, format: NumberFormat & { digits: number }): string {
    // Conditional styles come first: the last one names them.
    const maps: string[] = []
    const sub = (suffix: string, condition: string, sign: string, step?: CompactStep): void => {
      maps.push(`<style:map style:condition="${escapeText(condition)}" style:apply-style-name="${name}${suffix}"/>`)
      this.#xml.push(this.#element(`${name}${suffix}`, format, { sign, step, isPart: true, maps: '' }))
    }
    const positive = format.signed ? '+' : ''
    if (format.compact)
      for (const [i, step] of compactSteps(this.#locale.toString()).entries()) {
        sub(`P${2 * i}`, `value()>=${step.from}`, positive, step)
        sub(`P${2 * i + 1}`, `value()<=${-step.from}`, MINUS, step)
      }
    if (format.signed) sub('P8', 'value()>0', '+')
    // Without it the sign would stand where a program puts it: before or after a currency.
    sub('P9', 'value()<0', MINUS)
    return this.#element(name, format, { sign: '', maps: maps.join('') })
  }

  #element(
    name: string,
    format: NumberFormat & { digits: number },
    {
      sign,
      step,
      isPart = false,
      maps,
    }: { sign: string; step?: CompactStep | undefined; isPart?: boolean; maps: string },
  ): string {
    const { kind, currency, digits, unit } = format
    const factor = step === undefined ? '' : ` number:display-factor="${step.factor}"`
    const number = `<number:number number:decimal-places="${digits}" number:min-decimal-places="${digits}" number:min-integer-digits="1" number:grouping="true"${factor}/>`
    const parts = partsOf(this.#locale.toString(), format).map((part) => {
      if (part === 'number') return number + (step === undefined ? '' : textXml(step.text))
      return 'currency' in part ? this.#currency(currency ?? '', part.currency) : textXml(part.text)
    })
    const element = kind === 'money' ? 'currency' : kind === 'percent' ? 'percentage' : 'number'
    const behind = unit === undefined ? '' : textXml(`\u00a0${unit}`)
    const volatile = isPart ? ' style:volatile="true"' : ''
    return `<number:${element}-style style:name="${name}"${volatile}${this.#language()}>${textXml(sign)}${parts.join('')}${behind}${maps}</number:${element}-style>`
  }

  #currency(code: string, symbol: string): string {
    return `<number:currency-symbol${this.#language()}>${escapeText(symbol === '' ? code : symbol)}</number:currency-symbol>`
  }
}

/** As wide as a plus. */
const MINUS = '−'

function textXml(text: string): string {
  return text === '' ? '' : `<number:text>${escapeText(text)}</number:text>`
}

type Part = 'number' | { currency: string } | { text: string }

/** The parts of a number in a locale: where its currency or percent sign stands. */
function partsOf(locale: string, { kind, currency, digits }: NumberFormat & { digits: number }): Part[] {
  const intl = new Intl.NumberFormat(locale, {
    ...(kind === 'money' && { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }),
    ...(kind === 'percent' && { style: 'percent' }),
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  })
  const parts: Part[] = []
  for (const { type, value } of intl.formatToParts(1)) {
    if (type === 'currency') parts.push({ currency: value })
    else if (type === 'literal' || type === 'percentSign') parts.push({ text: value })
    else if (parts.at(-1) !== 'number') parts.push('number')
  }
  return parts
}

interface CompactStep {
  /** The lowest value that it is for. */
  from: number
  factor: number
  /** What stands behind the number: `K`. */
  text: string
}

/** How a locale shortens large numbers, the largest first. */
function compactSteps(locale: string): CompactStep[] {
  const intl = new Intl.NumberFormat(locale, { notation: 'compact' })
  const steps: CompactStep[] = []
  for (const power of [12, 9, 6, 3]) {
    const from = 10 ** power
    const parts = intl.formatToParts(from)
    const text = parts
      .filter(({ type }) => type === 'compact' || type === 'literal')
      .map(({ value }) => value)
      .join('')
    const shown = parts.find(({ type }) => type === 'integer')?.value
    if (text !== '' && shown !== undefined && Number(shown) > 0)
      steps.push({ from, factor: from / Number(shown), text })
  }
  return steps
}
