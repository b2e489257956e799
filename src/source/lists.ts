import { type Coder, createCoder } from '../column/column.js'

/**
 * A growing list of integers in a typed array, so that millions of them cost no garbage collection.
 */
export interface CodeList {
  readonly length: number
  push(code: number): void
  /** All of them; must not be changed. */
  values(): Int32Array
}

/** `expected` is the estimated length: growing copies the list. */
export function createCodeList(expected = 1024): CodeList {
  let list = new Int32Array(expected)
  let length = 0
  return {
    get length() {
      return length
    },
    push(code) {
      if (length === list.length) {
        const longer = new Int32Array(length * 2)
        longer.set(list)
        list = longer
      }
      list[length++] = code
    },
    values: () => list.subarray(0, length),
  }
}

/** The table of `createWordCoder` is doubled when it is this full. */
const MAX_LOAD = 0.5

/**
 * The same as a coder, for words cut out of a long text: such substrings are new each time, and a
 * Map would compute their hash more slowly than this.
 */
export function createWordCoder(): Coder {
  const { words } = createCoder()
  let slots = new Int32Array(64).fill(-1)
  const hashes: number[] = []
  const place = (hash: number): number => hash & (slots.length - 1)
  const grow = (): void => {
    slots = new Int32Array(slots.length * 2).fill(-1)
    for (let code = 0; code < words.length; code++) {
      let at = place(hashes[code])
      while (slots[at] >= 0) at = (at + 1) & (slots.length - 1)
      slots[at] = code
    }
  }
  return {
    words,
    code(text) {
      // FNV-1a over UTF-16 units; for long texts over their ends and their length.
      let hash = 0x811c9dc5 ^ text.length
      const end = Math.min(text.length, 32)
      for (let i = 0; i < end; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
      for (let i = Math.max(end, text.length - 32); i < text.length; i++)
        hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
      hash ^= hash >>> 15
      let at = place(hash)
      for (let code = slots[at]; code >= 0; code = slots[at]) {
        if (hashes[code] === hash && words[code] === text) return code
        at = (at + 1) & (slots.length - 1)
      }
      const code = words.length
      slots[at] = code
      words.push(text)
      hashes.push(hash)
      if (words.length > slots.length * MAX_LOAD) grow()
      return code
    },
  }
}
