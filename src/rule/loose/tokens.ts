/** A token of a text that somebody typed. */
export interface LooseToken {
  kind: 'word' | 'number' | 'percent' | 'ordinal' | 'text' | 'quoted' | 'color' | 'sign'
  /** A word in small letters; a sign in one form. */
  text: string
  /** As it was typed. */
  raw: string
  value: number
  /** Whether `or more` stands behind it as a plus: `9k+`. */
  orMore?: true
  from: number
  to: number
}

const SPACE = /\s+/y
const TEXT = /'((?:[^']|'')*)'(?![\p{L}\p{N}])/uy
const QUOTED = /["“]([^"”]*)["”]/y
const COLOR = /#[0-9a-f]{3,8}(?![\p{L}\p{N}_])/iuy
const NUMBER =
  /[€£$]?(\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d+(?:\.\d+)?)(k(?![\p{L}\p{N}]))?(?:(st|nd|rd|th)(?![\p{L}\p{N}])|\s?(%)|\s(percent|per cent)(?!\p{L}))?(\+(?!\/))?(?![\p{L}\p{N}_])/iuy
const SIGN = /=>|->|>=|<=|==|\+\/-|[→≥≤±><=:;,()+\-/*&]/y
const WORD = /[\p{L}_][\p{L}\p{N}_]*/uy

const SIGNS: Readonly<Record<string, string>> = { '->': '→', '=>': '→', '≥': '>=', '≤': '<=', '==': '=', '+/-': '±' }

/**
 * The tokens of a text; undefined where a character is none of a sentence, unless those are to be
 * left out.
 */
export function looseTokens(text: string, isLenient = false): LooseToken[] | undefined {
  const tokens: LooseToken[] = []
  let at = 0
  const match = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at
    return pattern.exec(text)
  }
  const push = (kind: LooseToken['kind'], found: RegExpExecArray, content: string, value = Number.NaN): void => {
    tokens.push({ kind, text: content, raw: found[0], value, from: at, to: at + found[0].length })
    at += found[0].length
  }
  while (at < text.length) {
    const space = match(SPACE)
    if (space !== null) {
      at += space[0].length
      continue
    }
    const literal = match(TEXT)
    const quoted = literal === null ? match(QUOTED) : null
    const color = literal === null && quoted === null ? match(COLOR) : null
    if (literal !== null) push('text', literal, literal[1].replaceAll("''", "'"))
    else if (quoted !== null) push('quoted', quoted, quoted[1])
    else if (color !== null) push('color', color, color[0])
    else if (!pushNumber(match(NUMBER), tokens, push)) {
      const word = match(WORD)
      const sign = word === null ? match(SIGN) : null
      if (word !== null) push('word', word, word[0].toLowerCase())
      else if (sign !== null) push('sign', sign, SIGNS[sign[0]] ?? sign[0])
      else if (isLenient || /[.!?]/.test(text[at])) at++
      else return undefined
    }
  }
  return tokens
}

function pushNumber(
  found: RegExpExecArray | null,
  tokens: LooseToken[],
  push: (kind: LooseToken['kind'], found: RegExpExecArray, content: string, value: number) => void,
): boolean {
  if (found === null) return false
  const [, digits, thousand, ordinal, sign, word, plus] = found
  // Three digits behind a point may be thousands.
  if (/^\d{1,3}\.\d{3}$/.test(digits)) return false
  const value = Number(digits.replaceAll(',', '')) * (thousand === undefined ? 1 : 1000)
  const kind = ordinal !== undefined ? 'ordinal' : (sign ?? word) !== undefined ? 'percent' : 'number'
  push(kind, found, String(value), value)
  if (plus !== undefined) tokens[tokens.length - 1].orMore = true
  return true
}
