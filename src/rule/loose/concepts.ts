import type { SentenceNames } from '../grammar/names.js'
import type { Gathered } from './gathered.js'
import { Scanner } from './scanner.js'
import type { LooseToken } from './tokens.js'
import { NUMBER_WORDS } from './words.js'

/** Kinds that free speech tells by single words: scales, bars, arrows, columns. */
type Kind = Record<string, unknown>

/** A colour that is named, with its place among the tokens. */
interface Named {
  name: string
  at: number
}

function colorsIn(tokens: readonly LooseToken[], names: SentenceNames): Named[] {
  const scanner = new Scanner(tokens, names)
  const found: Named[] = []
  while (scanner.at < tokens.length) {
    const { at } = scanner
    const name = scanner.color()
    if (name === undefined) scanner.at++
    else found.push({ name, at })
  }
  return found
}

const SCALE =
  /\b(?:shade[sd]?|gradient|fade|heat ?map|scale|diverging|steps|bins|ramp)\b|\bcolou?rs? from\b|\bpale to dark\b|\b(?:\d+|seven) (?:colou?rs|bands)\b|\btext from (?:bad|\p{L}+ to)\b|\bdigits of\b/u
const MIDDLE = /\b(?:mid|midpoint|middle|center|centre|(?<!way )around|at 0|at zero|diverging)\b/
const REVERSED = /\b(?:revers\w*|invert\w*|upside down|flip\w*|other way around|lower is better|good to bad)\b/
const COUNT = new RegExp(
  String.raw`\b(\d+|${NUMBER_WORDS.join('|')}) (?:colou?r )?(?:shades|steps|bins|bands|colou?rs)\b`,
)

/** A scale of the colours that are named, from low to high. */
export function shadeOf({ text, prose, names, guess, chunks }: Gathered): Kind | undefined {
  let colors = colorsIn(prose.tokens, names).map(({ name }) => name)
  const isRows = prose.valued !== undefined || chunks.some(({ is }) => is === 'rows')
  if (isRows || !(SCALE.test(text) || (colors.length > 2 && MIDDLE.test(text)))) return undefined
  const light = /\blight to dark (\p{L}+)/u.exec(text)
  if (light !== null) colors = [`light${light[1]}`, `dark${light[1]}`]
  const isMiddle = MIDDLE.test(text) || (colors.length === 3 && /\b(?:0|zero)\b/.test(text))
  if (isMiddle && colors.length === 2) colors = guess.pick('middle', [[colors[0], 'white', colors[1]], colors])
  const isOwn = /\bbad to good\b|\bgood to bad\b/.test(text)
  if (colors.length < 2 && !isOwn) colors = isMiddle ? ['coral', 'paper', 'aqua'] : ['paper', colors[0] ?? 'aqua']
  const low = text.search(/\b(?:low|lowest|min)\b/)
  const high = text.search(/\b(?:high|highest|max)\b/)
  if (high !== -1 && high < low) colors.reverse()
  const ramp = REVERSED.test(text)
    ? guess.pick('ramp', isOwn ? ['badToGood', ['aqua', 'coral']] : ['badToGood', colors, colors.toReversed()])
    : isOwn
      ? 'badToGood'
      : colors
  const count = COUNT.exec(text)?.[1]
  const steps = count === undefined ? undefined : NUMBER_WORDS.indexOf(count) + 1 || Number(count)
  return {
    gradient: {
      ramp,
      ...(isMiddle && colors.length > 2 && { middle: 0 }),
      ...(steps !== undefined && { steps }),
      ...(/\b(?:text|digits|figures)\b/.test(text) && { as: 'ink' }),
    },
  }
}

const NEGATIVE = /^(?:neg|negative|negatives|minus)$/

/** A bar; the colour beside a word for negatives is theirs. */
export function barOf({ text, prose, names }: Gathered): Kind | undefined {
  if (!/\bbars?\b/.test(text)) return undefined
  const { tokens } = prose
  const colors = colorsIn(tokens, names)
  const isBelow = (at: number): boolean =>
    tokens.slice(Math.max(0, at - 3), at + 4).some(({ text: word }) => NEGATIVE.test(word))
  // Of two colours the second is that of negatives.
  const below = colors.findLast(({ at }) => isBelow(at))
  const own = colors.find((color) => color !== below)
  const isOther = /\bother colou?r\b/.test(text) && below === undefined
  const from = /\b(?:from|min) (-?\d+)/.exec(text)?.[1]
  return {
    bar: {
      ...(/\bfading\b/.test(text) && { finish: 'fading' }),
      ...(own !== undefined && { color: own.name }),
      ...(below !== undefined ? { negative: below.name } : isOther && { negative: 'coral' }),
      ...(from !== undefined && { from: Number(from) }),
    },
    ...(HIDDEN.test(text) && { hide: 'value' }),
  }
}

const HIDDEN =
  /\b(?:no|without|hide|hides|dont show)\b[^,;]*\b(?:values?|numbers?|nos|figures?)\b|\b(?:number|value|show_value)\b\W*(?:is )?(?:hidden|off|false)\b/

/** Arrows with one tolerance: up above it, down below it, sideways between. */
export function arrowsOf({ text, chunks }: Gathered): Kind | undefined {
  if (!/\barrows?\b/.test(text) && !/\bicon (?:up|down)\b/.test(text)) return undefined
  const limits = [...text.matchAll(/-?\d+(?:\.\d+)?%?/g)].map(([limit]) => limit.replace('-', ''))
  const tested = chunks.filter(({ is }) => is === 'test').length
  if (limits.length !== 1 || tested > 1) return undefined
  const limit = limits[0].endsWith('%') ? limits[0] : Number(limits[0])
  return {
    bands: [
      { above: limit, style: { icon: 'up' } },
      { below: typeof limit === 'number' ? -limit : `-${limit}`, style: { icon: 'down' } },
      { otherwise: { icon: 'sideways' } },
    ],
  }
}

const COLUMN = /^(?:column|col)$/

/** A look that a column holds; what stands beside the word is its name. */
export function columnOf(from: Gathered): Kind | undefined {
  const { text, prose, names, guess } = from
  const { tokens } = prose
  const keys = names.values.filter(({ is }) => is === 'key')
  const scanner = new Scanner(tokens, names)
  const keyAt = (at: number): string | undefined => {
    scanner.at = at
    const id = at < 0 ? undefined : scanner.value()
    return keys.some((one) => one.id === id)
      ? id
      : nearestKey(
          tokens[at],
          keys.map(({ id: own }) => own),
        )
  }
  const word = tokens.findIndex((token) => COLUMN.test(token.text))
  const dotted = /^\s*(\p{L}+)\.\p{L}+ = (\p{L}+)_/u.exec(text) ?? /^\s*(\p{L}+) ?: fill = \[(\p{L}+)/u.exec(text)
  if (word === -1 && dotted === null) return undefined
  // A name that is not known is the column that is called like what it gives.
  const isStatus = /\b(?:status|rag|good\/fair\/bad)\b/.test(text)
  const like = keys.find(({ id }) => (isStatus ? /status|rag/i : /colou?r/i).test(id))?.id
  const column =
    dotted === null
      ? (keyAt(word + 1) ?? keyAt(word - 1) ?? keyAt(word + 2) ?? keyAt(word + 3) ?? like)
      : nearestKey(
          { text: dotted[2] },
          keys.map(({ id }) => id),
        )
  if (column === undefined) return undefined
  const named = from.chunks
    .flatMap((chunk) => (chunk.is === 'name' || chunk.is === 'grain' ? chunk.ids : []))
    .filter((id) => id !== column)
  const painted = named.find((id) => keys.some((one) => one.id === id)) ?? named[0]
  const channel = isStatus
    ? 'status'
    : /\b(?:fill|background)\b/.test(text)
      ? 'fill'
      : guess.pick('channel', ['fill', 'ink'] as const)
  const ways = keys
    .map(({ id }) => id)
    .filter((id) => id !== column)
    .slice(0, 3)
  const paint = painted ?? (ways.length === 0 ? undefined : guess.pick('painted', ways))
  return paint === undefined ? undefined : { paint, fromColumn: { [channel]: column } }
}

function nearestKey(token: Pick<LooseToken, 'text'> | undefined, keys: readonly string[]): string | undefined {
  if (token === undefined) return undefined
  const flat = token.text.toLowerCase().replace('color', 'colour')
  return keys.find((key) => flat.split(/[_ ]/).includes(key.toLowerCase()))
}
