import type { Path } from '../../problem/problem.js'

/** Edits of plain values: what an edit of a text must come to. Each gives a new value. */

export type PlainMap = Readonly<Record<string, unknown>>

export function isPlainMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** The value at a path; undefined if there is none. */
export function valueAt(tree: unknown, path: Path): unknown {
  let value = tree
  for (const step of path) {
    if (Array.isArray(value)) value = typeof step === 'number' ? value[step] : undefined
    else if (isPlainMap(value)) value = Object.hasOwn(value, String(step)) ? value[String(step)] : undefined
    else return undefined
  }
  return value
}

/** The tree with another value at a path; maps on the way are made. */
export function withValue(tree: unknown, path: Path, value: unknown): unknown {
  if (path.length === 0) return value
  const [step, ...rest] = path
  if (Array.isArray(tree)) {
    const list = [...tree]
    list[Number(step)] = withValue(list[Number(step)], rest, value)
    return list
  }
  const map = isPlainMap(tree) ? tree : {}
  const key = String(step)
  return withKey(map, key, withValue(Object.hasOwn(map, key) ? map[key] : undefined, rest, value))
}

/** Also for keys such as `__proto__`. */
function withKey(map: PlainMap, key: string, value: unknown): Record<string, unknown> {
  const entries = Object.entries(map)
  const at = entries.findIndex(([own]) => own === key)
  if (at < 0) entries.push([key, value])
  else entries[at] = [key, value]
  return Object.fromEntries(entries)
}

/** The tree without what is at a path. */
export function withoutValue(tree: unknown, path: Path): unknown {
  const parent = path.slice(0, -1)
  const step = path[path.length - 1]
  const holder = valueAt(tree, parent)
  if (Array.isArray(holder)) return withValue(tree, parent, holder.toSpliced(Number(step), 1))
  if (!isPlainMap(holder)) return tree
  return withValue(tree, parent, Object.fromEntries(Object.entries(holder).filter(([key]) => key !== String(step))))
}

/** The tree with a new value in a list, or under a key of a map. */
export function withEntry(tree: unknown, path: Path, entry: { key?: string; value: unknown }, at: number): unknown {
  const holder = valueAt(tree, path)
  const { key, value } = entry
  if (key === undefined) {
    const list = Array.isArray(holder) ? holder : []
    return withValue(tree, path, list.toSpliced(at, 0, value))
  }
  const entries = Object.entries(isPlainMap(holder) ? holder : {})
  entries.splice(at, 0, [key, value])
  return withValue(tree, path, Object.fromEntries(entries))
}

/** The tree with an entry at another index of its list or map. */
export function withMoved(tree: unknown, path: Path, to: number): unknown {
  const parent = path.slice(0, -1)
  const step = path[path.length - 1]
  const holder = valueAt(tree, parent)
  if (Array.isArray(holder)) {
    const list = [...holder]
    list.splice(to, 0, ...list.splice(Number(step), 1))
    return withValue(tree, parent, list)
  }
  const entries = Object.entries(isPlainMap(holder) ? holder : {})
  const from = entries.findIndex(([key]) => key === String(step))
  entries.splice(to, 0, ...entries.splice(from, 1))
  return withValue(tree, parent, Object.fromEntries(entries))
}

/** Whether two values are the same; maps without regard to the order of their keys. */
export function isSame(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return Object.is(a, b)
  if (Array.isArray(a) !== Array.isArray(b)) return false
  const [left, right] = [a as PlainMap, b as PlainMap]
  const keys = Object.keys(left)
  return (
    keys.length === Object.keys(right).length &&
    keys.every((key) => Object.hasOwn(right, key) && isSame(left[key], right[key]))
  )
}
