import type { StoredSource } from '../../summary/memory/stored.js'
import { mapLists } from './stored-lists.js'

/**
 * Numbers of a page as bytes: JSON would be three times as long. A list is whole numbers over a
 * power of ten, each folded (0, -1, 1, -2 become 0, 1, 2, 3) and split into planes of bytes, so
 * that equal high bytes are neighbours and deflate well; else doubles as they are. Missing values
 * are a bitmap.
 */

/** Where a list is among the bytes. */
export interface PackedList {
  /** Its first byte. */
  from: number
  length: number
  /** The bytes of each whole number, 0 to 4; 8 for doubles; -1 for texts as JSON. */
  planes: number
  /** By what the whole numbers are divided; 1 if left out. */
  scale?: number
  /** Whether each whole number is the difference to the one before. */
  delta?: true
  /** Whether a bitmap of missing values follows. */
  missing?: true
}

/** Shorter lists stay JSON, and all lists of a page with fewer numbers. */
const MIN_PACKED = 64
const MIN_NUMBERS = 20_000
const SCALES = [1, 10, 100, 1000]

/** A growing list of bytes. */
interface Bytes {
  parts: Uint8Array[]
  length: number
  /** Lists that are there already, by their content: all counts of a source are often equal. */
  lists: Map<string, PackedList>
}

/** The data of sources with their lists packed, and the bytes. */
export function packSources(stored: Readonly<Record<string, StoredSource>>): { sources: unknown; bytes: Uint8Array } {
  const bytes: Bytes = { parts: [], length: 0, lists: new Map() }
  const least = numbersIn(stored) < MIN_NUMBERS ? Number.POSITIVE_INFINITY : MIN_PACKED
  const sources = mapLists(stored, {
    numbers(list) {
      const values = list as readonly (number | null)[] | Float64Array
      return values.length < least ? [...values] : packList(values, bytes)
    },
    words(list) {
      const texts = list as readonly string[]
      return texts.length < least ? texts : packTexts(texts, bytes)
    },
  })
  const all = new Uint8Array(bytes.length)
  let at = 0
  for (const part of bytes.parts) {
    all.set(part, at)
    at += part.length
  }
  return { sources, bytes: all }
}

/** How many numbers the sources have, about: those of their rows. */
function numbersIn(stored: Readonly<Record<string, StoredSource>>): number {
  return Object.values(stored).reduce((all, { rows, records, parts = {} }) => {
    const lists = rows.columns.length + Object.keys(parts).length
    return all + rows.length * lists + (records === undefined ? 0 : records.length * records.columns.length)
  }, 0)
}

function add(bytes: Bytes, part: Uint8Array): void {
  bytes.parts.push(part)
  bytes.length += part.length
}

function packTexts(texts: readonly string[], bytes: Bytes): PackedList {
  const part = new TextEncoder().encode(JSON.stringify(texts))
  const packed: PackedList = { from: bytes.length, length: part.length, planes: -1 }
  add(bytes, part)
  return packed
}

function packList(values: readonly (number | null)[] | Float64Array, bytes: Bytes): PackedList {
  const content = JSON.stringify(Array.from(values as Iterable<number | null>))
  const packed = bytes.lists.get(content) ?? addList(values, bytes)
  bytes.lists.set(content, packed)
  return packed
}

function addList(values: readonly (number | null)[] | Float64Array, bytes: Bytes): PackedList {
  const { length } = values
  const from = bytes.length
  const missing = new Uint8Array((length + 7) >> 3)
  const numbers = new Float64Array(length)
  let lacks = false
  for (let i = 0; i < length; i++) {
    const value = values[i]
    if (value === null || Number.isNaN(value)) {
      missing[i >> 3] |= 1 << (i & 7)
      lacks = true
    } else numbers[i] = value
  }
  const scale = SCALES.find((by) => numbers.every((x) => isWhole(x, by)))
  if (scale === undefined) add(bytes, new Uint8Array(numbers.buffer))
  const { planes, delta } = scale === undefined ? { planes: 8, delta: false } : addPlanes(numbers, scale, bytes)
  if (lacks) add(bytes, missing)
  return {
    from,
    length,
    planes,
    ...(scale !== undefined && scale !== 1 && { scale }),
    ...(delta && { delta }),
    ...(lacks && { missing: true }),
  }
}

/** Whether a number is so many thousandths, and small enough for planes; zero has no sign here. */
function isWhole(x: number, by: number): boolean {
  const whole = Math.round(x * by)
  return whole / by === x && Math.abs(whole) < 2 ** 29 && !Object.is(x, -0)
}

function addPlanes(numbers: Float64Array, scale: number, bytes: Bytes): { planes: number; delta: boolean } {
  const plain = Uint32Array.from(numbers, (x) => fold(Math.round(x * scale)))
  const steps = new Uint32Array(plain.length)
  let before = 0
  for (let i = 0; i < steps.length; i++) {
    const whole = Math.round(numbers[i] * scale)
    steps[i] = fold(whole - before)
    before = whole
  }
  const sum = (list: Uint32Array): number => list.reduce((all, x) => all + x, 0)
  // Sorted codes and days are short as differences.
  const delta = sum(steps) < sum(plain)
  const list = delta ? steps : plain
  const most = list.reduce((a, b) => Math.max(a, b), 0)
  const planes = most === 0 ? 0 : Math.floor(Math.log2(most) / 8) + 1
  for (let plane = 0; plane < planes; plane++)
    add(
      bytes,
      Uint8Array.from(list, (x) => (x >>> (8 * plane)) & 255),
    )
  return { planes, delta }
}

function fold(x: number): number {
  return ((x << 1) ^ (x >> 31)) >>> 0
}
