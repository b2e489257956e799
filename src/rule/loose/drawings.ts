import type { Limit } from '../../spec/rules.js'
import type { Chunk } from './chunk.js'
import { Scanner } from './scanner.js'

/** Recognises scales, bars and styles from columns. */
export class Drawings extends Scanner {
  /** Subjects that stand inside another chunk: `shade revenue from white`. */
  protected readonly inside: Chunk[] = []

  /** `shade from white to green`, `red to green with white at 0`, as far as colours are named. */
  protected shade(before: readonly Chunk[]): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const isSaid = this.take(
        'shade',
        'shaded',
        'gradient',
        'fade',
        'faded',
        'heat map',
        'heatmap',
        'colours',
        'colors',
      )
      // `shade revenue from white`: the subject stands between.
      const isSaidBefore = before.some(({ is }) => is === 'shade')
      if (isSaid) {
        const subject = this.attempt(() => {
          this.take('the')
          return this.keys()
        })
        if (subject !== undefined) this.inside.push({ is: 'name', ids: subject })
      }
      if (!isSaid && !isSaidBefore) return undefined
      return this.#colors()
    })
  }

  #colors(): Chunk | undefined {
    this.take('from')
    const isBad = this.take('bad')
    const first = isBad ? 'bad' : this.color()
    if (first === undefined) return undefined
    const colors = [first]
    let middle: Limit | undefined
    while (this.take('through', 'over')) {
      const inner = this.color()
      if (inner === undefined) return undefined
      colors.push(inner)
      if (this.take('at')) middle = this.limit()
    }
    if (!this.take('to', '→')) return undefined
    const last = isBad ? (this.take('good') ? 'good' : undefined) : this.color()
    if (last === undefined) return undefined
    colors.push(last)
    this.attempt(() => {
      if (!this.take('with')) return undefined
      const color = this.color()
      if (color !== undefined && this.take('at')) {
        middle = this.limit()
        colors.splice(1, 0, color)
        return true
      }
      if (!this.take('zero') || !this.take('in the middle', 'in middle')) return undefined
      middle = 0
      return true
    })
    const steps = this.attempt(() => {
      if (!this.take('in')) return undefined
      const size = this.size()
      return typeof size === 'number' && this.take('steps') ? size : undefined
    })
    const isText = this.take('as text')
    return {
      is: 'shade',
      colors,
      ...(middle !== undefined && { middle }),
      ...(steps !== undefined && { steps }),
      ...(isText && { as: 'ink' as const }),
    }
  }

  /** `fading indigo bars for revenue from 0`, `as bars, negatives red`. */
  protected bar(): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      this.take('as')
      const finish = this.take('fading') ? 'fading' : undefined
      const color = this.color()
      if (!this.take('bars', 'bar')) return undefined
      const subject = this.attempt(() => (this.take('for', 'on', 'in') ? this.keys() : undefined))
      if (subject !== undefined) this.inside.push({ is: 'name', ids: subject })
      const from = this.attempt(() => (this.take('from') ? this.limit() : undefined))
      const to = this.attempt(() => (this.take('to') ? this.limit() : undefined))
      const negative = this.attempt(() => {
        this.take(',')
        if (this.take('negatives', 'negative', 'minus')) return this.color()
        this.take('with')
        const other = this.color()
        return other !== undefined && this.take('if negative', 'for negatives') ? other : undefined
      })
      return {
        is: 'bar',
        ...(finish !== undefined && { finish }),
        ...(color !== undefined && { color }),
        ...(negative !== undefined && { negative }),
        ...(from !== undefined && { from }),
        ...(to !== undefined && { to }),
      }
    })
  }

  /** `status from column state`, `status of the shop comes from column status`. */
  protected column(): Chunk | undefined {
    return this.attempt((): Chunk | undefined => {
      const channels = {
        status: 'status',
        fill: 'fill',
        background: 'fill',
        text: 'ink',
        icon: 'icon',
        picture: 'picture',
      } as const
      const token = this.peek()
      if (token?.kind !== 'word' || !Object.hasOwn(channels, token.text)) return undefined
      this.at++
      const subject = this.attempt(() => (this.take('of') ? this.#keysAfterArticle() : undefined))
      if (!this.take('comes from column', 'from column', 'per column')) return undefined
      const column = this.value() ?? this.word()
      if (column === undefined) return undefined
      if (subject !== undefined) this.inside.push({ is: 'name', ids: subject })
      return { is: 'column', channel: channels[token.text as keyof typeof channels], column }
    })
  }

  #keysAfterArticle(): string[] | undefined {
    this.take('the')
    return this.keys()
  }
}
