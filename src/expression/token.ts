import { type Problem, problem } from '../problem/problem.js'
import { parsePeriod } from '../time/period.js'

export interface Token {
  /** The last five stand in sentences of rules alone. */
  kind:
    | 'number'
    | 'percent'
    | 'period'
    | 'text'
    | 'name'
    | 'sign'
    | 'end'
    | 'quoted'
    | 'ordinal'
    | 'color'
    | 'step'
    | 'mark'
  /** As written; for a text its content. */
  text: string
  from: number
  to: number
}

/** Operators of other languages, with their form in this grammar. */
const FOREIGN: Readonly<Record<string, string>> = {
  '==': 'write = to compare',
  '<>': 'write != for unlike',
  '&&': 'write and',
  '||': 'write or',
  '!': 'write not',
  '&': 'write and',
  '|': 'write or',
  '"': "text goes between single quotes: 'Trade'",
  '“': "text goes between single quotes: 'Trade'",
  '”': "text goes between single quotes: 'Trade'",
  '’': "text goes between straight quotes: 'Trade'",
  '‘': "text goes between straight quotes: 'Trade'",
  '≥': 'write >=',
  '≤': 'write <=',
  '≠': 'write !=',
  '×': 'write *',
  '÷': 'write /',
  '−': 'write the minus of the keyboard: -',
  '%': 'a percent sign stands right behind a number: 80%',
}

const SPACE = /\s+/y
const TEXT = /'((?:[^']|'')*)'/y
// Digits, letters and inner minuses that begin like a year: read as a period, or refused.
const DATED = /\d+(?:-[\dQW]\d*)+/y
// A fiscal year as it is printed, 2025/26: without spaces, and the second year follows the first.
const FISCAL = /(\d{4})\/(\d{2})(?:-Q[1-4])?(?![\d.])/y
const NUMBER = /(?:\d+(?:\.\d+)?|\.\d+)(?:[eE][+-]?\d+)?/y
const NAME = /[\p{L}_][\p{L}\p{N}_]*/uy
const SIGN = /!=|<=|>=|==|<>|&&|\|\||[-+*/=<>(),.]/y

/**
 * The tokens of an expression with a final `end`, or the problem that stopped the reading.
 *
 * @param other finds a token of a language around expressions, which comes first.
 */
export function tokenize(
  text: string,
  other?: (text: string, at: number) => Token | Problem | undefined,
): Token[] | Problem {
  const tokens: Token[] = []
  let at = 0
  const match = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at
    return pattern.exec(text)
  }
  const push = (kind: Token['kind'], length: number, content?: string): void => {
    tokens.push({ kind, text: content ?? text.slice(at, at + length), from: at, to: at + length })
    at += length
  }
  while (at < text.length) {
    const c = text[at]
    const space = c.trim() === '' ? match(SPACE) : null
    if (space !== null) {
      at += space[0].length
      continue
    }
    const found = other?.(text, at)
    if (found !== undefined) {
      if ('code' in found) return found
      tokens.push(found)
      at = found.to
      continue
    }
    if (c === "'") {
      const literal = match(TEXT)
      if (literal === null) return problem('expression-unclosed-text', {}, span(text, at, text.length))
      push('text', literal[0].length, literal[1].replaceAll("''", "'"))
      continue
    }
    // The first character decides; most tokens are names and operators.
    if ((c >= '0' && c <= '9') || c === '.') {
      const fiscal = match(FISCAL)
      if (fiscal !== null && (Number(fiscal[1]) + 1) % 100 === Number(fiscal[2])) {
        push('period', fiscal[0].length)
        continue
      }
      const dated = match(DATED)
      if (dated !== null) {
        if (parsePeriod(dated[0]) === undefined)
          return problem('minus-between-digits', { found: dated[0] }, span(text, at, at + dated[0].length))
        push('period', dated[0].length)
        continue
      }
      const number = match(NUMBER)
      if (number !== null) {
        const percent = text[at + number[0].length] === '%'
        push(percent ? 'percent' : 'number', number[0].length + (percent ? 1 : 0), number[0])
        continue
      }
    }
    const name = nameLength(text, at)
    if (name > 0) {
      push('name', name)
      continue
    }
    const sign = match(SIGN)
    const character = sign?.[0] ?? c
    const advice = FOREIGN[character]
    if (sign === null || advice !== undefined)
      return problem('expression-stray', { found: character, advice }, span(text, at, at + character.length))
    push('sign', character.length)
  }
  tokens.push({ kind: 'end', text: '', from: text.length, to: text.length })
  return tokens
}

/** The length of the name that begins at a place; most names are of plain letters. */
function nameLength(text: string, from: number): number {
  let at = from
  while (at < text.length && isPlain(text.charCodeAt(at), at > from)) at++
  // Letters of other scripts, and combined ones, are left to the pattern.
  if (at < text.length && text.charCodeAt(at) > 127) {
    NAME.lastIndex = from
    return NAME.exec(text)?.[0].length ?? 0
  }
  return at - from
}

/** A letter from A to Z, an underscore, or inside a name a digit. */
function isPlain(code: number, isInside: boolean): boolean {
  const isLetter = (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || code === 95
  return isLetter || (isInside && code >= 48 && code <= 57)
}

export function span(text: string, from: number, to: number): { text: string; from: number; to: number } {
  return { text, from, to }
}
