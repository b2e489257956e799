import type { PackedColor } from '../color/color.js'
import { parseColor } from '../color/parse.js'
import { HOUSE_PIGMENTS, type Pigment, pigmentOf } from '../color/pigments.js'
import type { Diagnostics } from '../problem/diagnostics.js'
import { type ReadPicture, readPicture } from './picture.js'

/** The pigments and icons of styles: those of the house and those of a report. */
export interface Palette {
  pigments: Readonly<Record<string, Pigment>>
  /** Icons of the report by name, as data URLs. */
  icons: Readonly<Record<string, string>>
  /** Parses any CSS colour; undefined for other text. */
  color(text: string): PackedColor | undefined
  /** The data URL of a picture in the data or the report; a problem if it cannot be read. */
  picture: ReadPicture
  /** Caches what is computed from its colours, by key. */
  remember<T>(key: string, make: () => T): T
}

/** A palette as written: pigments by one colour or by their three parts, icons as pictures. */
export interface PaletteSpec {
  pigments?: Readonly<Record<string, string | { wash: string; body: string; ink: string }>>
  icons?: Readonly<Record<string, string>>
}

/**
 * The house palette with the pigments of a report, which may replace those of the house, and its
 * icons.
 */
export function createPalette(
  spec: PaletteSpec,
  diagnostics: Diagnostics,
  picture: ReadPicture = readPicture,
): Palette {
  const pigments: Record<string, Pigment> = { ...HOUSE_PIGMENTS }
  for (const [name, written] of Object.entries(spec.pigments ?? {})) {
    const at = diagnostics.at('pigments', name)
    if (!/^\p{L}[\p{L}\p{N}_-]*$/u.test(name) || name === 'paper' || name === 'soot') {
      at.report('bad-name', { name })
      continue
    }
    const parts = typeof written === 'string' ? { body: written } : written
    const colors = Object.entries(parts).map(([part, text]) => {
      const color = parseColor(text)
      const path = typeof written === 'string' ? at : at.at(part)
      if (color === undefined) path.report('bad-color', { name: text })
      return [part, color ?? 0] as const
    })
    const pigment = typeof written === 'string' ? pigmentOf(colors[0][1]) : (Object.fromEntries(colors) as object)
    Object.defineProperty(pigments, name, { value: pigment, enumerable: true, configurable: true })
  }
  const icons: Record<string, string> = {}
  for (const [name, written] of Object.entries(spec.icons ?? {})) {
    const path = diagnostics.at('icons', name)
    if (!/^\p{L}[\p{L}\p{N}_-]*$/u.test(name)) path.report('bad-name', { name })
    const read = picture(written)
    if (typeof read === 'string') Object.defineProperty(icons, name, { value: read, enumerable: true })
    else path.take([read])
  }
  return {
    pigments,
    icons,
    color: parseColor,
    picture,
    remember: memoized(),
  }
}

/** A cache by key. */
export function memoized(): Palette['remember'] {
  const cache = new Map<string, unknown>()
  return <T>(key: string, make: () => T): T => {
    if (!cache.has(key)) cache.set(key, make())
    return cache.get(key) as T
  }
}

export function isPigment(palette: Palette, name: string): boolean {
  return Object.hasOwn(palette.pigments, name)
}
