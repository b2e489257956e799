import fc from 'fast-check'
import { expect, test } from 'vitest'
import { packSources } from '../../src/report/transfer/pack-lists.js'
import { unpackSources } from '../../src/report/transfer/unpack-lists.js'
import type { StoredSource } from '../../src/summary/memory/stored.js'
import { effort } from '../support/effort.js'

/**
 * Whole numbers, cents, anything, few values, sorted numbers and cents, zeros; some are missing.
 */
const VALUES = fc.oneof(
  fc.array(fc.option(fc.integer({ min: -300, max: 70_000 }), { freq: 9 }), { minLength: 64, maxLength: 90 }),
  fc.array(
    fc.integer({ min: -9_999_999, max: 9_999_999 }).map((x) => x / 100),
    { minLength: 64, maxLength: 90 },
  ),
  fc.array(fc.option(fc.double({ noNaN: true, noDefaultInfinity: true }), { freq: 9 }), {
    minLength: 64,
    maxLength: 90,
  }),
  fc.array(fc.integer({ min: -1, max: 3 }), { minLength: 64, maxLength: 90 }),
  fc
    .array(fc.integer({ min: 0, max: 2 ** 40 }), { minLength: 64, maxLength: 90 })
    .map((list) => list.sort((a, b) => a - b)),
  fc
    .array(fc.integer({ min: 0, max: 9_999_999 }), { minLength: 64, maxLength: 90 })
    .map((list) => list.sort((a, b) => a - b).map((x) => x / 100)),
  fc.constant(Array.from({ length: 70 }, () => 0)),
  fc.constant(Array.from({ length: 70 }, () => null)),
)
const WORDS = fc.array(fc.string({ unit: 'grapheme' }), { minLength: 64, maxLength: 80 })

test('lists of a page come back as they were: numbers to the last bit, missing ones, words, equal lists', () => {
  fc.assert(
    fc.property(fc.array(VALUES, { minLength: 1, maxLength: 5 }), WORDS, (lists, words) => {
      const columns = lists.map((values, i) => ({ name: `c${i}`, type: { kind: 'date' as const }, values }))
      const text = { name: 'w', type: { kind: 'text' as const }, words, values: lists[0].map(() => 0) }
      const stored: Record<string, StoredSource> = {
        s: {
          survey: { rows: 1, undated: 0 } as StoredSource['survey'],
          shape: [],
          // Long enough for its lists to be bytes.
          rows: { length: 20_000, columns: [...columns, text] },
          parts: { a: { count: lists[0] as number[] }, b: { count: lists[0] as number[], sum: lists.at(-1) ?? [] } },
        },
      }
      const { sources, bytes } = packSources(stored)
      expect(bytes.length).toBeGreaterThan(0)
      const back = unpackSources(JSON.parse(JSON.stringify(sources)), bytes).s
      const plain = (values: Iterable<number | null>): (number | null)[] =>
        Array.from(values, (x) => (x === null || Number.isNaN(x) ? null : x))
      back.rows.columns.forEach(({ values, words: unpacked }, c) => {
        const before = [...columns, text][c]
        expect(plain(values as Iterable<number>).map((x) => (Object.is(x, -0) ? '-0' : x))).toEqual(
          plain(before.values as Iterable<number | null>).map((x) => (Object.is(x, -0) ? '-0' : x)),
        )
        if (unpacked !== undefined) expect(unpacked).toEqual(words)
      })
      expect(plain(back.parts?.a.count as Iterable<number>)).toEqual(plain(lists[0]))
      expect(plain(back.parts?.b.sum as Iterable<number>)).toEqual(plain(lists.at(-1) ?? []))
    }),
    { numRuns: effort(1000, 200), seed: 17 },
  )
})
