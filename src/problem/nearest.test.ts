import { expect, test } from 'vitest'
import { nearest } from './nearest.js'

test('a misspelt name finds its neighbour', () => {
  expect(nearest('revnue', ['plan', 'revenue', 'margin'])).toBe('revenue')
  expect(nearest('regoin', ['region', 'season'])).toBe('region')
  expect(nearest('Shop', ['shop', 'stop'])).toBe('shop')
})

test('a name far from all finds none, and a huge one is not compared at all', () => {
  expect(nearest('colour', ['shop', 'plan'])).toBeUndefined()
  expect(nearest('x'.repeat(100_000), ['x'])).toBeUndefined()
})
