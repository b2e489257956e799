import { problem } from '../problem/given.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, ProblemError } from '../problem/problem.js'

/** What a value may look like. Keys of a map that end in `?` may be left out. */
export type Shape =
  | 'text'
  | 'number'
  | 'truth'
  | 'nothing'
  | 'function'
  | 'anything'
  | { is: 'number' | 'whole'; min?: number; max?: number; above?: number }
  | { oneOf: readonly (string | number | boolean)[] }
  | { list: Shape; min?: number }
  | { each: Shape }
  | { any: readonly Shape[] }
  | { keys: { readonly [key: string]: Shape } }

/** A value whose faulty pieces are taken out, so that the rest can be checked in the same go. */
export interface Fitted {
  /** A copy. Undefined only when nothing of it could be kept. Faulty members of lists at the top, such as rules, are null. */
  value: unknown
  problems: Problem[]
}

/** What stands for a piece that was told and is taken out: its key, or all of the rule or exhibit around it. */
const GONE = Symbol('taken out')
const LOST = Symbol('taken out with what is around it')

/**
 * Compares a value with a shape and tells all that is wrong with it, each at its path.
 *
 * @param stand what takes the place of top-level keys that are missing, so that the rest can be told, too.
 */
export function fit(
  shape: Shape,
  value: unknown,
  at: Path = [],
  stand: Readonly<Record<string, unknown>> = {},
): Fitted {
  const problems: Problem[] = []
  const fitted = piece(shape, value, { at, problems, stand, base: at.length })
  return { value: typeof fitted === 'symbol' ? undefined : fitted, problems }
}

/**
 * Refuses a value that has not the shape.
 *
 * @throws ProblemError carrying every problem.
 */
export function mustFit(shape: Shape, value: unknown, at: Path = []): void {
  const { problems } = fit(shape, value, at)
  if (problems.length > 0) throw new ProblemError(problems)
}

interface Context {
  at: Path
  problems: Problem[]
  stand: Readonly<Record<string, unknown>>
  /** How long the path of the whole is. */
  base: number
}

function piece(shape: Shape, value: unknown, context: Context): unknown {
  if (shape === 'anything' || (shape === 'nothing' && value === null)) return value
  if (typeof shape === 'string')
    return typeof value === TYPES[shape] && !isNaNumber(value) ? value : wrong(WORDS[shape], value, context)
  if ('any' in shape) return alternative(shape.any, value, context)
  if ('oneOf' in shape) return shape.oneOf.includes(value as string) ? value : unknown(shape.oneOf, value, context)
  if ('is' in shape) return bounded(shape, value, context)
  if ('list' in shape) return list(shape, value, context)
  if (!isMap(value)) return wrong(MAP, value, context)
  return 'each' in shape ? each(shape.each, value, context) : map(shape.keys, value, context)
}

const MAP = 'a map of keys and values'
const TYPES = { text: 'string', number: 'number', truth: 'boolean', function: 'function', nothing: undefined }
const WORDS = { text: 'a text', number: 'a number', truth: 'true or false', function: 'a function', nothing: 'null' }

function isNaNumber(value: unknown): boolean {
  return typeof value === 'number' && !Number.isFinite(value)
}

function wrong(expected: string, value: unknown, { at, problems }: Context): symbol {
  problems.push(problem('wrong-shape', { expected, found: foundText(value) }, { path: at }))
  return GONE
}

function unknown(values: readonly unknown[], value: unknown, { at, problems }: Context): symbol {
  const known = values.map(String)
  const text = typeof value === 'string' ? value : foundText(value)
  problems.push(problem('not-one-of', { found: text, known, nearest: nearest(text, known) }, { path: at }))
  return GONE
}

/** A value as it is told where another one was expected. */
export function foundText(value: unknown): string {
  if (value === null || value === undefined) return 'nothing'
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object') return 'a map'
  if (typeof value === 'function') return 'a function'
  if (typeof value === 'string') return value === '' ? 'an empty text' : `'${value.slice(0, 40)}'`
  return String(value)
}

function bounded(shape: Extract<Shape, { is: string }>, value: unknown, context: Context): unknown {
  const { is, min = -Infinity, max = Infinity, above = -Infinity } = shape
  const isWhole = is === 'whole'
  if (typeof value !== 'number' || !Number.isFinite(value) || (isWhole && !Number.isSafeInteger(value)))
    return wrong(isWhole ? 'a whole number' : 'a number', value, context)
  if (value < min) return wrong(`at least ${min}`, value, context)
  if (value <= above) return wrong(`more than ${above}`, value, context)
  return value > max ? wrong(`at most ${max}`, value, context) : value
}

function list({ list: member, min = 0 }: Extract<Shape, { list: Shape }>, value: unknown, context: Context): unknown {
  if (!Array.isArray(value)) return wrong('a list', value, context)
  if (value.length < min)
    return wrong(min === 1 ? 'a list that is not empty' : `a list of at least ${min}`, value, context)
  const { at, base } = context
  let isLost = false
  const items = value.map((item, i) => {
    const fitted = piece(member, item, { ...context, at: [...at, i] })
    if (typeof fitted !== 'symbol') return fitted
    isLost = true
    return null
  })
  // Only a list at the top may have holes: whoever reads a list inside a rule would have to know of them.
  return isLost && at.length > base + 1 ? LOST : items
}

function each(member: Shape, value: Readonly<Record<string, unknown>>, context: Context): unknown {
  const entries: [string, unknown][] = []
  for (const [name, own] of Object.entries(value)) {
    const fitted = piece(member, own, { ...context, at: [...context.at, name] })
    if (fitted === LOST && context.at.length > context.base + 1) return LOST
    if (typeof fitted !== 'symbol') entries.push([name, fitted])
  }
  return Object.fromEntries(entries)
}

function map(
  keys: Readonly<Record<string, Shape>>,
  value: Readonly<Record<string, unknown>>,
  context: Context,
): unknown {
  const { at, problems, base, stand } = context
  const known = Object.keys(keys).map((key) => key.replace('?', ''))
  const misspelt = new Set<string | undefined>()
  const fitted = new Map<string, unknown>()
  let isLost = false
  for (const [key, own] of Object.entries(value)) {
    const inner = Object.hasOwn(keys, `${key}?`) ? keys[`${key}?`] : Object.hasOwn(keys, key) ? keys[key] : undefined
    const path = [...at, key]
    if (inner === undefined) {
      const inside = insideOf(key, keys)
      const near = inside.length > 0 ? { inside } : { nearest: nearest(key, known) }
      misspelt.add(near.nearest)
      problems.push(problem('unknown-key', { key, known, ...near }, { path }))
    } else if (own !== undefined) {
      const result = piece(inner, own, { ...context, at: path })
      if (typeof result !== 'symbol') fitted.set(key, result)
      else if (result === LOST || Object.hasOwn(keys, key)) isLost = true
    }
  }
  for (const key of known) {
    if (!Object.hasOwn(keys, key) || (Object.hasOwn(value, key) && value[key] !== undefined)) continue
    // A key that stands there misspelt is told as that alone.
    if (!misspelt.has(key)) problems.push(problem('missing-key', { key }, { path: at }))
    isLost = true
  }
  if (!isLost) return Object.fromEntries(fitted)
  // The whole is kept for what else is wrong in it; a part that lacks what it needs takes the rule or exhibit around it along.
  if (at.length > base) return LOST
  for (const key of known) if (!fitted.has(key) && Object.hasOwn(stand, key)) fitted.set(key, stand[key])
  return known.some((key) => Object.hasOwn(keys, key) && !fitted.has(key)) ? GONE : Object.fromEntries(fitted)
}

/** Of several shapes the one that fits, else the one that was most likely meant: the first that agrees on the kind of value. */
function alternative(shapes: readonly Shape[], value: unknown, context: Context): unknown {
  let meant: { fitted: unknown; problems: Problem[] } | undefined
  for (const shape of shapes) {
    const problems: Problem[] = []
    const fitted = piece(shape, value, { ...context, problems })
    if (problems.length === 0) return fitted
    if (meant === undefined && agrees(shape, value)) meant = { fitted, problems }
  }
  if (meant === undefined) return wrong([...new Set(shapes.flatMap(expected))].join(' or '), value, context)
  context.problems.push(...meant.problems)
  return meant.fitted
}

function agrees(shape: Shape, value: unknown): boolean {
  if (typeof shape === 'string') return false
  if ('any' in shape) return shape.any.some((own) => agrees(own, value))
  if ('list' in shape) return Array.isArray(value)
  if ('oneOf' in shape) return typeof value === 'string'
  if ('is' in shape) return typeof value === 'number'
  return isMap(value)
}

function expected(shape: Shape): string[] {
  if (shape === 'anything') return ['anything']
  if (typeof shape === 'string') return [WORDS[shape]]
  if ('any' in shape) return shape.any.flatMap(expected)
  if ('oneOf' in shape) return [shape.oneOf.join(' or ')]
  if ('is' in shape) return [shape.is === 'whole' ? 'a whole number' : 'a number']
  return ['list' in shape ? 'a list' : MAP]
}

/** The keys inside which a key would be known: `top` belongs inside rank. What may stand nearly anywhere belongs nowhere. */
function insideOf(key: string, keys: Readonly<Record<string, Shape>>): string[] {
  const inside = Object.keys(keys).filter((parent) => keysIn(keys[parent]).includes(key))
  return inside.length > 3 ? [] : inside.map((parent) => parent.replace('?', ''))
}

function keysIn(shape: Shape): string[] {
  if (typeof shape === 'string') return []
  if ('any' in shape) return shape.any.flatMap(keysIn)
  if ('list' in shape) return keysIn(shape.list)
  return 'keys' in shape ? Object.keys(shape.keys).map((key) => key.replace('?', '')) : []
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
