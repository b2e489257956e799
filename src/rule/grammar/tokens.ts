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

function matchAt(pattern: RegExp, text: string, at: number): RegExpExecArray | null {
  pattern.lastIndex = at
  return pattern.exec(text)
}

function tokenOf(kind: Token['kind'], found: RegExpExecArray, content = found[0]): Token {
  return { kind, text: content, from: found.index, to: found.index + found[0].length }
}

function sentenceToken(text: string, at: number): Token | undefined {
  const c = text[at]
  if (c === '"' || c === '“') {
    const quoted = matchAt(QUOTED, text, at)
    return quoted === null ? undefined : tokenOf('quoted', quoted, quoted[1]?.replaceAll('""', '"') ?? quoted[2])
  }
  const mark = MARKS.has(c) ? (matchAt(ARROW, text, at) ?? matchAt(MARK, text, at)) : null
  if (mark !== null) return tokenOf('mark', mark, mark[0] === ':' || mark[0] === ';' ? mark[0] : '→')
  if (c === '#') {
    const color = matchAt(COLOR, text, at)
    return color === null ? undefined : tokenOf('color', color)
  }
  if (c >= '0' && c <= '9') return numberToken(text, at)
  const step = text.indexOf('-of-', at) < 0 ? null : matchAt(STEP, text, at)
  return step === null ? undefined : tokenOf('step', step)
}

function numberToken(text: string, at: number): Token | undefined {
  const ordinal = matchAt(ORDINAL, text, at)
  if (ordinal !== null) return tokenOf('ordinal', ordinal, ordinal[1])
  const percent = matchAt(PERCENT, text, at)
  if (percent !== null) return tokenOf('percent', percent, percent[1])
  const thousands = matchAt(THOUSANDS, text, at)
  if (thousands === null) return undefined
  const digits = thousands[0].replaceAll(',', '').replace('%', '')
  return tokenOf(thousands[1] === '%' ? 'percent' : 'number', thousands, digits)
}
