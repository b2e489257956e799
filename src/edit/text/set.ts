import { isCollection, isMap, isScalar, isSeq, type Node } from 'yaml'
import type { Path } from '../../problem/problem.js'
import { isPlainMap, isSame, valueAt } from './plain.js'
import { insertAt, removeAt, replaceAt } from './primitives.js'
import { nodeAt, plainTree, readSource, type Source } from './source.js'

/**
 * Sets a value by the smallest edits: of a map or list only what differs is written, so that the
 * rest keeps its bytes.
 *
 * @param sections the keys of the file in their order, for a section that is new.
 */
export function setAt(
  written: string,
  path: Path,
  value: unknown,
  sections: readonly string[] = [],
): string | undefined {
  const source = readSource(written)
  if (source === undefined) return undefined
  const node = nodeAt(source, path)
  if (node === undefined) return insertOnTheWay(written, source, path, value, sections)
  const now = valueAt(plainTree(written), path)
  if (isSame(now, value)) return written
  if (isMap(node) && isPlainMap(value) && node.items.length > 0 && Object.keys(value).length > 0)
    return setMap(written, path, now as Record<string, unknown>, value, sections)
  if (isSeq(node) && Array.isArray(value) && node.items.length > 0 && value.length > 0)
    return setList(written, path, now as unknown[], value, sections)
  return replaceAt(written, path, value)
}

function setMap(
  written: string,
  path: Path,
  now: Readonly<Record<string, unknown>>,
  value: Readonly<Record<string, unknown>>,
  sections: readonly string[],
): string | undefined {
  let text: string | undefined = written
  // What stays is written first, so that the map is never empty in between.
  for (const [key, item] of Object.entries(value)) {
    if (text === undefined) return undefined
    if (Object.hasOwn(now, key)) text = setAt(text, [...path, key], item, sections)
    else text = insertKey(text, path, key, item, value)
  }
  for (const key of Object.keys(now))
    if (text !== undefined && !Object.hasOwn(value, key)) text = removeAt(text, [...path, key])
  return text
}

/** A new key stands behind the one that it follows in the new map. */
function insertKey(
  text: string,
  path: Path,
  key: string,
  item: unknown,
  value: Readonly<Record<string, unknown>>,
): string | undefined {
  const source = readSource(text)
  const node = source === undefined ? undefined : nodeAt(source, path)
  if (!isMap(node)) return undefined
  const keys = node.items.map((pair) => (isScalar(pair.key) ? String(pair.key.value) : ''))
  const order = Object.keys(value)
  const before = order.slice(0, order.indexOf(key)).findLast((own) => keys.includes(own))
  const at = before === undefined ? 0 : keys.indexOf(before) + 1
  return insertAt(text, path, { key, value: item }, at)
}

function setList(
  written: string,
  path: Path,
  now: readonly unknown[],
  value: readonly unknown[],
  sections: readonly string[],
): string | undefined {
  let text: string | undefined = written
  let at = 0
  for (const step of listSteps(now, value)) {
    if (text === undefined) return undefined
    const own: string = text
    if (step.is === 'set') text = setAt(own, [...path, at], step.value, sections)
    else if (step.is === 'insert') text = insertAt(own, path, { value: step.value }, at)
    else if (step.is === 'remove') text = removeAt(own, [...path, at])
    if (step.is !== 'remove') at++
  }
  return text
}

type ListStep = { is: 'keep' | 'remove' } | { is: 'set' | 'insert'; value: unknown }

/** How one list becomes another: what both have is kept, in the longest common order. */
function listSteps(now: readonly unknown[], value: readonly unknown[]): ListStep[] {
  const [n, m] = [now.length, value.length]
  const length = Array.from({ length: n + 1 }, () => new Uint32Array(m + 1))
  const same = now.map((a) => value.map((b) => isSame(a, b)))
  for (let i = n - 1; i >= 0; i--)
    for (let k = m - 1; k >= 0; k--)
      length[i][k] = same[i][k] ? length[i + 1][k + 1] + 1 : Math.max(length[i + 1][k], length[i][k + 1])
  const steps: ListStep[] = []
  let [i, k] = [0, 0]
  while (i < n || k < m) {
    if (i < n && k < m && same[i][k]) {
      steps.push({ is: 'keep' })
      i++
      k++
      continue
    }
    // Between what is kept, values take the places of values.
    const [a, b] = [i, k]
    while (i < n && (k >= m || length[i + 1][k] >= length[i][k])) i++
    while (k < m && length[i][k + 1] >= length[i][k] && !(i < n && same[i][k])) k++
    const common = Math.min(i - a, k - b)
    for (let s = 0; s < common; s++) steps.push({ is: 'set', value: value[b + s] })
    for (let s = common; s < k - b; s++) steps.push({ is: 'insert', value: value[b + s] })
    for (let s = common; s < i - a; s++) steps.push({ is: 'remove' })
  }
  return steps
}

/** Makes the maps that are missing on the way to a value. */
function insertOnTheWay(
  written: string,
  source: Source,
  path: Path,
  value: unknown,
  sections: readonly string[],
): string | undefined {
  let depth = path.length - 1
  let holder: Node | null | undefined
  while (depth >= 0) {
    holder = depth === 0 ? source.root : nodeAt(source, path.slice(0, depth))
    if (holder !== undefined) break
    depth--
  }
  const steps = path.slice(depth + 1)
  if (steps.some((step) => typeof step === 'number')) return undefined
  const whole = steps.reduceRight((inner: unknown, step) => ({ [step]: inner }), value)
  const step = path[depth]
  const isNothing = holder === null || (isScalar(holder) && holder.value === null)
  if (!isCollection(holder) && !isNothing) return undefined
  if (typeof step === 'number')
    return isSeq(holder) && step === holder.items.length
      ? insertAt(written, path.slice(0, depth), { value: whole }, step)
      : undefined
  const at = depth === 0 ? sectionPlace(source, step, sections) : isMap(holder) ? holder.items.length : 0
  return insertAt(written, path.slice(0, depth), { key: step, value: whole }, at)
}

/** Where a new section stands: in the order of the schema. */
function sectionPlace({ root }: Source, key: string, sections: readonly string[]): number {
  const place = sections.indexOf(key)
  const keys = root.items.map((pair) => (isScalar(pair.key) ? String(pair.key.value) : ''))
  const after = keys.findIndex((own) => sections.indexOf(own) > place)
  return place < 0 || after < 0 ? keys.length : after
}
