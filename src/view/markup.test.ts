import { expect, test } from 'vitest'
import { escapeText } from './markup.js'

test('a short text is escaped as a long one is, whatever its letters, and nothing that means something in markup is left', () => {
  const rest = 'x'.repeat(40)
  const wrong: string[] = []
  for (let code = 0; code < 0x10000; code++) {
    const letter = String.fromCharCode(code)
    const short = escapeText(`a${letter}b`)
    const right = /[&<>"']/.test(letter)
      ? /^a&(#\d+|\w+);b$/.test(short)
      : /[\ud800-\udfff\ufffe\uffff]/.test(letter)
        ? short === 'a\ufffdb'
        : code < 0xa0 || short === `a${letter}b`
    if (!right || escapeText(`a${letter}b${rest}`) !== short + rest) wrong.push(code.toString(16))
  }
  expect(wrong).toEqual([])
  expect(escapeText('a\u{1f33f}b')).toBe('a\u{1f33f}b')
  expect(escapeText('a\tb\nc\u0000d\u007fe')).toBe('a\tb\nc\ufffdd\ufffde')
})
