import type { RuleSpec } from '../../spec/rules.js'
import type { SentenceNames } from '../grammar/names.js'
import { readSentence, writeSentence } from '../sentence/parse.js'
import { ruleOf } from './assemble.js'
import { Chunker } from './chunks.js'
import { looseTokens } from './tokens.js'

/** A text in other words than those of the grammar, and the sentence that it is read as. */
export interface LooseReading {
  sentence: string
  spec: RuleSpec
}

/**
 * Reads a text that says a rule in other words: `Revenue >= Target: good, rest bad`. Nothing is
 * left out and nothing guessed: every word is a part of the rule, or one that says nothing.
 *
 * @returns undefined where it is not understood, or may mean two things.
 */
export function readLoosely(text: string, names: SentenceNames): LooseReading | undefined {
  const tokens = looseTokens(text)
  if (tokens === undefined || tokens.length > 200) return undefined
  const chunks = new Chunker(tokens, names).chunks()
  const rule = chunks === undefined ? undefined : ruleOf(chunks, names)
  if (rule === undefined) return undefined
  const sentence = writeSentence(rule)
  // What was made is a sentence of the grammar: it is read once more.
  const read = readSentence(sentence, names)
  return 'code' in read ? undefined : { sentence, spec: read.spec }
}
