import { type Problem, problem } from '../problem/problem.js'
import { foundText } from '../shape/shape.js'
import type { NamedKind } from './edits.js'
import { isPlainMap } from './text/plain.js'

const KINDS: readonly NamedKind[] = [
  'source',
  'field',
  'measure',
  'parameter',
  'status',
  'rule',
  'exhibit',
  'pigment',
  'icon',
]

/** The most levels of a value, and the most values in it. */
const MAX_DEPTH = 32
const MAX_VALUES = 20_000

type Check = (value: unknown) => string | undefined

const isText: Check = (value) => (typeof value === 'string' ? undefined : 'a text')
const isName: Check = (value) => (typeof value === 'string' && value.trim() !== '' ? undefined : 'a name')
const isIndex: Check = (value) => (Number.isSafeInteger(value) && Number(value) >= 0 ? undefined : 'an index')
const isPath: Check = (value) =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.every((step) => typeof step === 'string' || isIndex(step) === undefined)
    ? undefined
    : 'a path: a list of names and indices'
const isKind: Check = (value) => (KINDS.includes(value as NamedKind) ? undefined : `one of ${KINDS.join(', ')}`)
const isRule: Check = (value) => (typeof value === 'number' ? isIndex(value) : isName(value))
const isWritable: Check = (value) => {
  let count = 0
  const walk = (one: unknown, depth: number): boolean => {
    if (depth > MAX_DEPTH || ++count > MAX_VALUES) return false
    if (Array.isArray(one)) return one.every((item) => walk(item, depth + 1))
    if (isPlainMap(one)) return Object.values(one).every((item) => walk(item, depth + 1))
    return typeof one === 'string' || typeof one === 'boolean' || (typeof one === 'number' && Number.isFinite(one))
  }
  return walk(value, 0) ? undefined : 'a text, number, true, false, or a map or list of them'
}

/** The keys of each edit, with what they take; those with a question mark may be left out. */
const EDITS: Readonly<Record<string, Readonly<Record<string, Check>>>> = {
  set: { path: isPath, value: isWritable },
  unset: { path: isPath },
  insert: { path: isPath, value: isWritable, 'key?': isText, 'at?': isIndex },
  move: { path: isPath, to: isIndex },
  remove: { path: isPath },
  duplicate: { path: isPath, 'name?': isName },
  rename: { kind: isKind, from: isText, to: isText, 'in?': isName },
  copyRule: { rule: isRule, measure: isName, 'name?': isName },
  extract: { path: isPath, name: isName },
}

/** What is wrong with the shape of an edit; empty if nothing is. */
export function checkEdit(edit: unknown): Problem[] {
  if (!isPlainMap(edit)) return [problem('wrong-shape', { expected: 'an edit', found: foundText(edit) }, { path: [] })]
  const keys = typeof edit.do === 'string' && Object.hasOwn(EDITS, edit.do) ? EDITS[edit.do] : undefined
  if (keys === undefined)
    return [problem('not-one-of', { found: foundText(edit.do), known: Object.keys(EDITS) }, { path: ['do'] })]
  return Object.entries(keys).flatMap(([written, check]) => {
    const key = written.replace('?', '')
    if (written.endsWith('?') && edit[key] === undefined) return []
    const expected = check(edit[key])
    return expected === undefined
      ? []
      : [problem('wrong-shape', { expected, found: foundText(edit[key]) }, { path: [key] })]
  })
}
