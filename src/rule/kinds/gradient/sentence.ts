import type { GradientSpec, Limit } from '../../../spec/rules.js'
import { end, limit } from '../../grammar/expressions.js'
import {
  either,
  type Leaf,
  maybe,
  type Part,
  type Production,
  sequence,
  sets,
  slot,
  words,
} from '../../grammar/productions.js'
import type { SentenceReader } from '../../grammar/reader.js'
import { color, count, icon } from '../../grammar/results.js'
import { under } from '../../grammar/under.js'

/** A family, or the icons from low to high. */
const icons: Leaf<string | string[]> = {
  ebnf: '( icon | "(" icon { "," icon } ")" )',
  read: (reader) =>
    reader.attempt(() => {
      if (!reader.sign('(')) return icon.read(reader)
      const list: string[] = []
      do {
        const name = icon.read(reader)
        if (name === undefined) return undefined
        list.push(name)
      } while (reader.sign(','))
      return reader.sign(')') ? list : undefined
    }),
  write: (value) =>
    typeof value === 'string' ? icon.write(value) : `(${value.map((name) => icon.write(name)).join(', ')})`,
}

const inSteps = maybe(sequence(words('in'), slot('steps', count), words('steps')))
const drawings = sequence(
  words('icons'),
  slot('icons', icons),
  inSteps,
  maybe(sequence(words('from'), slot('from', end))),
  maybe(sequence(words('to'), slot('to', end))),
  maybe(sequence(words('around'), slot('middle', limit))),
)

const place = (key: string): Production => maybe(sequence(words('at'), slot(key, end)))

function readColors(reader: SentenceReader): Part | undefined {
  const ramp: string[] = []
  const part: Part = {}
  const stop = (key: string): boolean => {
    const name = color.read(reader)
    if (name === undefined) return false
    ramp.push(name)
    Object.assign(part, place(key).read(reader))
    return true
  }
  if (!stop('from')) return undefined
  let through = 0
  while (reader.words('through')) {
    through++
    if (!stop('middle')) return undefined
  }
  // One middle belongs to one colour between the ends.
  if (through > 1 && part.middle !== undefined) return reader.miss('to') || undefined
  return reader.words('to') && stop('to') ? { ...part, ramp } : undefined
}

/** The colours with their places: the middle stands at the one colour between the ends. */
const stops: Production = {
  ebnf: '( "bad" [ "at" end ] "to" "good" [ "at" end ] | color [ "at" end ] { "through" color [ "at" end ] } "to" color [ "at" end ] ) [ "around" limit ]',
  read: (reader) =>
    reader.attempt(() => {
      const part = badToGood.read(reader) ?? reader.attempt(() => readColors(reader))
      return part === undefined ? undefined : { ...part, ...around.read(reader) }
    }),
  write(part: GradientSpec & Part) {
    const { ramp, from, middle, to } = part
    if (ramp === undefined) return undefined
    const at = (value: Limit | undefined): string => (value === undefined ? '' : ` at ${end.write(value)}`)
    const names =
      ramp === 'badToGood'
        ? ['bad', 'good']
        : (typeof ramp === 'string' ? ['paper', ramp] : ramp).map((name) => color.write(name))
    const inner = names.slice(1, -1)
    const through = inner.map((name) => ` through ${name}${inner.length === 1 ? at(middle) : ''}`).join('')
    const last = middle === undefined || inner.length === 1 ? '' : ` around ${limit.write(middle)}`
    return `${names[0] ?? 'paper'}${at(from)}${through} to ${names.at(-1) ?? 'paper'}${at(to)}${last}`
  },
}
const badToGood = sequence(sets('ramp', 'badToGood', 'bad'), place('from'), words('to good'), place('to'))
const around: Production = maybe(sequence(words('around'), slot('middle', limit)))

/** `shade from paper at 0 to aqua at the 95th percentile`, or `icons petals in 5 steps from 0`. */
export const clauses: Production = under(
  'gradient',
  either(drawings, sequence(words('shade from'), stops, inSteps, maybe(sets('as', 'ink', 'as text')))),
)
