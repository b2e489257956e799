/**
 * Typed columns. Missing has one form: NaN in numbers and dates, -1 in codes and conditions. Values
 * are never changed after a column is created.
 */
export type Column = NumberColumn | TextColumn | DateColumn | ConditionColumn

export interface NumberColumn {
  kind: 'number'
  values: Float64Array
}

/** Text by dictionary: `words[codes[i]]`. Each word occurs once. */
export interface TextColumn {
  kind: 'text'
  codes: Int32Array
  words: readonly string[]
  /** Whether the words are in the order of the report's locale already. */
  sorted?: true
}

/** Days since 1970-01-01; a coarser date (a month) is its first day. */
export interface DateColumn {
  kind: 'date'
  values: Float64Array
}

/** 1 true, 0 false, -1 missing. */
export interface ConditionColumn {
  kind: 'condition'
  values: Int8Array
}

/** Codes a list of texts; null and undefined are missing. */
export function textColumn(texts: readonly (string | null | undefined)[]): TextColumn {
  const coder = createCoder()
  const codes = new Int32Array(texts.length)
  for (let i = 0; i < texts.length; i++) {
    const text = texts[i]
    codes[i] = text === null || text === undefined ? -1 : coder.code(text)
  }
  return { kind: 'text', codes, words: coder.words }
}

export interface Coder {
  readonly words: string[]
  code(text: string): number
}

/** Gives each distinct text the next whole number. */
export function createCoder(): Coder {
  const seen = new Map<string, number>()
  const words: string[] = []
  return {
    words,
    code(text) {
      let code = seen.get(text)
      if (code === undefined) {
        code = words.length
        seen.set(text, code)
        words.push(text)
      }
      return code
    },
  }
}
