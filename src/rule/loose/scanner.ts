import type { Limit } from '../../spec/rules.js'
import { meantBy, type NamedThing, type SentenceNames } from '../grammar/names.js'
import { isColor, nameInSentence } from '../grammar/words.js'
import type { LooseToken } from './tokens.js'
import { NUMBER_WORDS, SHARES, STATISTICS } from './words.js'

/** Reads the smallest parts of a text that somebody typed: words, names, limits, sizes, colours. */
export class Scanner {
  at = 0

  constructor(
    readonly tokens: readonly LooseToken[],
    readonly names: SentenceNames,
  ) {}

  peek(ahead = 0): LooseToken | undefined {
    return this.tokens[this.at + ahead]
  }

  /** Takes words and signs if they stand here; `|` is a choice. */
  take(...choices: readonly string[]): boolean {
    const first = this.peek()
    if (first === undefined || (first.kind !== 'word' && first.kind !== 'sign')) return false
    for (const choice of choices) {
      // Most choices begin otherwise, and need not be cut into words.
      if (!choice.startsWith(first.text)) continue
      const words = choice.split(' ')
      if (!words.every((word, i) => isLike(this.peek(i), word))) continue
      this.at += words.length
      return true
    }
    return false
  }

  attempt<T>(read: () => T | undefined): T | undefined {
    const { at } = this
    const value = read()
    if (value === undefined) this.at = at
    return value
  }

  /** A thing that is called so: by its id or label, several words, or a plural. */
  thing(things: readonly NamedThing[]): string | undefined {
    const first = this.peek()
    if (first === undefined || (first.kind !== 'word' && first.kind !== 'quoted')) return undefined
    for (let count = first.kind === 'quoted' ? 1 : 4; count > 0; count--) {
      const part = this.tokens.slice(this.at, this.at + count)
      if (part.length < count || (count > 1 && part.some(({ kind }) => kind !== 'word'))) continue
      const raw = part.map((token) => (token.kind === 'quoted' ? token.text : token.raw)).join(' ')
      for (const text of [raw, ...singulars(raw)]) {
        const ids = meantBy(things, text)
        if (ids.length !== 1) continue
        this.at += count
        return ids[0]
      }
    }
    return undefined
  }

  value(): string | undefined {
    return this.attempt(() => {
      this.take('the')
      return this.thing(this.names.values)
    })
  }

  /** A number, a share of something, a name, a statistic. */
  limit(): Limit | undefined {
    return this.attempt(() => {
      const minus = this.take('-')
      const token = this.peek()
      if (token?.kind === 'number') {
        this.at++
        return minus ? -token.value : token.value
      }
      if (token?.kind === 'percent') {
        this.at++
        const of = this.attempt(() => (this.take('of') ? this.value() : undefined))
        return `${minus ? '-' : ''}${token.text}%${of === undefined ? '' : ` of ${expressionName(of)}`}`
      }
      if (minus) return undefined
      return this.#statistic() ?? this.#named()
    })
  }

  #named(): string | undefined {
    const name = this.value()
    return name === undefined ? undefined : expressionName(name)
  }

  #statistic(): string | undefined {
    return this.attempt(() => {
      this.take('the')
      const token = this.peek()
      const next = this.peek(1)
      let call: string | undefined
      if (token?.kind === 'ordinal' && next?.text === 'percentile') call = `percentile(*, ${token.text}%)`
      else if (token?.text === 'percentile' && (next?.kind === 'number' || next?.kind === 'percent'))
        call = `percentile(*, ${next.text}%)`
      else if (token?.kind === 'word' && Object.hasOwn(STATISTICS, token.text)) call = `${STATISTICS[token.text]}(*)`
      if (call === undefined) return undefined
      this.at += call.startsWith('percentile') ? 2 : 1
      const of = this.attempt(() => {
        const isCall = this.take('(')
        if (!isCall && !this.take('of')) return undefined
        const name = this.value()
        return name !== undefined && (!isCall || this.take(')')) ? name : undefined
      })
      const group = this.attempt(() => (this.take('within') ? this.value() : undefined))
      return `${call.replace('*', of === undefined ? 'value' : expressionName(of))}${group === undefined ? '' : ` within ${group}`}`
    })
  }

  size(): Limit | undefined {
    const token = this.peek()
    if (token === undefined) return undefined
    const word = token.kind === 'word' ? NUMBER_WORDS.indexOf(token.text) + 1 : 0
    const size =
      token.kind === 'number'
        ? token.value
        : token.kind === 'percent'
          ? `${token.text}%`
          : word > 0
            ? word
            : token.kind === 'word'
              ? SHARES[token.text]
              : undefined
    if (size !== undefined) this.at++
    return size
  }

  keys(): string[] | undefined {
    const first = this.value()
    if (first === undefined) return undefined
    const ids = [first]
    for (;;) {
      const more = this.attempt(() => (this.take(',', 'and') ? this.value() : undefined))
      if (more === undefined) return ids
      ids.push(more)
    }
  }

  /** A colour of one or two words: `red`, `light grey`. */
  color(): string | undefined {
    const token = this.peek()
    if (token?.kind === 'color') {
      this.at++
      return token.text
    }
    const next = this.peek(1)
    if (token?.kind !== 'word') return undefined
    if (next?.kind === 'word' && isColor(token.text + next.text)) {
      this.at += 2
      return token.text + next.text
    }
    if (!isColor(token.text) && !this.names.pigments.includes(token.raw)) return undefined
    this.at++
    return token.text
  }

  word(): string | undefined {
    const token = this.peek()
    if (token?.kind !== 'word' && token?.kind !== 'quoted') return undefined
    this.at++
    return token.kind === 'quoted' ? token.text : token.raw
  }
}

function isLike(token: LooseToken | undefined, word: string): boolean {
  return token !== undefined && (token.kind === 'word' || token.kind === 'sign') && token.text === word
}

function expressionName(id: string): string {
  return nameInSentence(id) === id || /^[\p{L}_][\p{L}\p{N}_]*$/u.test(id)
    ? id
    : `column('${id.replaceAll("'", "''")}')`
}

/** A word without the ending of a plural. */
function singulars(text: string): string[] {
  return [text.replace(/ies$/i, 'y'), text.replace(/es$/i, ''), text.replace(/s$/i, '')].filter((one) => one !== text)
}
