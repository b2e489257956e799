import type { z } from 'zod'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import { type ReportSpec, reportSchema } from './schema.js'

/** A report tree whose faulty pieces are taken out, so that the rest can be checked in the same go. */
export interface Shaped {
  /** Undefined only when nothing of it could be kept. Faulty rules and exhibits are null. */
  spec: ReportSpec | undefined
  problems: Problem[]
}

type Issue = z.core.$ZodIssue

/** Checks the shape of a tree against the schema and tells all that is wrong with it. */
export function shapeReport(tree: unknown): Shaped {
  const problems: Problem[] = []
  let current = tree
  // Each round takes out what the last one told; what hid behind it shows in the next. A few rounds are enough for any depth.
  for (let round = 0; round < 8; round++) {
    const result = reportSchema.safeParse(withoutHoles(current))
    if (result.success)
      return {
        spec: withHoles(current, result.data) as ReportSpec,
        problems: problems.filter((p) => !isMisspelt(p, problems)),
      }
    const issues = result.error.issues.flatMap((issue) => leaves(issue, current))
    for (const issue of issues) for (const p of problemsOf(issue, current)) if (isNew(p, problems)) problems.push(p)
    const pruned = prune(current, issues)
    if (pruned === undefined) return { spec: undefined, problems }
    current = pruned
  }
  return { spec: undefined, problems }
}

/** A missing key that stands there misspelt, or with a value that was told and taken out, is told as that alone. */
function isMisspelt(p: Problem, told: readonly Problem[]): boolean {
  if (p.code !== 'missing-key') return false
  const at = String(p.place.path)
  return told.some(
    (q) =>
      String(q.place.path?.slice(0, -1)) === at &&
      (q.code === 'unknown-key' ? q.params.nearest === p.params.key : q.place.path?.at(-1) === p.params.key),
  )
}

function isNew(p: Problem, told: readonly Problem[]): boolean {
  return !told.some((q) => q.message === p.message && String(q.place.path) === String(p.place.path))
}

/** Holes left by pruning stand as null in our tree; the schema is shown lists without them. */
function withoutHoles(tree: unknown): unknown {
  if (Array.isArray(tree)) return tree.filter((item) => item !== HOLE).map(withoutHoles)
  if (!isMap(tree)) return tree
  return Object.fromEntries(Object.entries(tree).map(([key, value]) => [key, withoutHoles(value)]))
}

const HOLE = Symbol('a member that was told and taken out')

function withHoles(tree: unknown, parsed: unknown): unknown {
  if (Array.isArray(tree) && Array.isArray(parsed)) {
    let next = 0
    return tree.map((item) => (item === HOLE ? null : withHoles(item, parsed[next++])))
  }
  if (!isMap(tree) || !isMap(parsed)) return parsed
  return Object.fromEntries(Object.entries(parsed).map(([key, value]) => [key, withHoles(tree[key], value)]))
}

/** The path of an issue counts lists without their holes; ours counts all. */
function ownPath(path: Path, tree: unknown): Path {
  const out: (string | number)[] = []
  let at = tree
  for (const step of path) {
    let own = step
    if (Array.isArray(at) && typeof step === 'number') {
      let seen = -1
      own = at.findIndex((item) => item !== HOLE && ++seen === step)
    }
    out.push(own)
    at = isMap(at) || Array.isArray(at) ? (at as Record<string | number, unknown>)[own] : undefined
  }
  return out
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** Of the branches of a union, the one that the writer most likely meant: the one that agrees on the kind of value. */
function leaves(issue: Issue, tree: unknown): Issue[] {
  const path = ownPath(issue.path as Path, tree)
  if (issue.code !== 'invalid_union') return [{ ...issue, path: [...path] } as Issue]
  const value = valueAt(tree, path)
  const found = issue.errors.find((branch) => !disagrees(branch, value))
  const meant = found?.map((inner) => ({ ...inner, path: [...issue.path, ...inner.path] }) as Issue)
  if (meant !== undefined && (isMap(value) || Array.isArray(value) || typeof value === 'string'))
    return meant.flatMap((inner) => leaves(inner, tree))
  return [{ ...issue, path: [...path] } as Issue]
}

/** Whether a branch of a union wants another kind of value altogether: its paths are relative to the value. */
function disagrees(branch: readonly Issue[], value: unknown): boolean {
  const isWhole = isMap(value) || Array.isArray(value)
  return branch.some((inner) => {
    if (inner.path.length > 0) return false
    if (inner.code === 'invalid_union') return inner.errors.every((own) => disagrees(own, value))
    return inner.code === 'invalid_type' || (inner.code === 'invalid_value' && isWhole)
  })
}

function valueAt(tree: unknown, path: Path): unknown {
  let at = tree
  for (const step of path)
    at = isMap(at) || Array.isArray(at) ? (at as Record<string | number, unknown>)[step] : undefined
  return at
}

function problemsOf(issue: Issue, tree: unknown): Problem[] {
  const path = issue.path as Path
  if (issue.code === 'unrecognized_keys') {
    const known = knownKeys(path)
    return issue.keys.map((key) => {
      const inside = parentsOf(key, path, known)
      const near = inside.length > 0 ? { inside } : { nearest: nearest(key, known) }
      return problem('unknown-key', { key, known, ...near }, { path: [...path, key] })
    })
  }
  const value = valueAt(tree, path)
  if (value === undefined) return [problem('missing-key', { key: String(path.at(-1)) }, { path: path.slice(0, -1) })]
  if (issue.code === 'invalid_value') {
    const known = issue.values.map(String)
    const found = typeof value === 'string' ? value : kindText(value)
    return [problem('not-one-of', { found, known, nearest: nearest(found, known) }, { path })]
  }
  return [problem('wrong-shape', { expected: expectedText(issue), found: kindText(value) }, { path })]
}

function expectedText(issue: Issue): string {
  if (issue.code === 'invalid_type') return WORDS[issue.expected] ?? `${issue.expected}`
  if (issue.code === 'invalid_union') {
    const kinds = issue.errors.flatMap((branch) => branch.slice(0, 1).map(expectedText))
    return [...new Set(kinds)].join(' or ')
  }
  if (issue.code === 'too_small')
    return issue.origin === 'array' ? 'a list that is not empty' : `at least ${issue.minimum}`
  if (issue.code === 'too_big') return `at most ${issue.maximum}`
  if (issue.code === 'invalid_value') return issue.values.map(String).join(' or ')
  return issue.message
}

const WORDS: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'a map of keys and values',
  record: 'a map of keys and values',
}

function kindText(value: unknown): string {
  if (value === null) return 'nothing'
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object') return 'a map'
  if (typeof value === 'string') return value === '' ? 'an empty text' : `'${value.slice(0, 40)}'`
  return String(value)
}

/** The keys that the schema knows at a place, for the nearest name. */
function knownKeys(path: Path): string[] {
  let at: unknown[] = [reportSchema]
  for (const step of path) at = at.flatMap((schema) => inside(schema, step))
  return [...new Set(at.flatMap((schema) => opened(schema)).flatMap((s) => Object.keys(shapeOf(s) ?? {})))]
}

/** The keys at a place inside which a key would be known: `top` belongs inside rank. */
function parentsOf(key: string, path: Path, known: readonly string[]): string[] {
  const found = known.filter((parent) => {
    const own = [...path, parent]
    return knownKeys(own).includes(key) || knownKeys([...own, 0]).includes(key)
  })
  // What may stand nearly anywhere belongs nowhere.
  return found.length > 3 ? [] : found
}

interface AnySchema {
  def: {
    type: string
    innerType?: unknown
    options?: unknown[]
    element?: unknown
    valueType?: unknown
    shape?: Record<string, unknown>
  }
}

/** Looks through optional and union. */
function opened(schema: unknown): AnySchema[] {
  const { def } = schema as AnySchema
  if (def.type === 'optional') return opened(def.innerType)
  if (def.type === 'union') return (def.options ?? []).flatMap(opened)
  return [schema as AnySchema]
}

function shapeOf(schema: AnySchema): Record<string, unknown> | undefined {
  return schema.def.type === 'object' ? schema.def.shape : undefined
}

function inside(schema: unknown, step: string | number): unknown[] {
  return opened(schema).flatMap((own) => {
    if (own.def.type === 'array' && typeof step === 'number') return [own.def.element]
    if (own.def.type === 'record') return [own.def.valueType]
    const child = shapeOf(own)?.[String(step)]
    return child === undefined ? [] : [child]
  })
}

/** The tree without what the issues are about; undefined when its root is at fault. */
function prune(tree: unknown, issues: readonly Issue[]): unknown | undefined {
  const copy = structuredCloneHoles(tree)
  for (const issue of issues) {
    const path = issue.path as Path
    if (issue.code === 'unrecognized_keys') {
      const map = valueAt(copy, path)
      if (isMap(map)) for (const key of issue.keys) delete map[key]
    } else if (!removeAt(copy, path, valueAt(copy, path) === undefined)) return undefined
  }
  return copy
}

/** Takes out the value; where a needed key is missing, what misses it. A rule or an exhibit leaves a hole. */
function removeAt(tree: unknown, path: Path, absent: boolean): boolean {
  // What misses a needed key goes with the whole exhibit: without its chart, that would be said to show nothing.
  const own = absent ? path.slice(0, path[0] === 'exhibits' ? Math.min(2, path.length - 1) : -1) : path
  if (own.length === 0) return patchRoot(tree, path)
  const parent = valueAt(tree, own.slice(0, -1))
  const step = own.at(-1) as string | number
  if (Array.isArray(parent) && typeof step === 'number') {
    // Only rules and exhibits may have holes: whoever reads a list inside one would have to know of them.
    if (own.length > 2) return removeAt(tree, own.slice(0, 2), false)
    parent[step] = HOLE
    return true
  }
  if (!isMap(parent)) return false
  if (parent[step] === undefined && own.length > 1) return removeAt(tree, own.slice(0, -1), false)
  delete parent[step]
  return true
}

/** A missing top-level key gets an empty stand-in, so that the rest can still be checked. */
function patchRoot(tree: unknown, path: Path): boolean {
  const stand: Record<string, unknown> = { title: '', sources: {}, exhibits: [] }
  const key = String(path[0])
  if (!isMap(tree) || !Object.hasOwn(stand, key) || tree[key] !== undefined) return false
  tree[key] = stand[key]
  return true
}

function structuredCloneHoles(tree: unknown): unknown {
  if (Array.isArray(tree)) return tree.map(structuredCloneHoles)
  if (!isMap(tree)) return tree
  return Object.fromEntries(Object.entries(tree).map(([key, value]) => [key, structuredCloneHoles(value)]))
}
