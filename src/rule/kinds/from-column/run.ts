import { codes } from '../../../expression/evaluate.js'
import { problem } from '../../../problem/optional.js'
import { type Effect, iconBehind, NO_EFFECT } from '../../../style/cell-style.js'
import { effectOf, isIcon, resolveColor } from '../../../style/effect.js'
import type { Palette } from '../../../style/palette.js'
import type { BoundText, Judged, Kind } from '../../model.js'
import { joinWithAnd } from '../limit-text.js'

export const CHANNELS = ['status', 'fill', 'ink', 'icon', 'picture'] as const
type Borrowed = (typeof CHANNELS)[number]

const CHANNEL_WORDS: Readonly<Record<Borrowed, string>> = {
  status: 'status',
  fill: 'fill',
  ink: 'text colour',
  icon: 'icon',
  picture: 'picture',
}

export interface FromColumnPlan {
  columns: { channel: Borrowed; text: BoundText }[]
  palette: Palette
  /** The effects of statuses by name and label. */
  statuses: ReadonlyMap<string, Effect>
  hide: Effect['hide']
  iconAfter: boolean
}

/**
 * Takes the style from text columns. Unknown texts leave a cell as it is, and are counted in a
 * message.
 */
export const kind: Kind<FromColumnPlan, undefined> = {
  key: 'fromColumn',

  judges: false,

  expressions: (plan) => plan.columns.map(({ text }) => text.bound),

  readsPopulation: () => false,

  fit: () => undefined,

  decide(plan, _, judged) {
    const { classes, givens } = borrowed(plan, judged, (unknown) => {
      const count = [...unknown.values()].reduce((sum, n) => sum + n, 0)
      judged.note(problem('note-from-column-unknown', { count, words: [...unknown.keys()] }))
    })
    return { classes, effects: givens }
  },

  /**
   * A colour or icon has no words, so the text that it came from is used; a status has its label.
   */
  legend: (plan, _, judged) => ({ limits: borrowed(plan, judged).words }),

  describe(plan) {
    const columns = plan.columns.map(({ channel, text }) => `${CHANNEL_WORDS[channel]} from the column ${text.text}`)
    return `${joinWithAnd(columns)}; a cell with an unknown text stays unpainted`
  },

  explain(plan, _, judged, cell) {
    return plan.columns.map(({ channel, text }) => {
      const { codes, words } = textsOfColumn(text, judged)
      const word = codes[cell] < 0 ? undefined : words[codes[cell]]
      if (word === undefined) return { text: `${text.text} is missing`, holds: false }
      const holds = partOf(plan, channel, word) !== undefined
      return { text: `${text.text} holds ‘${word}’${holds ? '' : `, which names no ${CHANNEL_WORDS[channel]}`}`, holds }
    })
  },
}

/** The effect of each combination of texts, with these texts. */
function borrowed(
  plan: FromColumnPlan,
  judged: Judged,
  strange?: (unknown: ReadonlyMap<string, number>) => void,
): { classes: Int16Array; givens: Effect[]; words: string[] } {
  const { length } = judged
  const givens: Effect[] = []
  const said: string[] = []
  const seen = new Map<string, number>()
  const columns = plan.columns.map(({ channel, text }) => {
    const texts = textsOfColumn(text, judged)
    return {
      channel,
      name: text.text,
      ...texts,
      stray: texts.words.map((word) => partOf(plan, channel, word) === undefined),
    }
  })
  const unknown = new Map<string, number>()
  const classes = new Int16Array(length)
  for (let i = 0; i < length; i++) {
    let key = ''
    for (const { codes } of columns) key += `${codes[i]} `
    let cached = seen.get(key)
    if (cached === undefined) {
      const given = givenBy(plan, columns, i)
      if (given !== undefined) said.push(saidBy(columns, i))
      cached = given === undefined ? -1 : givens.push(given) - 1
      seen.set(key, cached)
    }
    classes[i] = cached
    for (const { codes, words, stray } of columns)
      if (codes[i] >= 0 && stray[codes[i]]) unknown.set(words[codes[i]], (unknown.get(words[codes[i]]) ?? 0) + 1)
  }
  if (unknown.size > 0) strange?.(unknown)
  return { classes, givens, words: said }
}

/** The texts that gave a cell its style, without its status, whose label is printed anyway. */
function saidBy(
  columns: readonly (Words & { channel: Borrowed; name: string; stray: readonly boolean[] })[],
  cell: number,
): string {
  return columns
    .flatMap(({ channel, name, codes, words, stray }) =>
      channel === 'status' || codes[cell] < 0 || stray[codes[cell]] ? [] : [`${name} ${words[codes[cell]]}`],
    )
    .join(', ')
}

interface Words {
  codes: Int32Array
  words: readonly string[]
}

function textsOfColumn(text: BoundText, judged: Judged): Words {
  const vector = judged.run(text.bound)
  if (vector.kind !== 'text') throw new Error('a borrowed column is text')
  return { codes: codes(vector, judged.length), words: vector.words }
}

/** The effect of a text for its channel; undefined if it is unknown. */
function partOf({ palette, statuses }: FromColumnPlan, channel: Borrowed, word: string): Partial<Effect> | undefined {
  if (channel === 'status') return statuses.get(word)
  if (channel === 'icon') return isIcon(palette, word) ? { icon: word } : undefined
  if (channel === 'picture') {
    const picture = palette.picture(word)
    return typeof picture === 'string' ? { picture } : undefined
  }
  if (resolveColor(word, 'wash', palette) === undefined) return undefined
  const { fill, ink, pigment } = effectOf({ [channel]: word }, null, palette)
  return channel === 'fill' ? { fill, pigment } : { ink }
}

/** `hide` of a status wins over `hide` of the rule. */
function hideOf({ hide }: FromColumnPlan, parts: readonly Partial<Effect>[]): Pick<Effect, 'hide'> {
  return { hide: parts.map((part) => part.hide ?? null).find((hide) => hide !== null) ?? hide }
}

/** The effect of all columns together; undefined if none has one. */
function givenBy(
  plan: FromColumnPlan,
  columns: readonly (Words & { channel: Borrowed })[],
  cell: number,
): Effect | undefined {
  const parts = columns.flatMap(({ channel, codes, words }) => {
    const part = codes[cell] < 0 ? undefined : partOf(plan, channel, words[codes[cell]])
    return part === undefined ? [] : [part]
  })
  if (parts.length === 0) return undefined
  const effect: Effect = Object.assign({ ...NO_EFFECT }, ...parts, hideOf(plan, parts))
  return plan.iconAfter ? iconBehind(effect) : effect
}
