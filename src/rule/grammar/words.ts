import { colorText } from '../../color/color.js'
import { parseColor } from '../../color/parse.js'
import { HOUSE_PIGMENTS } from '../../color/pigments.js'
import { quoteText } from '../../expression/print.js'
import { RESERVED } from '../../expression/reserved.js'
import { parsePeriod } from '../../time/period.js'

/** Words of the grammar of sentences; a name that equals one is quoted. */
export const WORDS: ReadonlySet<string> = new Set(
  `of each in judged by within all among unfiltered unfinished where and or not at least most above below is contains
  when missing otherwise top bottom best worst split making next shade icons bar fading with for negatives
  from to through around steps as status fill text icon picture column flag no number hide the totals
  subtotals grand total too only on one scale final paused rows every measure bold lowest highest
  average median percentile range ${[...RESERVED].join(' ')}`.split(/\s+/),
)

/** Colours without a pigment of the house: the ground and the ink of a page. */
const GROUNDS = ['paper', 'soot']

/** A name in a sentence: in double quotes if it is ambiguous. */
export function nameInSentence(name: string): string {
  const parts = name.split('.')
  const plain = parts.length <= 2 && parts.every((part) => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(part) && !isWord(part))
  return plain ? name : `"${name.replaceAll('"', '""')}"`
}

function isWord(name: string): boolean {
  return WORDS.has(name.toLowerCase()) || isColor(name)
}

/** Letters that are also the digits of a colour, such as bad, are words. */
function isDigits(text: string): boolean {
  return /^[0-9a-f]+$/i.test(text)
}

/** Words that were looked at; sentences have few. */
const COLORS = new Map<string, boolean>()
const MAX_WORDS = 5000

/** Whether a word is a colour: a pigment of the house, paper, soot, or a CSS colour. */
export function isColor(text: string): boolean {
  let found = COLORS.get(text)
  if (found === undefined) {
    found = GROUNDS.includes(text) || isHousePigment(text) || (!isDigits(text) && parseColor(text) !== undefined)
    if (COLORS.size < MAX_WORDS) COLORS.set(text, found)
  }
  return found
}

export function isHousePigment(text: string): boolean {
  return Object.hasOwn(HOUSE_PIGMENTS, text)
}

/** `a`, `a and b`, `a, b and c`, each as a name. */
export function namesInSentence(names: readonly string[]): string {
  const parts = names.map(nameInSentence)
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`
}

/** A colour: a word as written, else `#rrggbb`. */
export function colorInSentence(text: string): string {
  if (/^\p{L}+$/u.test(text) && !isDigits(text)) return text
  const color = parseColor(text)
  return color === undefined ? nameInSentence(text) : colorText(color)
}

/** An icon: a word, or a step of a family such as `petals-2-of-5`. */
export function iconInSentence(name: string): string {
  return /^\p{L}+-\d+-of-\d+$/u.test(name) ? name : nameInSentence(name)
}

/** A plain value: a word without quotes unless it is ambiguous. */
export function literalInSentence(value: string | number | boolean): string {
  if (typeof value !== 'string') return String(value).replace('e+', 'e')
  // Digits alone would be read as a number.
  if (/^\d{4}-[\dQW-]+$/.test(value) && parsePeriod(value) !== undefined) return value
  return nameInSentence(value) === value && !value.includes('.') ? value : quoteText(value)
}
