import type { StoredSource } from '../../summary/memory/stored.js'
import type { PackedList } from './pack-lists.js'
import { mapLists } from './stored-lists.js'

/** The data of sources whose lists are packed; the opposite of `packSources`. */
export function unpackSources(packed: unknown, bytes: Uint8Array): Record<string, StoredSource> {
  const lists = new Map<number, Float64Array | string[]>()
  const list = (value: unknown): unknown => {
    if (Array.isArray(value)) return value
    const place = value as PackedList
    // Equal lists are stored once. One of zeros has no bytes, so another may begin at its place.
    const unpacked = (place.planes === 0 ? undefined : lists.get(place.from)) ?? unpackList(place, bytes)
    if (place.planes !== 0) lists.set(place.from, unpacked)
    return unpacked
  }
  return mapLists(packed as Record<string, StoredSource>, { numbers: list, words: list }) as Record<
    string,
    StoredSource
  >
}

function unpackList(
  { from, length, planes, scale = 1, delta, missing }: PackedList,
  bytes: Uint8Array,
): Float64Array | string[] {
  if (planes < 0) return JSON.parse(new TextDecoder().decode(bytes.subarray(from, from + length)))
  // Doubles need not begin at a multiple of eight bytes.
  const values =
    planes === 8
      ? new Float64Array(new Uint8Array(bytes.subarray(from, from + 8 * length)).buffer)
      : new Float64Array(length)
  const after = from + planes * length
  if (planes !== 8) {
    const plane = (k: number): Uint8Array | undefined =>
      k < planes ? bytes.subarray(from + k * length, from + (k + 1) * length) : undefined
    const [low, second, third, high] = [0, 1, 2, 3].map(plane)
    const none = (): Uint8Array => new Uint8Array(length)
    const steps = delta === true
    if (low !== undefined && third === undefined) unfoldLow(low, second ?? none(), values, scale, steps)
    else if (low !== undefined && second !== undefined && third !== undefined)
      unfold(low, second, third, high ?? none(), values, scale, steps)
  }
  if (missing === true)
    for (let i = 0; i < length; i++) if ((bytes[after + (i >> 3)] >> (i & 7)) & 1) values[i] = Number.NaN
  return values
}

// The loops are functions of their own, so that each is compiled as a whole.

/** Most numbers have two bytes: a loop of its own. With `steps` each is added to the one before. */
function unfoldLow(low: Uint8Array, high: Uint8Array, values: Float64Array, scale: number, steps: boolean): void {
  let whole = 0
  for (let i = 0; i < values.length; i++) {
    const folded = low[i] | (high[i] << 8)
    whole = ((folded >>> 1) ^ -(folded & 1)) + (steps ? whole : 0)
    values[i] = whole / scale
  }
}

function unfold(
  low: Uint8Array,
  second: Uint8Array,
  third: Uint8Array,
  high: Uint8Array,
  values: Float64Array,
  scale: number,
  steps: boolean,
): void {
  let whole = 0
  for (let i = 0; i < values.length; i++) {
    const folded = low[i] | (second[i] << 8) | (third[i] << 16) | (high[i] << 24)
    whole = ((folded >>> 1) ^ -(folded & 1)) + (steps ? whole : 0)
    values[i] = whole / scale
  }
}

/** Newer browsers read base64 themselves. */
function bytesOf(text: string): Uint8Array<ArrayBuffer> {
  const { fromBase64 } = Uint8Array as { fromBase64?: (text: string) => Uint8Array<ArrayBuffer> }
  if (fromBase64 !== undefined) return fromBase64.call(Uint8Array, text)
  const letters = atob(text)
  const bytes = new Uint8Array(letters.length)
  for (let i = 0; i < bytes.length; i++) bytes[i] = letters.charCodeAt(i)
  return bytes
}

/** Bytes from base64, inflated. */
export async function inflated(text: string): Promise<Uint8Array> {
  const packed = bytesOf(text)
  const reader = new Blob([packed]).stream().pipeThrough(new DecompressionStream('deflate-raw')).getReader()
  const parts: Uint8Array[] = []
  let length = 0
  for (let next = await reader.read(); !next.done; next = await reader.read()) {
    parts.push(next.value)
    length += next.value.length
  }
  const bytes = new Uint8Array(length)
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}
