import { type SentenceNames, statusesOf } from '../grammar/names.js'
import { isHousePigment } from '../grammar/words.js'
import type { Chunk } from './chunk.js'
import { Drawings } from './drawings.js'
import type { LooseToken } from './tokens.js'
import { COMPARISONS, DROPPED, ENDS, ICONS } from './words.js'

/** Recognises the parts of a text, one after the other. */
export class Chunker extends Drawings {
  protected isIcons = false

  /** All chunks; undefined where something is none. */
  chunks(): Chunk[] | undefined {
    const chunks: Chunk[] = []
    while (this.at < this.tokens.length) {
      const chunk = this.next(chunks)
      if (chunk === undefined) return undefined
      chunks.push(...this.inside.splice(0))
      if (chunk !== 'nothing') chunks.push(chunk)
    }
    return chunks
  }

  protected next(before: readonly Chunk[]): Chunk | 'nothing' | undefined {
    return (
      this.#mark() ??
      this.column() ??
      this.shade(before) ??
      this.bar() ??
      this.#extra() ??
      this.#scope(before) ??
      this.#rank() ??
      this.#test(before) ??
      this.result() ??
      this.#subject() ??
      this.#dropped()
    )
  }

  #mark(): Chunk | undefined {
    if (this.take('→', 'then')) return { is: 'arrow' }
    if (this.take(':', ';', ',', '.')) return { is: 'break' }
    if (this.take('and', '+')) return { is: 'and' }
    return undefined
  }

  #dropped(): 'nothing' | undefined {
    const token = this.peek()
    if (token?.kind === 'word' && DROPPED.has(token.text)) {
      this.at++
      return 'nothing'
    }
    return this.take(
      'is',
      'are',
      'if',
      'when',
      'where',
      'for',
      'in',
      'of',
      'shows',
      'with',
      '=',
      '(',
      ')',
      'arrows',
      'icons',
    )
      ? 'nothing'
      : undefined
  }

  #test(before: readonly Chunk[]): Chunk | undefined {
    if (this.take('missing', 'blanks', 'blank', 'empty', 'null', 'no value', 'n / a')) return { is: 'missing' }
    if (
      this.take('otherwise', 'else', 'the rest', 'rest', 'everything else', 'the remaining', 'remaining', 'in between')
    )
      return { is: 'otherwise' }
    return this.attempt(() => this.#range(before)) ?? this.attempt(() => this.comparison(before))
  }

  /** `from x to y`, `between x and y`, `over x to y`, `x to y`. */
  #range(before: readonly Chunk[]): Chunk | undefined {
    const isBetween = this.take('between')
    const isOver = !isBetween && this.take('over', 'above', 'more than')
    const isFrom = !isBetween && !isOver && this.take('from')
    const low = this.limit()
    if (low === undefined) return undefined
    if (isBetween ? !this.take('and') : !this.take('to', 'till', 'until') && !this.#dash()) {
      const last = before.at(-1)
      // By itself `from x` is a limit only behind a result, or a percentile.
      const isLimit = isFrom && (last?.is === 'result' || String(low).startsWith('percentile'))
      return isLimit ? { is: 'test', test: { atLeast: low } } : undefined
    }
    const isUnder = this.take('under')
    const high = this.limit()
    if (high === undefined) return undefined
    return { is: 'test', test: { [isOver ? 'above' : 'atLeast']: low, [isUnder ? 'below' : 'atMost']: high } }
  }

  /** A dash between two numbers of one unit, without spaces: `80-100%` may be a percent of what? */
  #dash(): boolean {
    const [low, dash, high] = [this.peek(-1), this.peek(), this.peek(1)]
    if (low === undefined || dash?.text !== '-' || high === undefined) return false
    const unit = ({ raw }: LooseToken): string => /\D*$/.exec(raw)?.[0] ?? ''
    if (low.to !== dash.from || dash.to !== high.from || low.kind !== high.kind || unit(low) !== unit(high))
      return false
    this.at++
    return true
  }

  protected comparison(before: readonly Chunk[]): Chunk | undefined {
    const found = COMPARISONS.find(([text]) => this.take(text))
    if (found !== undefined) {
      const [, key] = found
      const limit = this.limit()
      if (limit === undefined) return nearLimit(key, before)
      if (this.take('either way', 'in both directions', 'up or down'))
        return { is: 'test', test: { [key]: limit }, both: true }
      return { is: 'test', test: { [key]: limit } }
    }
    if (this.take('bigger', 'higher', 'more')) return nearLimit('above', before)
    if (this.take('at lowest', 'at the lowest')) return { is: 'test', test: { atMost: 'lowest(value)' } }
    return this.attempt(() => this.#suffixed()) ?? this.equals()
  }

  /** `x or more`, `x+`, `x or less`, `95th percentile and above`. */
  #suffixed(): Chunk | undefined {
    const limit = this.limit()
    if (limit === undefined) return undefined
    if (this.tokens[this.at - 1].orMore === true || this.take('or more', 'or above', 'and above', 'and more'))
      return { is: 'test', test: { atLeast: limit } }
    return this.take('or less', 'or below', 'and below') ? { is: 'test', test: { atMost: limit } } : undefined
  }

  /** `is Trade`, `= Trade`. */
  protected equals(): Chunk | undefined {
    if (!this.take('is', '=')) return undefined
    const token = this.peek()
    if (token?.kind === 'text' || token?.kind === 'quoted') {
      this.at++
      return { is: 'test', test: { equals: token.text } }
    }
    // A word that is no status, colour or style is a text.
    if (token?.kind !== 'word' || this.attempt(() => this.result()) !== undefined) return undefined
    if (DROPPED.has(token.text) || ['if', 'missing', 'for', 'icon'].includes(token.text)) return undefined
    if (COMPARISONS.some(([text]) => text.split(' ')[0] === token.text) || Object.hasOwn(ENDS, token.text))
      return undefined
    this.at++
    return { is: 'test', test: { equals: token.raw } }
  }

  #rank(): Chunk | undefined {
    return this.attempt(() => {
      this.take('the')
      this.take('first')
      if (this.take('that make up', 'that make', 'making up', 'making', 'which make')) {
        this.take('first', 'the first')
        const size = this.size()
        const of = size !== undefined && this.take('of') ? this.value() : undefined
        return size === undefined || of === undefined ? undefined : { is: 'rank', end: 'making', size, of }
      }
      const isNext = this.take('next')
      if (isNext || this.take('split')) {
        const size = this.size()
        return size === undefined ? undefined : { is: 'rank', end: isNext ? 'next' : 'split', size }
      }
      const first = this.peek()
      if (first?.kind === 'word' && Object.hasOwn(ENDS, first.text)) {
        this.at++
        const size = this.size()
        return size === undefined ? undefined : { is: 'rank', end: ENDS[first.text], size }
      }
      // `the 3 best`, `ten biggest`.
      const size = this.size()
      const end = this.peek()
      if (size === undefined || end?.kind !== 'word' || !Object.hasOwn(ENDS, end.text)) return undefined
      this.at++
      return { is: 'rank', end: ENDS[end.text], size }
    })
  }

  #scope(before: readonly Chunk[]): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const exhibit = this.attempt(() => {
        const isIn = this.take('in', 'only for', 'only in')
        this.take('the')
        this.take('table')
        const name = this.thing(this.names.exhibits)
        this.take('table')
        const isOnly = this.take('only')
        return name !== undefined && (isIn || isOnly) ? name : undefined
      })
      if (exhibit !== undefined) return { is: 'only', ids: [exhibit] }
      const isBehindSize = before.some(({ is }) => is === 'rank')
      if (this.take('of each', 'for each', 'for every')) return scopeOf('grain', this.keys())
      if (this.take('within')) return scopeOf('within', this.keys())
      if (this.take('in each', 'in every')) return scopeOf('within', this.keys())
      // Behind a limit it may be either.
      const isBehindTest = before.some(({ is }) => is === 'test')
      if (!isBehindTest && this.take('per')) return scopeOf(isBehindSize ? 'within' : 'grain', this.keys())
      if (this.take('judged by', 'ranked by')) return scopeOf('judge', this.keys())
      if (this.take('of') && before.at(-1)?.is === 'name') {
        const ids = this.keys()
        return ids?.every((id) => isKey(this.names, id)) ? { is: 'grain', ids } : undefined
      }
      return undefined
    })
  }

  #extra(): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const isBracket = this.take('(')
      const isTotals = this.take(
        'incl totals',
        'including totals',
        'totals as well',
        'totals too',
        'also totals',
        '+ totals',
        'for totals too',
      )
      if (isTotals) return !isBracket || this.take(')') ? { is: 'extra', keys: { levels: 'all' } } : undefined
      if (isBracket) return undefined
      if (this.take('totals only')) return { is: 'extra', keys: { levels: 'totals' } }
      if (this.take('hide the number', 'hide number', 'values off', 'numbers off'))
        return { is: 'extra', keys: { hide: 'value' } }
      if (this.take('hide the icon')) return { is: 'extra', keys: { hide: 'icon' } }
      if (this.take('on one scale')) return { is: 'extra', keys: { oneScale: true } }
      if (this.take('final')) return { is: 'extra', keys: { final: true } }
      return this.take('paused') ? { is: 'extra', keys: { paused: true } } : undefined
    })
  }

  protected result(): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      this.take('is', 'are', '=')
      this.take('in')
      const status = this.#status()
      if (status !== undefined) return { is: 'result', status }
      if (this.take('bold')) return { is: 'result', style: { weight: 'bold' } }
      if (this.take('not bold')) return { is: 'result', style: { weight: 'normal' } }
      if (this.take('icon', 'arrow')) {
        const name = this.peek()
        if (name?.kind !== 'word') return undefined
        this.at++
        return { is: 'result', style: { icon: ICONS[name.text] ?? name.text } }
      }
      const sign = this.peek()
      if (sign?.kind === 'word' && Object.hasOwn(ICONS, sign.text) && this.isIcons) {
        this.at++
        return { is: 'result', style: { icon: ICONS[sign.text] } }
      }
      if (this.take('flag')) return this.#flag()
      return this.colored()
    })
  }

  #status(): string | undefined {
    const { statuses } = this.names
    const own = this.thing(statuses)
    if (own !== undefined) return own
    const token = this.peek()
    const meant = token === undefined ? [] : statusesOf(statuses, token.text === 'ok' ? 'fair' : token.text)
    const one = this.oneStatus(meant)
    if (one !== undefined) this.at++
    return one
  }

  /** The status that is meant by a verdict. */
  protected oneStatus(ids: readonly string[]): string | undefined {
    return ids.length === 1 ? ids[0] : undefined
  }

  #flag(): Chunk | undefined {
    const token = this.peek()
    if (token?.kind !== 'text' && token?.kind !== 'quoted') return undefined
    this.at++
    // `flag 'new low' & value`.
    const value = this.attempt(() =>
      this.take('&', 'and') && this.take('value', 'the value') ? ' {value}' : undefined,
    )
    return { is: 'result', style: { flag: token.text + (value ?? '') } }
  }

  /** `red fill`, `fill gold`, `red text`, `font red`; a pigment by itself. */
  protected colored(): Chunk | undefined {
    const isFill = this.take('fill', 'background')
    const isText = !isFill && this.take('font', 'text')
    const name = this.color()
    if (name === undefined) return undefined
    if (isFill || this.take('fill', 'background')) return { is: 'result', style: { fill: name } }
    if (isText || this.take('text', 'font')) return { is: 'result', style: { ink: name } }
    if (isHousePigment(name) || this.names.pigments.includes(name)) return { is: 'result', style: { wash: name } }
    return undefined
  }

  #subject(): Chunk | undefined {
    if (this.take('rows', 'row', 'whole row', 'entire row')) return { is: 'rows' }
    if (this.take('every measure', 'any column', 'all measures', 'every column')) return { is: 'every' }
    const ids = this.keys()
    if (ids === undefined) return undefined
    if (this.take('arrows', 'arrow')) this.isIcons = true
    return { is: 'name', ids }
  }
}

function isKey({ values }: SentenceNames, id: string): boolean {
  return values.some((thing) => thing.id === id && thing.is === 'key')
}

function scopeOf(is: 'grain' | 'within' | 'judge', ids: string[] | undefined): Chunk | undefined {
  return ids === undefined ? undefined : { is, ids }
}

/** A test without a limit has the nearest one of the test before. */
export function nearLimit(key: 'atLeast' | 'above' | 'atMost' | 'below', before: readonly Chunk[]): Chunk | undefined {
  const last = before.findLast((chunk) => chunk.is === 'test')
  if (last?.is !== 'test') return undefined
  const { atLeast, above, atMost, below } = last.test
  const limit = key === 'above' || key === 'atLeast' ? (atMost ?? below) : (atLeast ?? above)
  return limit === undefined ? undefined : { is: 'test', test: { [key]: limit } }
}
