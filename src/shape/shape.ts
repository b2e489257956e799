import { problem } from '../problem/input.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, ProblemError } from '../problem/problem.js'
import { RENAMED_IN_SPLIT, RENAMED_KEYS, RENAMED_VALUES } from '../problem/renamed.js'

/** The shape of a value. Keys of a map that end in `?` are optional. */
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

/** A value without its invalid parts, so that the rest can be checked in the same run. */
export interface Validated {
  /**
   * A copy. Undefined only if no part is valid. Invalid members of top-level lists, such as rules,
   * are null.
   */
  value: unknown
  problems: Problem[]
}

/** Marks an invalid part to be removed: its key, or the whole rule or exhibit around it. */
const REMOVED = Symbol('taken out')
const REMOVED_WITH_PARENT = Symbol('taken out with what is around it')

/**
 * Compares a value with a shape and tells all that is wrong with it, each at its path.
 *
 * @param defaults what takes the place of top-level keys that are missing, so that the rest can be
 *   reported, too.
 */
export function validate(
  shape: Shape,
  value: unknown,
  at: Path = [],
  defaults: Readonly<Record<string, unknown>> = {},
): Validated {
  const problems: Problem[] = []
  const result = validatePart(shape, value, { at, problems, defaults, base: at.length })
  return { value: typeof result === 'symbol' ? undefined : result, problems }
}

/**
 * Refuses a value that has not the shape.
 *
 * @throws ProblemError carrying every problem.
 */
export function checkShape(shape: Shape, value: unknown, at: Path = []): void {
  const { problems } = validate(shape, value, at)
  if (problems.length > 0) throw new ProblemError(problems)
}

interface Context {
  at: Path
  problems: Problem[]
  defaults: Readonly<Record<string, unknown>>
  /** The length of the path of the whole value. */
  base: number
}

function validatePart(shape: Shape, value: unknown, context: Context): unknown {
  if (shape === 'anything' || (shape === 'nothing' && value === null)) return value
  if (typeof shape === 'string')
    return typeof value === TYPES[shape] && !isNotFinite(value) ? value : wrong(WORDS[shape], value, context)
  if ('any' in shape) return validateUnion(shape.any, value, context)
  if ('oneOf' in shape) return shape.oneOf.includes(value as string) ? value : notOneOf(shape.oneOf, value, context)
  if ('is' in shape) return validateNumber(shape, value, context)
  if ('list' in shape) return validateList(shape, value, context)
  if (!isMap(value)) return wrong(MAP, value, context)
  return 'each' in shape ? validateRecord(shape.each, value, context) : validateObject(shape.keys, value, context)
}

const MAP = 'a map of keys and values'
const TYPES = { text: 'string', number: 'number', truth: 'boolean', function: 'function', nothing: undefined }
const WORDS = { text: 'a text', number: 'a number', truth: 'true or false', function: 'a function', nothing: 'null' }

function isNotFinite(value: unknown): boolean {
  return typeof value === 'number' && !Number.isFinite(value)
}

function wrong(expected: string, value: unknown, { at, problems }: Context): symbol {
  problems.push(problem('wrong-shape', { expected, found: foundText(value) }, { path: at }))
  return REMOVED
}

function notOneOf(values: readonly unknown[], value: unknown, { at, problems }: Context): symbol {
  const candidates = values.map(String)
  const text = typeof value === 'string' ? value : foundText(value)
  const now = Object.hasOwn(RENAMED_VALUES, text) ? RENAMED_VALUES[text] : undefined
  if (now !== undefined && (candidates.includes(now) || now.startsWith('['))) {
    problems.push(problem('renamed', { old: text, now }, { path: at }))
    return REMOVED
  }
  problems.push(
    problem('not-one-of', { found: text, known: candidates, nearest: nearest(text, candidates) }, { path: at }),
  )
  return REMOVED
}

/** A value in a message about its type. */
export function foundText(value: unknown): string {
  if (value === null || value === undefined) return 'nothing'
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object') return 'a map'
  if (typeof value === 'function') return 'a function'
  if (typeof value === 'string') return value === '' ? 'an empty text' : `'${value.slice(0, 40)}'`
  return String(value)
}

function validateNumber(shape: Extract<Shape, { is: string }>, value: unknown, context: Context): unknown {
  const { is, min = -Infinity, max = Infinity, above = -Infinity } = shape
  const isWhole = is === 'whole'
  if (typeof value !== 'number' || !Number.isFinite(value) || (isWhole && !Number.isSafeInteger(value)))
    return wrong(isWhole ? 'a whole number' : 'a number', value, context)
  if (value < min) return wrong(`at least ${min}`, value, context)
  if (value <= above) return wrong(`more than ${above}`, value, context)
  return value > max ? wrong(`at most ${max}`, value, context) : value
}

function validateList(
  { list: member, min = 0 }: Extract<Shape, { list: Shape }>,
  value: unknown,
  context: Context,
): unknown {
  if (!Array.isArray(value)) return wrong('a list', value, context)
  if (value.length < min)
    return wrong(min === 1 ? 'a list that is not empty' : `a list of at least ${min}`, value, context)
  const { at, base } = context
  let isIncomplete = false
  const items = value.map((item, i) => {
    const result = validatePart(member, item, { ...context, at: [...at, i] })
    if (typeof result !== 'symbol') return result
    isIncomplete = true
    return null
  })
  // Only top-level lists may have gaps: readers of a list inside a rule would have to handle them.
  return isIncomplete && at.length > base + 1 ? REMOVED_WITH_PARENT : items
}

function validateRecord(member: Shape, value: Readonly<Record<string, unknown>>, context: Context): unknown {
  const entries: [string, unknown][] = []
  for (const [name, item] of Object.entries(value)) {
    const result = validatePart(member, item, { ...context, at: [...context.at, name] })
    if (result === REMOVED_WITH_PARENT && context.at.length > context.base + 1) return REMOVED_WITH_PARENT
    if (typeof result !== 'symbol') entries.push([name, result])
  }
  return Object.fromEntries(entries)
}

/** The keys of a map by their names, without the question marks of those that may be missing. */
interface Entry {
  candidates: readonly string[]
  required: ReadonlySet<string>
  shapes: ReadonlyMap<string, Shape>
}

/** Shapes are few, and checked for every rule. */
const ENTRIES = new WeakMap<Readonly<Record<string, Shape>>, Entry>()

function entryOf(keys: Readonly<Record<string, Shape>>): Entry {
  let entry = ENTRIES.get(keys)
  if (entry === undefined) {
    const names = Object.keys(keys)
    const candidates = names.map((key) => key.replace('?', ''))
    const required = new Set(names.filter((key) => !key.endsWith('?')))
    entry = { candidates, required, shapes: new Map(names.map((key, i) => [candidates[i], keys[key]])) }
    ENTRIES.set(keys, entry)
  }
  return entry
}

function validateObject(
  keys: Readonly<Record<string, Shape>>,
  value: Readonly<Record<string, unknown>>,
  context: Context,
): unknown {
  const { at, problems, base, defaults } = context
  const { candidates, required, shapes } = entryOf(keys)
  const misspelt = new Set<string | undefined>()
  const kept = new Map<string, unknown>()
  let isIncomplete = false
  for (const [key, item] of Object.entries(value)) {
    const inner = shapes.get(key)
    const path = [...at, key]
    if (inner === undefined) {
      const now = renamedKey(key, candidates)
      if (now !== undefined) {
        misspelt.add(now)
        problems.push(problem('renamed', { old: key, now }, { path }))
        continue
      }
      const inside = insideOf(key, keys)
      const near = inside.length > 0 ? { inside } : { nearest: nearest(key, candidates) }
      misspelt.add(near.nearest)
      problems.push(problem('unknown-key', { key, known: candidates, ...near }, { path }))
    } else if (item !== undefined) {
      const result = validatePart(inner, item, { ...context, at: path })
      if (typeof result !== 'symbol') kept.set(key, result)
      else if (result === REMOVED_WITH_PARENT || required.has(key)) isIncomplete = true
    }
  }
  for (const key of required) {
    if (Object.hasOwn(value, key) && value[key] !== undefined) continue
    // A misspelt key is not reported as missing, too.
    if (!misspelt.has(key)) problems.push(problem('missing-key', { key }, { path: at }))
    isIncomplete = true
  }
  if (!isIncomplete) return Object.fromEntries(kept)
  // The whole value is kept to find other problems; a part without a required key removes its rule
  // or exhibit.
  if (at.length > base) return REMOVED_WITH_PARENT
  for (const key of candidates) if (!kept.has(key) && Object.hasOwn(defaults, key)) kept.set(key, defaults[key])
  return [...required].some((key) => !kept.has(key)) ? REMOVED : Object.fromEntries(kept)
}

/**
 * Of several shapes the one that fits, else the one most likely meant: the first with the kind of
 * the value.
 */
function validateUnion(shapes: readonly Shape[], value: unknown, context: Context): unknown {
  let meant: { result: unknown; problems: Problem[] } | undefined
  for (const shape of shapes) {
    const problems: Problem[] = []
    const result = validatePart(shape, value, { ...context, problems })
    if (problems.length === 0) return result
    if (meant === undefined && agrees(shape, value)) meant = { result, problems }
  }
  if (meant === undefined) return wrong([...new Set(shapes.flatMap(expected))].join(' or '), value, context)
  context.problems.push(...meant.problems)
  return meant.result
}

function agrees(shape: Shape, value: unknown): boolean {
  if (typeof shape === 'string') return false
  if ('any' in shape) return shape.any.some((alternative) => agrees(alternative, value))
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

/** The present name of a renamed key, if that is allowed here. */
function renamedKey(key: string, candidates: readonly string[]): string | undefined {
  const names = [RENAMED_IN_SPLIT, RENAMED_KEYS].flatMap((names) => (Object.hasOwn(names, key) ? [names[key]] : []))
  return names.find((name) => candidates.includes(name))
}

/**
 * Keys in which a misplaced key would be valid: `top` belongs inside rank. Empty if many would be.
 */
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
