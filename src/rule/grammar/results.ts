import { quoteText } from '../../expression/print.js'
import { problem } from '../../problem/problem.js'
import type { Outcome, Style } from '../../spec/rules.js'
import type { Leaf, Part, Production } from './productions.js'
import type { SentenceReader } from './reader.js'
import { colorInSentence, iconInSentence, isColor, isHousePigment, literalInSentence, nameInSentence } from './words.js'

/** A text between single quotes. */
export const text: Leaf<string> = {
  ebnf: 'text',
  read: (reader) => reader.take('text', 'a text between single quotes')?.text,
  write: quoteText,
}

/** A count or a share. */
export const size: Leaf<number | string> = {
  ebnf: 'size',
  read(reader) {
    const token = reader.peek()
    if (token.kind === 'number' || token.kind === 'percent') {
      reader.at++
      return token.kind === 'number' ? Number(token.text) : `${token.text}%`
    }
    return reader.name('values', 'a count or a share')
  },
  write: (value) => (typeof value === 'number' || /^[\d.]+%$/.test(value) ? String(value) : nameInSentence(value)),
}

/** A number of steps. */
export const count: Leaf<number> = {
  ebnf: 'number',
  read(reader) {
    const token = reader.take('number', 'a number')
    return token === undefined ? undefined : Number(token.text)
  },
  write: String,
}

/** Any word that is a colour, or `#rrggbb`; a pigment of the report, too. */
export const color: Leaf<string> = {
  ebnf: 'color',
  read: (reader) => readColorName(reader, 'a colour'),
  write: colorInSentence,
}

function readColorName(reader: SentenceReader, what: string): string | undefined {
  const token = reader.peek()
  const isWord =
    token.kind === 'name' && (isColor(token.text.toLowerCase()) || reader.names.pigments.includes(token.text))
  if (token.kind !== 'color' && token.kind !== 'quoted' && !isWord) {
    reader.miss(what)
    return undefined
  }
  reader.at++
  return token.kind === 'name' && !reader.names.pigments.includes(token.text) ? token.text.toLowerCase() : token.text
}

export const icon: Leaf<string> = {
  ebnf: 'icon',
  read(reader) {
    const token = reader.peek()
    if (token.kind !== 'step' && token.kind !== 'name' && token.kind !== 'quoted') {
      reader.miss('an icon')
      return undefined
    }
    reader.at++
    return token.text
  },
  write: iconInSentence,
}

/** A plain value: a text, a number, a period, true or false; a word is a text. */
export const literal: Leaf<string | number | boolean> = {
  ebnf: 'literal',
  read(reader) {
    const { kind, text } = reader.peek()
    const next = reader.peek(1)
    if (kind === 'sign' && text === '-' && next.kind === 'number') {
      reader.at += 2
      return -Number(next.text)
    }
    if (kind === 'mark' || kind === 'sign' || kind === 'end' || kind === 'percent' || kind === 'ordinal') {
      reader.miss('a value')
      return undefined
    }
    reader.at++
    if (kind === 'number') return Number(text)
    return kind === 'name' && (text === 'true' || text === 'false') ? text === 'true' : text
  },
  write: literalInSentence,
}

/** One part of a style. */
export const STYLE_EBNF =
  'color [ "fill" | "text" ] | [ "not" ] "bold" | "icon" icon | "flag" text | "picture" text | "no" ( "number" | "icon" )'

/** A style: one part of it. */
function readStyle(reader: SentenceReader): Style | undefined {
  if (reader.words('bold')) return { weight: 'bold' }
  if (reader.words('not bold')) return { weight: 'normal' }
  if (reader.words('no number')) return { hide: 'value' }
  if (reader.words('no icon')) return { hide: 'icon' }
  return (
    reader.attempt(() => (reader.words('icon') ? keyed('icon', icon.read(reader)) : undefined)) ??
    reader.attempt(() => (reader.words('flag') ? keyed('flag', text.read(reader)) : undefined)) ??
    reader.attempt(() => (reader.words('picture') ? keyed('picture', text.read(reader)) : undefined)) ??
    reader.attempt(() => readColor(reader))
  )
}

function keyed(key: keyof Style, value: string | undefined): Style | undefined {
  return value === undefined ? undefined : { [key]: value }
}

/** A pigment by itself is a wash; any colour may be that of a fill or of a text. */
function readColor(reader: SentenceReader): Style | undefined {
  const token = reader.peek()
  // In quotes it is a name, unless it is a pigment, or fill or text stands behind it.
  const follows = reader.peek(1)
  const isColored = follows.kind === 'name' && (follows.text === 'fill' || follows.text === 'text')
  if (token.kind === 'quoted' && !isColored && !isOwnPigment(reader, token.text)) return undefined
  const name = readColorName(reader, 'a pigment')
  if (name === undefined) return undefined
  if (reader.words('fill')) return { fill: name }
  if (reader.words('text')) return { ink: name }
  if (isHousePigment(name) || isOwnPigment(reader, name)) return { wash: name }
  return reader.fail(problem('sentence-bare-color', { name }, reader.place(token)))
}

/** A status is not shadowed by a pigment of its name. */
function isOwnPigment({ names }: SentenceReader, name: string): boolean {
  return names.pigments.includes(name) && !names.statuses.some(({ id }) => id === name)
}

/** Styles that are joined by and. */
function readStyles(reader: SentenceReader): Style | undefined {
  const first = reader.under(['style'], () => readStyle(reader))
  return first === undefined ? undefined : Object.assign({ ...first }, readMore(reader))
}

/** What is joined to a result. */
function readMore(reader: SentenceReader): Style | undefined {
  let style: Style | undefined
  for (;;) {
    const more = reader.attempt(() =>
      reader.words('and') ? reader.under(['style'], () => readStyle(reader)) : undefined,
    )
    if (more === undefined) return style
    style = { ...style, ...more }
  }
}

function readStatus(reader: SentenceReader): string | undefined {
  const token = reader.peek()
  // A colour by itself was told already; a status of its name is in quotes.
  if (token.kind === 'color' || (token.kind === 'name' && isColor(token.text))) return undefined
  return reader.under(['status'], () => reader.name('statuses', 'a status, or a style: bold, aqua, icon up'))
}

/** The result of a test: a status, maybe with styles that replace its own, or styles. */
export const result: Production = {
  ebnf: 'result',
  read: (reader) =>
    reader.attempt((): Part | undefined => {
      const style = readStyles(reader)
      if (style !== undefined) return { style }
      const status = readStatus(reader)
      if (status === undefined) return undefined
      const more = readMore(reader)
      return { status, ...(more !== undefined && { style: more }) }
    }),
  write({ status, style }) {
    if (status === undefined && style === undefined) return undefined
    const parts = status === undefined ? [] : [nameInSentence(String(status))]
    return [...parts, ...styleWords((style ?? {}) as Style)].join(' and ')
  },
}

/** A result that is a status or a style, not both. */
export const outcome: Leaf<Outcome> = {
  ebnf: 'result',
  read(reader) {
    const style = readStyles(reader)
    if (style !== undefined) return style
    const token = reader.peek()
    const status = readStatus(reader)
    const { kind, text: next } = reader.peek()
    if (status === undefined || kind !== 'name' || next !== 'and') return status
    return reader.fail(problem('sentence-status-or-style', { status }, reader.place(token)))
  },
  write: (value) => (typeof value === 'string' ? nameInSentence(value) : styleWords(value).join(' and ')),
}

function styleWords({ wash, fill, ink, weight, icon: drawn, flag, picture, hide }: Style): string[] {
  const parts: string[] = []
  if (wash !== undefined) parts.push(colorInSentence(wash))
  if (fill !== undefined) parts.push(`${colorInSentence(fill)} fill`)
  if (ink !== undefined) parts.push(`${colorInSentence(ink)} text`)
  if (weight !== undefined) parts.push(weight === 'bold' ? 'bold' : 'not bold')
  if (drawn !== undefined) parts.push(`icon ${iconInSentence(drawn)}`)
  if (flag !== undefined) parts.push(`flag ${quoteText(flag)}`)
  if (picture !== undefined) parts.push(`picture ${quoteText(picture)}`)
  if (hide !== undefined) parts.push(hide === 'value' ? 'no number' : 'no icon')
  return parts
}
