import { RESERVED } from '../expression/reserved.js'
import { harmless } from '../problem/print.js'

/** A column as written in an expression; `source` is left out for the first one. */
export function written(column: string, source?: string): string {
  const plain = /^\p{L}[\p{L}\p{N}_]*$/u.test(column) && !RESERVED.has(column)
  if (plain) return source === undefined ? column : `${source}.${column}`
  const quoted = `column('${column.replaceAll("'", "''")}')`
  return source === undefined ? quoted : `${source}.${quoted}`
}

/**
 * Names that are valid in expressions, each used once: the wanted text, else with the suffix, else
 * with a number.
 */
export function createNames(taken: Iterable<string>): (wanted: string, suffix?: string) => string {
  const used = new Set<string>(taken)
  return (wanted, suffix = '') => {
    const plain = nameOf(wanted)
    const longer = nameOf(`${wanted} ${suffix}`)
    let name = used.has(plain) ? longer : plain
    for (let n = 2; used.has(name); n++) name = `${longer}${n}`
    used.add(name)
    return name
  }
}

/** No longer than this, so that formulas stay readable. */
const MAX_NAME = 40

function nameOf(text: string): string {
  const [first, ...rest] = text.match(/[\p{L}\p{N}]+/gu) ?? []
  const joined = (first === undefined ? '' : lowered(first)) + rest.map(raised).join('')
  return (/^\p{L}/u.test(joined) && !RESERVED.has(joined) ? joined : `m${raised(joined)}`).slice(0, MAX_NAME)
}

/** Names of sources: those of their files if they are valid in expressions, each once. */
export function sourceNames(files: readonly string[]): string[] {
  const names: string[] = []
  for (const [i, file] of files.entries()) {
    const words = stemOf(file).match(/[\p{L}\p{N}]+/gu) ?? []
    const name = words.map((word, w) => (w === 0 ? word.toLowerCase() : raised(word))).join('')
    const good = /^\p{L}/u.test(name) && !RESERVED.has(name) && !names.includes(name) && name.length < 30
    names.push(good ? name : i === 0 ? 'rows' : `other${i}`)
  }
  return names
}

function stemOf(file: string): string {
  const stem = file.replace(/^.*[\\/{]/, '').replace(/(?:\.[a-z]+)+(?:,.*)?\}?$/i, '')
  return stem === '' ? file : stem
}

function lowered(word: string): string {
  // `KPI` becomes kpi, `OrderDate` orderDate.
  return word === word.toUpperCase() ? word.toLowerCase() : word.charAt(0).toLowerCase() + word.slice(1)
}

function raised(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1)
}

/** A name for readers: `unit_price` is Unit price. */
export function labelOf(name: string): string {
  const plain = name
    // The format shows the currency.
    .replace(/\s*[([](?:[A-Z]{3}|\p{Sc})[)\]]/gu, '')
    .replace(/(\p{Ll})(\p{Lu})/gu, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`)
    .replace(/[_-]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
  return plain === '' ? name : raised(plain)
}

/** A label of a column, without the lookup table that it is in. */
export function columnLabel({ name, plainName }: { name: string; plainName?: string }): string {
  return labelOf(plainName ?? name)
}

export function titleOf(file: string): string {
  return labelOf(stemOf(file))
}

/** A text as YAML: plain if it is unambiguous, else quoted as in JSON. */
export function yamlText(value: string): string {
  const plain =
    /^[\p{L}][\p{L}\p{N} _./-]*$/u.test(value) &&
    !/^(?:true|false|null|yes|no|on|off|y|n)$/i.test(value) &&
    !value.endsWith(' ')
  return plain ? value : JSON.stringify(value)
}

/** An expression as YAML. */
export function yamlExpression(expression: string): string {
  return /[,:#{}[\]'"&*%|>]/.test(expression) ? JSON.stringify(expression) : expression
}

/** Data in a comment: one line, no control characters, not too long. */
export function commentText(value: string, most = 100): string {
  const line = harmless(value).replace(/\s+/g, ' ')
  return line.length > most ? `${line.slice(0, most - 1)}…` : line
}
