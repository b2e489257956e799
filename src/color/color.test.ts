import {
  type Color,
  clampChroma,
  converter,
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  formatHex,
  interpolate,
  parse,
  wcagContrast,
} from 'culori'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { colorText } from './color.js'
import { contrast, READABLE, readableInk } from './contrast.js'
import { parseColor } from './parse.js'
import { PAPER, PIGMENTS, SOOT } from './pigments.js'
import { rampTable } from './ramp.js'
import { fromLch, lchOf } from './spaces.js'
import { DARK_GROUND, DARK_TEXT, toDark, toDarkInk, toMidtone } from './theme.js'

const distance = differenceCiede2000()
/**
 * Full protanopia, deuteranopia and tritanopia, simulated by the colour library, and normal vision.
 */
const sights: ((color: Color) => Color)[] = [
  (color) => color,
  filterDeficiencyProt(1),
  filterDeficiencyDeuter(1),
  filterDeficiencyTrit(1),
]

/** The smallest distance of any two colours under any vision. */
function closest(colors: readonly number[]): number {
  const seen = colors.map((color) => parse(colorText(color)) as Color)
  let least = Number.POSITIVE_INFINITY
  for (const see of sights)
    for (let i = 0; i < colors.length; i++)
      for (let k = 0; k < i; k++) least = Math.min(least, distance(see(seen[i]), see(seen[k])))
  return least
}

test('every ink reads on its wash, and soot on every wash', () => {
  for (const [name, { wash, ink }] of Object.entries(PIGMENTS)) {
    expect(contrast(ink, wash), name).toBeGreaterThanOrEqual(5.9)
    expect(contrast(ink, PAPER), name).toBeGreaterThanOrEqual(8)
    expect(contrast(SOOT, wash), name).toBeGreaterThanOrEqual(7.6)
  }
})

test('good, fair and bad stay apart for every kind of sight', () => {
  const { aqua, straw, coral } = PIGMENTS
  expect(closest([aqua.wash, straw.wash, coral.wash])).toBeGreaterThan(15.4)
  expect(closest([aqua.body, straw.body, coral.body])).toBeGreaterThan(18.7)
})

test('whatever the fill, the chosen ink can be read', () => {
  for (let i = 0; i < 4096; i++) {
    const fill = ((i & 0xf00) << 12) | ((i & 0xf0) << 8) | ((i & 0xf) << 4)
    expect(contrast(readableInk(fill, SOOT, PAPER), fill)).toBeGreaterThanOrEqual(READABLE)
  }
})

test('a ramp meets the colour library at its own stops and between them', () => {
  const stops = [0xd8504c, 0xfbfcfd, 0x0a8783]
  const table = rampTable(stops, 256)
  const mix = interpolate(stops.map(colorText), 'oklab')
  for (const i of [0, 40, 128, 200, 255]) expect(colorText(table[i])).toBe(formatHex(mix(i / 255)))
  expect([table[0], table[255]]).toEqual([stops[0], stops[2]])
})

test('CSS colours are read, other texts are not', () => {
  expect(parseColor('#abc')).toBe(0xaabbcc)
  expect(parseColor('rebeccapurple')).toBe(0x663399)
  expect(parseColor('rgb(1 2 3 / 50%)')).toBe(0x010203)
  expect(parseColor('url(x)')).toBeUndefined()
})

test('the dark theme keeps the figures of the light one', () => {
  const { aqua, straw, coral } = PIGMENTS
  expect(closest([aqua.wash, straw.wash, coral.wash].map(toDark))).toBeGreaterThan(18)
  expect(closest([aqua.body, straw.body, coral.body].map(toDark))).toBeGreaterThan(18)
  expect(contrast(DARK_TEXT, DARK_GROUND)).toBeGreaterThan(12)
  for (const [name, { wash, body, ink }] of Object.entries(PIGMENTS)) {
    expect(contrast(toDarkInk(ink, wash), toDark(wash)), name).toBeGreaterThanOrEqual(READABLE)
    expect(contrast(toDarkInk(ink, null), DARK_GROUND), name).toBeGreaterThanOrEqual(READABLE)
    expect(contrast(DARK_TEXT, toDark(wash)), name).toBeGreaterThanOrEqual(READABLE)
    expect(contrast(toDark(body), DARK_GROUND), name).toBeGreaterThanOrEqual(2.7)
  }
})

test('whatever the fill, the dark theme has an ink for it that can be read', () => {
  for (let k = 0; k < 4096; k++) {
    const color = ((k & 15) * 17) | ((((k >> 4) & 15) * 17) << 8) | ((((k >> 8) & 15) * 17) << 16)
    expect(contrast(toDarkInk(readableInk(color, SOOT, PAPER), color), toDark(color))).toBeGreaterThanOrEqual(READABLE)
  }
})

test('a colour for any ground differs from black and from white', () => {
  for (const { body, ink, wash } of Object.values(PIGMENTS))
    for (const color of [body, ink, wash])
      for (const ground of [0, 0xffffff]) expect(contrast(toMidtone(color), ground)).toBeGreaterThan(4.4)
})

test('contrast, lightness, chroma and hue are those of the colour library, and so is a colour that sRGB has not', () => {
  const toLch = converter('oklch')
  const colors = fc.sample(fc.integer({ min: 0, max: 0xffffff }), { numRuns: 500, seed: 5 })
  for (const [i, color] of colors.entries()) {
    expect(contrast(color, colors[i && i - 1])).toBeCloseTo(
      wcagContrast(colorText(color), colorText(colors[i && i - 1])),
      10,
    )
    const [chosen, other] = [lchOf(color), toLch(colorText(color))]
    expect([chosen.l, chosen.c]).toEqual([expect.closeTo(other?.l ?? 0, 10), expect.closeTo(other?.c ?? 0, 10)])
    expect(fromLch(chosen.l, chosen.c, chosen.h)).toBe(color)
    // A chroma beyond sRGB: it becomes the largest one at the same lightness and hue.
    const strong = clampChroma(
      { mode: 'oklch', l: chosen.l, c: 0.37, ...(chosen.h !== undefined && { h: chosen.h }) },
      'oklch',
    )
    const lightness = fromLch(chosen.l, 0.37, chosen.h)
    const wanted = Number.parseInt((formatHex(strong) ?? '').slice(1), 16)
    for (const byte of [0, 8, 16])
      expect(Math.abs(((lightness >> byte) & 255) - ((wanted >> byte) & 255))).toBeLessThan(2)
  }
})
