import { type Token, tokenize } from '../../expression/token.js'
import type { Problem } from '../../problem/problem.js'

/** Forms of the arrow between a test and its result. */
const ARROW = /→|->|=>/y
const MARK = /[:;]/y
/** What arrows and marks begin with. */
const MARKS: ReadonlySet<string> = new Set('→-=:;')
const COLOR = /#[0-9a-fA-F]+(?![\p{L}\p{N}_])/uy
const ORDINAL = /(\d+)(?:st|nd|rd|th)(?![\p{L}\p{N}_])/uy
/** A step of a family of icons: `petals-2-of-5`. */
const STEP = /\p{L}+-\d+-of-\d+(?![\p{L}\p{N}_-])/uy
const QUOTED = /"((?:[^"]|"")*)"|“([^”]*)”/y
const PERCENT = /(\d+(?:\.\d+)?)[ \t]%/y
/** Thousands: `60,000`. In a list a space stands behind its commas. */
const THOUSANDS = /\d{1,3}(?:,\d{3})+(?:\.\d+)?(?![\d,])(%?)/y

/**
 * The tokens of a sentence: those of expressions, and names in double quotes, arrows, colons and
 * semicolons, colours, ordinals and steps of icons.
 */
export function tokenizeSentence(text: string): Token[] | Problem {
  return tokenize(text, sentenceToken)
}

function sentenceToken(text: string, at: number): Token | undefined {
  const match = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at
    return pattern.exec(text)
  }
  const token = (kind: Token['kind'], found: RegExpExecArray, content = found[0]): Token => ({
    kind,
    text: content,
    from: at,
    to: at + found[0].length,
  })
  const c = text[at]
  if (c === '"' || c === '“') {
    const quoted = match(QUOTED)
    return quoted === null ? undefined : token('quoted', quoted, quoted[1]?.replaceAll('""', '"') ?? quoted[2])
  }
  const mark = MARKS.has(c) ? (match(ARROW) ?? match(MARK)) : null
  if (mark !== null) return token('mark', mark, mark[0] === ':' || mark[0] === ';' ? mark[0] : '→')
  if (c === '#') {
    const color = match(COLOR)
    return color === null ? undefined : token('color', color)
  }
  if (c >= '0' && c <= '9') return numberToken(match, token)
  const step = text.indexOf('-of-', at) < 0 ? null : match(STEP)
  return step === null ? undefined : token('step', step)
}

function numberToken(
  match: (pattern: RegExp) => RegExpExecArray | null,
  token: (kind: Token['kind'], found: RegExpExecArray, content?: string) => Token,
): Token | undefined {
  const ordinal = match(ORDINAL)
  if (ordinal !== null) return token('ordinal', ordinal, ordinal[1])
  const percent = match(PERCENT)
  if (percent !== null) return token('percent', percent, percent[1])
  const thousands = match(THOUSANDS)
  if (thousands === null) return undefined
  const digits = thousands[0].replaceAll(',', '').replace('%', '')
  return token(thousands[1] === '%' ? 'percent' : 'number', thousands, digits)
}
