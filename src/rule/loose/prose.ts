import { nearest } from '../../problem/nearest.js'
import type { Limit, Style } from '../../spec/rules.js'
import { meantBy, type NamedThing, type SentenceNames } from '../grammar/names.js'
import { isColor } from '../grammar/words.js'
import type { Chunk } from './chunk.js'
import { Chunker, nearLimit } from './chunks.js'
import type { Guess } from './guess.js'
import type { LooseToken } from './tokens.js'
import { COMPARISONS, DROPPED, LIGHTS, NUMBER_WORDS, SHARES, SYNONYMS } from './words.js'

/** What the whole text says, wherever it says it. */
export interface Gist {
  /** The text speaks of fills, or of letters; else a bare colour may be either. */
  isFill: boolean
  isText: boolean
  /** Parts of a ranking follow each other. */
  isSplit: boolean
  /** Arrows are spoken of, so up and down are icons. */
  isIcons: boolean
  /** Some of many are picked: top, best, lowest. */
  isRanked: boolean
  /** Bold letters, so a colour beside it is that of the text. */
  isBold: boolean
  /** A limit holds in both directions. */
  isBoth: boolean
  /** Nothing is compared, so a share of an amount is what makes it up. */
  isShare: boolean
  /** A column holds looks, so the word colour may be its name. */
  isColumn: boolean
}

/**
 * Recognises parts of a text in free speech: what is no part is left out, and what may mean several
 * things is chosen. What is made of it is an offer, which the one who wrote it looks at first.
 */
export class Prose extends Chunker {
  /** `vs target`: what shares are shares of. */
  versus: string | undefined
  /** A table that is spoken of as what is painted. */
  exhibit: string | undefined
  /** A value without its key: `Trade rows`. */
  valued: { key: string; value: string } | undefined

  constructor(
    tokens: readonly LooseToken[],
    names: SentenceNames,
    readonly guess: Guess,
    readonly gist: Gist,
  ) {
    super(tokens, names)
    this.isIcons = gist.isIcons
  }

  protected override next(before: readonly Chunk[]): Chunk | 'nothing' | undefined {
    return (
      this.#words(before) ??
      this.#by(before) ??
      this.#beside(before) ??
      this.#making() ??
      super.next(before) ??
      this.#bare(before) ??
      this.#loose() ??
      this.#skip()
    )
  }

  /** `gap to plan`, `revenue vs target`: a subject, and what shares of it are of. */
  #beside(before: readonly Chunk[]): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const first = this.value()
      if (first === undefined) return undefined
      if (this.take('/')) {
        const second = this.value()
        if (second === undefined || before.some(({ is }) => is === 'judge')) return undefined
        this.inside.push({ is: 'judge', ids: [`${first} / ${second}`] })
        return { is: 'name', ids: [first] }
      }
      if (!this.take('vs', 'versus', 'to', 'against')) return undefined
      const id = this.value()
      if (id === undefined) return undefined
      this.versus = id
      return { is: 'name', ids: [first] }
    })
  }

  /** Words that the strict reader takes for something else. */
  #words(before: readonly Chunk[]): Chunk | 'nothing' | undefined {
    // A share of what is ranked: `half of the products`, `then 20%`, `50% good`.
    if (this.gist.isSplit) {
      const part = this.attempt((): Chunk | undefined => {
        this.take('then', 'and', 'the', 'first', 'next')
        this.take('the', 'next')
        const token = this.peek()
        if (token === undefined || (token.kind !== 'percent' && !Object.hasOwn(SHARES, token.text))) return undefined
        const size = this.size()
        return size === undefined ? undefined : { is: 'rank', end: 'next', size }
      })
      if (part !== undefined) return part
    }
    // `below`, `above` without a limit, `less`: beside the test before.
    const near = this.attempt(() => {
      const key = this.take('below', 'under', 'less') ? 'below' : this.take('above', 'more') ? 'above' : undefined
      if (key === undefined || this.#isLimitNext()) return undefined
      return nearLimit(key, before)
    })
    return near
  }

  /** `80% of sales` of a text that compares nothing. */
  #making(): Chunk | undefined {
    if (!this.gist.isShare || this.peek()?.kind !== 'percent') return undefined
    return this.attempt((): Chunk | undefined => {
      const size = this.size()
      const of = this.take('of') ? this.value() : undefined
      return size === undefined || of === undefined ? undefined : { is: 'rank', end: 'making', size, of }
    })
  }

  #isLimitNext(): boolean {
    const { at } = this
    const isLimit = this.limit() !== undefined || this.peek()?.text === 'than' || this.peek()?.text === 'that'
    this.at = at
    return isLimit
  }

  /** `by region`: compared inside each, or a value of each? `by amount`: what decides. */
  #by(before: readonly Chunk[]): Chunk | 'nothing' | undefined {
    return this.attempt((): Chunk | undefined => {
      if (!this.take('for each', 'for every', 'by', 'per', 'for', 'of')) return undefined
      const word = this.peek(-1)?.text
      this.take('the')
      const ids = this.keys()
      if (ids === undefined) return undefined
      const isKeys = ids.every((id) => this.names.values.some((one) => one.id === id && one.is === 'key'))
      const { isRanked } = this.gist
      if (!isKeys) {
        const isJudge = word === 'by' || ((word === 'for' || word === 'of') && isRanked)
        if (!isJudge || !before.some(({ is }) => is === 'name' || is === 'rank')) return undefined
        return { is: 'judge', ids }
      }
      if (word === 'of' || word === 'for') return undefined
      const isTested = before.some(({ is }) => is === 'test')
      if (word === 'each' || word === 'every') return { is: isRanked || !isTested ? 'within' : 'grain', ids }
      if (word === 'per' && !isTested) return undefined
      return { is: this.guess.pick('by', ['within', 'grain'] as const), ids }
    })
  }

  /** A limit without a comparison: at least, unless the other is meant; behind a flag, a word. */
  #bare(before: readonly Chunk[]): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const token = this.peek()
      if (token?.kind !== 'percent' && token?.kind !== 'number') return undefined
      // Numbers that count something else than the measure.
      const after = this.peek(1)?.text ?? ''
      if (/^(steps?|shades?|bins?|bands?|colou?rs?)$/.test(after)) return undefined
      const limit = this.limit()
      if (limit === undefined) return undefined
      const isSaid = before.at(-1)?.is === 'result' || this.gist.isBoth || this.#isResultNext()
      if (!isSaid) return undefined
      const test = { atLeast: limit }
      if (this.gist.isBoth) return { is: 'test', test: { above: limit } }
      if (before.at(-1)?.is === 'result') return { is: 'test', test }
      return { is: 'test', test: this.guess.pick('bare', [test, { ...test, atMost: limit }] as const) }
    })
  }

  #isResultNext(): boolean {
    const { at } = this
    const isNext = this.result() !== undefined
    this.at = at
    return isNext
  }

  #loose(): Chunk | 'nothing' | undefined {
    const flag = this.attempt((): Chunk | undefined => {
      const isSaid = this.take('flag', 'text', 'label', 'write')
      const token = this.peek()
      const isText = token?.kind === 'text' || token?.kind === 'quoted'
      if (!isText && !(isSaid && token?.kind === 'word' && (token.text === 'up' || token.text === 'down')))
        return undefined
      this.at++
      return { is: 'result', style: { flag: flagText(token.text) } }
    })
    if (flag !== undefined) return flag
    const exhibit = this.thing(this.names.exhibits)
    if (exhibit !== undefined) {
      this.exhibit ??= exhibit
      return 'nothing'
    }
    const token = this.peek()
    const valued = token?.kind === 'word' ? this.names.keyWith?.(token.raw) : undefined
    if (valued === undefined || this.valued !== undefined) return undefined
    this.valued = valued
    this.at++
    return 'nothing'
  }

  #skip(): 'nothing' {
    this.at++
    return 'nothing'
  }

  /** A word is a value only of a key, and no part of a verb: `is marked`. */
  protected override equals(): Chunk | undefined {
    const { at } = this
    const own = super.equals()
    const token = this.tokens[this.at - 1]
    const isWord = own !== undefined && token.kind === 'word'
    const isVerb =
      isWord &&
      (/(?:ed|ing|en)$/.test(token.text) || ['between', 'by', 'from', 'to', 'the', 'in', 'not'].includes(token.text))
    if (!isVerb && own?.is === 'test') {
      const known = isWord ? this.names.keyWith?.(token.raw)?.value : undefined
      return known === undefined ? own : { is: 'test', test: { equals: known } }
    }
    this.at = at
    return undefined
  }

  protected override comparison(before: readonly Chunk[]): Chunk | undefined {
    return (
      super.comparison(before) ??
      this.attempt((): Chunk | undefined => {
        if (this.take('at the highest')) return { is: 'test', test: { atLeast: 'highest(value)' } }
        if (!this.take('at', 'from')) return undefined
        const limit = this.limit()
        if (limit === undefined) return undefined
        return { is: 'test', test: limit === 0 ? { atLeast: 0, atMost: 0 } : { atLeast: limit } }
      })
    )
  }

  /** A share with what it is of behind other words: `15% off plan`. */
  override limit(): Limit | undefined {
    return this.attempt(() => {
      this.take('the')
      const limit = super.limit()
      if (limit !== undefined) this.take('of all', 'of them', 'ever')
      return limit
    })
  }

  /** A value, also as somebody's: `its target`. */
  override value(): string | undefined {
    return this.attempt(() => {
      this.take('its', 'their', 'our', 'my')
      return super.value()
    })
  }

  /** A name, also one that is nearly it: another word of the trade, an abbreviation, a slip. */
  override thing(things: readonly NamedThing[]): string | undefined {
    const { text = '', kind } = this.peek() ?? {}
    if (!this.gist.isColumn && /^colou?r/.test(text)) return undefined
    const own = super.thing(things)
    if (own !== undefined || kind !== 'word') return own
    // What is a name of something else as it stands is no slip.
    const { exhibits, values, statuses } = this.names
    if ([exhibits, values, statuses].some((other) => other !== things && meantBy(other, text).length > 0))
      return undefined
    return this.attempt(() => this.#nearly(things))
  }

  #nearly(things: readonly NamedThing[]): string | undefined {
    const token = this.peek()
    if (token?.kind !== 'word' || isTaken(token.text)) return undefined
    for (let count = 3; count > 0; count--) {
      const words = this.tokens.slice(this.at, this.at + count)
      if (words.length < count || words.some(({ kind }) => kind !== 'word')) continue
      const text = words.map((word) => word.text).join('')
      const found = sameTrade(things, text) ?? (count === 1 ? nearThing(things, text) : undefined)
      if (found === undefined) continue
      this.at += count
      return found
    }
    return undefined
  }

  /** A bare colour: a status of the traffic lights, a fill, or a text. */
  protected override colored(): Chunk | undefined {
    const own = this.attempt(() => super.colored())
    if (own !== undefined) return own
    return this.attempt((): Chunk | undefined => {
      const isIn = this.peek(-1)?.text === 'in'
      const light = LIGHTS[this.peek()?.text ?? '']
      const name = this.color() ?? (light === undefined ? undefined : this.#word())
      if (name === undefined) return undefined
      const { isFill, isText, isBold } = this.gist
      const statuses = this.names.statuses.filter(({ verdict }) => verdict !== undefined && verdict === light)
      const color = isColor(name) ? name : 'gold'
      const plain: Style[] =
        isText || (!isFill && (isIn || isBold)) ? [{ ink: color }, { fill: color }] : [{ fill: color }, { ink: color }]
      const styles = isFill || isText ? plain.slice(0, 1) : plain
      const isLadder = statuses.length === 1 && this.#lights() > 1
      const ways = isLadder
        ? [{ status: statuses[0].id }, ...styles.map((style) => ({ style }))]
        : styles.map((style) => ({ style }))
      const pick = this.guess.pick('color', ways)
      return { is: 'result', ...pick }
    })
  }

  protected override oneStatus(ids: readonly string[]): string | undefined {
    return ids.length === 0 ? undefined : this.guess.pick('status', ids)
  }

  #word(): string {
    this.at++
    return this.tokens[this.at - 1].text
  }

  /** How many of the traffic lights the text speaks of. */
  #lights(): number {
    return new Set(this.tokens.flatMap(({ text }) => LIGHTS[text] ?? [])).size
  }
}

function flagText(text: string): string {
  return text.replaceAll(/\{(?!value)[^}]*\}|\(value\)/g, '{value}').replace(': {', ' {')
}

/** Words that mean something by themselves are no slips of a name. */
function isTaken(text: string): boolean {
  return (
    DROPPED.has(text) ||
    isColor(text) ||
    Object.hasOwn(LIGHTS, text) ||
    Object.hasOwn(SHARES, text) ||
    NUMBER_WORDS.includes(text) ||
    COMPARISONS.some(([words]) => words.split(' ').includes(text)) ||
    text.length < 2
  )
}

/** Ids by flat names: small letters without spaces. */
const FLAT = new WeakMap<readonly NamedThing[], ReadonlyMap<string, string>>()

function flatNames(things: readonly NamedThing[]): ReadonlyMap<string, string> {
  let flat = FLAT.get(things)
  if (flat === undefined) {
    const pairs = things.flatMap(({ id, label }) => [label, id].map((name) => [name, id] as const))
    flat = new Map(pairs.toReversed().map(([name, id]) => [name.toLowerCase().replaceAll(/[\s_]/g, ''), id]))
    FLAT.set(things, flat)
  }
  return flat
}

function sameTrade(things: readonly NamedThing[], text: string): string | undefined {
  const names = flatNames(things)
  const flat = text.replaceAll('_', '')
  const one = names.get(flat)
  if (one !== undefined) return one
  const group = SYNONYMS.find((words) => words.includes(flat) || words.includes(flat.replace(/s$/, '')))
  return group?.map((word) => names.get(word)).find((id) => id !== undefined)
}

/** The one that begins so, or is misspelt so. */
function nearThing(things: readonly NamedThing[], text: string): string | undefined {
  if (text.length < 3) return undefined
  const parts = text.split('_').filter((part) => part.length > 2)
  for (const part of parts) {
    const exact = meantBy(things, part)
    if (exact.length === 1) return exact[0]
  }
  const begins = things.filter(({ id }) => id.toLowerCase().startsWith(text))
  if (begins.length === 1) return begins[0].id
  if (text.length < 5) return undefined
  const ids = things.map(({ id }) => id)
  const near = nearest(text, ids)
  return near?.[0].toLowerCase() === text[0] ? near : undefined
}
