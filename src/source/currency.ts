const SIGNS: Readonly<Record<string, string>> = { '€': 'EUR', '£': 'GBP', $: 'USD', '₹': 'INR', '¥': 'JPY' }

const CODES =
  /(?<![A-Z])(EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|HUF|RON|BGN|TRY|CAD|AUD|NZD|JPY|CNY|INR|BRL|MXN|ZAR|SGD|HKD|KRW)(?![A-Z])/

/** Of so many values the currency is read. */
const MAX_SAMPLE = 200

/** The ISO 4217 code of the currency that a text names: `amount (EUR)`, `€ 12.50`. */
export function currencyOf(text: string): string | undefined {
  for (const sign of text) if (Object.hasOwn(SIGNS, sign)) return SIGNS[sign]
  return CODES.exec(text)?.[1]
}

/** The currency that all values are written with. */
export function currencyOfAll(words: readonly string[]): string | undefined {
  const first = words.length === 0 ? undefined : currencyOf(words[0])
  if (first === undefined) return undefined
  return words.slice(0, MAX_SAMPLE).every((word) => currencyOf(word) === first) ? first : undefined
}

let codes: ReadonlySet<string> | undefined

/** Whether a word has three capital letters beside its digits that are no currency of ISO 4217. */
export function hasUnknownCode(word: string): boolean {
  const match = /[A-Z]{3}/.exec(word)
  if (match === null) return false
  codes ??= new Set(Intl.supportedValuesOf('currency'))
  return !codes.has(match[0])
}
