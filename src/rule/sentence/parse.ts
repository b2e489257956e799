import { type Path, type Problem, problem } from '../../problem/problem.js'
import type { RuleSpec } from '../../spec/rules.js'
import { NO_NAMES, type SentenceNames } from '../grammar/names.js'
import { SentenceReader, type Span } from '../grammar/reader.js'
import { tokenizeSentence } from '../grammar/tokens.js'
import { sentence } from './grammar.js'

/** The longest sentence, in characters. */
export const MAX_SENTENCE_LENGTH = 4000

/** A sentence as the rule that it is in keys. */
export interface ReadSentence {
  spec: RuleSpec
  /** Where the keys were read from. */
  spans: readonly Span[]
}

/**
 * Reads a sentence as a rule. Names are those of the report where it has them: ids, labels, either
 * in other letters; any other name stays as it is written.
 */
export function readSentence(text: string, names: SentenceNames = NO_NAMES): ReadSentence | Problem {
  if (text.length > MAX_SENTENCE_LENGTH) return problem('sentence-too-long', { most: MAX_SENTENCE_LENGTH })
  if (text.trim() === '') return problem('sentence-empty', {}, { text, from: 0, to: 1 })
  const tokens = tokenizeSentence(text)
  if (!Array.isArray(tokens)) return tokens
  const reader = new SentenceReader(text, tokens, names, false)
  const spec = sentence.read(reader)
  if (spec !== undefined) return { spec: spec as unknown as RuleSpec, spans: reader.spans }
  // Read once more to find what is wrong.
  const again = new SentenceReader(text, tokens, names)
  sentence.read(again)
  return again.problem()
}

/** A rule as one sentence. Names and limits are as written. */
export function writeSentence(spec: RuleSpec): string {
  return sentence.write(spec as unknown as Record<string, unknown>) ?? ''
}

/**
 * A problem of a rule in keys, at its place in the sentence: exact inside an expression that stands
 * there as it is, else the whole part that the key was read from.
 *
 * @param own the path of the problem inside the rule.
 */
export function placedInSentence(
  p: Problem,
  own: Path,
  { text, path, spans }: { text: string; path: Path; spans: readonly Span[] },
): Problem {
  let best: Span | undefined
  for (const span of spans)
    if (span.path.every((key, i) => key === own[i]) && span.path.length >= (best?.path.length ?? 0)) best = span
  const { from, to } = best ?? { from: 0, to: text.length }
  const { text: inner, from: begin, to: end } = p.place
  const isOwn = inner !== undefined && begin !== undefined && text.slice(from, to) === inner
  const place = isOwn ? { from: from + begin, to: from + (end ?? begin + 1) } : { from, to: Math.max(to, from + 1) }
  return { ...p, place: { ...p.place, path, text, ...place } }
}
