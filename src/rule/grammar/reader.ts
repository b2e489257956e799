import type { Token } from '../../expression/token.js'
import { span } from '../../expression/token.js'
import { nearest } from '../../problem/nearest.js'
import type { Path, Problem } from '../../problem/problem.js'
import { problem } from '../../problem/problem.js'
import { longLabels, meantBy, type NameKind, type SentenceNames, statusesOf } from './names.js'

/** The part of a sentence from which a key of the rule was read. */
export interface Span {
  path: Path
  from: number
  to: number
}

/** The words of a form; forms are few. */
const SPLIT = new Map<string, readonly string[]>()

/**
 * The place in a sentence: productions read from it and move it on. Where something else stands
 * than a production needs, it remembers what was expected; the farthest place is the one to report.
 */
export class SentenceReader {
  at = 0
  readonly spans: Span[] = []
  /** Where the parts that are being read stand in the rule. */
  path: Path = []
  #farthest = -1
  /** What could stand at the farthest place, and whether it is a word. */
  #expected: { what: string; isWord: boolean }[] = []
  #problem: Problem | undefined

  constructor(
    readonly text: string,
    readonly tokens: readonly Token[],
    readonly names: SentenceNames,
    /** Whether what could have stood at a place is remembered: a good sentence does not need it. */
    readonly tracks = true,
  ) {}

  peek(ahead = 0): Token {
    return this.tokens[Math.min(this.at + ahead, this.tokens.length - 1)]
  }

  /** Takes words of the grammar, or none of them. */
  words(text: string): boolean {
    if (!this.sees(text)) return false
    this.at += SPLIT.get(text)?.length ?? 0
    return true
  }

  /** Whether words of the grammar stand here; if not, they could have. */
  sees(text: string): boolean {
    let words = SPLIT.get(text)
    if (words === undefined) {
      words = text.split(' ')
      SPLIT.set(text, words)
    }
    for (let i = 0; i < words.length; i++) {
      const { kind, text: found } = this.peek(i)
      if (kind !== 'name' || (found !== words[i] && found.toLowerCase() !== words[i])) return this.miss(text, true)
    }
    return true
  }

  sign(sign: string): boolean {
    const { kind, text } = this.peek()
    if ((kind !== 'sign' && kind !== 'mark') || text !== sign) return this.miss(sign, true)
    this.at++
    return true
  }

  /** Takes a token of a kind. */
  take(kind: Token['kind'], what: string): Token | undefined {
    const token = this.peek()
    if (token.kind !== kind) {
      this.miss(what)
      return undefined
    }
    this.at++
    return token
  }

  /**
   * Takes a name: in quotes, a word, two words with a dot, or the words of a label. Where two
   * things are called so, it is a problem.
   */
  name(kind: NameKind, what: string): string | undefined {
    const first = this.peek()
    const label = this.#labelAt(kind)
    if (label !== undefined) return label
    if (first.kind !== 'name' && first.kind !== 'quoted') {
      this.miss(what)
      return undefined
    }
    this.at++
    let written = first.text
    if (first.kind === 'name' && this.peek().text === '.' && this.peek(1).kind === 'name') {
      written += `.${this.peek(1).text}`
      this.at += 2
    }
    return this.resolved(kind, written, first)
  }

  /** The id of a written name; as written if nothing is called so. */
  resolved(kind: NameKind, written: string, token: Token): string | undefined {
    const found = meantBy(this.names[kind], written)
    // A verdict is the status that has it.
    const ids = kind === 'statuses' && found.length === 0 ? statusesOf(this.names.statuses, written) : found
    if (ids.length < 2) return ids[0] ?? written
    this.fail(problem('sentence-two-names', { name: written, ids }, this.place(token)))
    return undefined
  }

  #labelAt(kind: NameKind): string | undefined {
    if (this.peek().kind !== 'name' || this.peek(1).kind !== 'name') return undefined
    const found = longLabels(this.names[kind], this.peek().text).find(({ words }) =>
      words.every((word, i) => this.peek(i).kind === 'name' && this.peek(i).text.toLowerCase() === word),
    )
    if (found !== undefined) this.at += found.words.length
    return found?.id
  }

  /** Reads a part of the rule under a key, and remembers from where. */
  under<T>(keys: Path, read: () => T | undefined): T | undefined {
    const { path } = this
    const first = this.peek()
    this.path = [...path, ...keys]
    const value = read()
    if (value !== undefined)
      this.spans.push({ path: this.path, from: first.from, to: this.tokens[Math.max(0, this.at - 1)].to })
    this.path = path
    return value
  }

  /** Tries a production; where it does not stand here, the place is as before. */
  attempt<T>(read: () => T | undefined): T | undefined {
    const [at, spans] = [this.at, this.spans.length]
    const value = read()
    if (value === undefined) {
      this.at = at
      this.spans.length = spans
    }
    return value
  }

  /**
   * Remembers what could have stood here.
   *
   * @param isWord whether it is to be written as it is, not the name of something.
   */
  miss(what: string, isWord = false): false {
    if (!this.tracks) return false
    const { from } = this.peek()
    if (from < this.#farthest) return false
    if (from > this.#farthest) {
      this.#farthest = from
      this.#expected = []
      this.#problem = undefined
    }
    this.#expected.push({ what, isWord })
    return false
  }

  /** Remembers words of which one could have stood here. */
  missWords(words: readonly string[]): void {
    if (!this.tracks) return
    const { from } = this.peek()
    if (from < this.#farthest) return
    for (const word of words) this.miss(word, true)
  }

  /** Remembers a problem; of several at the farthest place the first is reported. */
  fail(problem: Problem): undefined {
    const from = Math.max(problem.place.from ?? 0, this.peek().from)
    if (from > this.#farthest) {
      this.#farthest = from
      this.#expected = []
      this.#problem = undefined
    }
    if (from === this.#farthest) this.#problem ??= problem
    return undefined
  }

  /** Remembers the problem that explains the whole sentence, wherever others are. */
  decide(problem: Problem): undefined {
    this.#farthest = Number.POSITIVE_INFINITY
    this.#problem = problem
    return undefined
  }

  /** The problem of the farthest place. */
  problem(): Problem {
    if (this.#problem !== undefined) return this.#problem
    const token = this.tokens.find(({ from }) => from === this.#farthest) ?? this.peek()
    const expected = this.expected
    if (token.kind === 'end') return problem('sentence-end', { expected }, this.place(token))
    const found = this.raw(token)
    return problem('sentence-expected', { found, expected, nearest: this.#nearest(token) }, this.place(token))
  }

  /** The words that were most likely meant, of as many words as they have. */
  #nearest(token: Token): string | undefined {
    const from = this.tokens.indexOf(token)
    for (const { what: words, isWord } of this.#expected) {
      if (!isWord || !/^[a-z ]+$/.test(words)) continue
      const tokens = this.tokens.slice(from, from + words.split(' ').length)
      const text = tokens.map((one) => this.raw(one).toLowerCase()).join(' ')
      if (nearest(text, [words]) !== undefined) return words
    }
    return undefined
  }

  /** What could stand at the farthest place. */
  get expected(): readonly string[] {
    return [...new Set(this.#expected.map(({ what, isWord }) => (isWord ? `'${what}'` : what)))]
  }

  /** A token as it is written. */
  raw(token: Token): string {
    return this.text.slice(token.from, token.to)
  }

  place(token: Token): { text: string; from: number; to: number } {
    return span(this.text, token.from, Math.max(token.to, token.from + 1))
  }
}
