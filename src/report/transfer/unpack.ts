import { unflatten } from 'devalue'
import { problem } from '../../problem/answering.js'
import { loadKinds } from '../../rule/kinds/load.js'
import type { BoundRule } from '../../rule/model.js'
import { type Effect, NO_EFFECT } from '../../style/cell-style.js'
import { memoized, type Palette } from '../../style/palette.js'
import { openStored, type StoredSource } from '../../summary/memory/stored.js'
import type { BoundReport, BoundSource } from '../model/bound.js'

/** What a page carries of where rows come from, beside the numbers. */
export type PackedSource = Pick<BoundSource, 'name' | 'from' | 'date' | 'match' | 'grain'>

/**
 * What looks are made with, as data: pictures and colours that were met, by what they are called.
 */
export interface PackedPalette extends Pick<Palette, 'pigments' | 'icons'> {
  pictures: Readonly<Record<string, string>>
  colors: Readonly<Record<string, number>>
}

/** A bound report as data. */
export interface PackedReport extends Omit<BoundReport, 'palette' | 'sources'> {
  palette: PackedPalette
  sources: readonly PackedSource[]
}

/** What a page carries: a report packed by `packReport`, and its sources. */
export interface ReportBundle {
  /** The kinds of its rules. */
  kinds: readonly BoundRule['kind']['key'][]
  report: unknown
  sources: Readonly<Record<string, StoredSource>>
}

/** The bound report that was packed, its sources answered from what was stored of them. */
export async function openBundle({ kinds, report, sources }: ReportBundle): Promise<BoundReport> {
  const known = await loadKinds(kinds)
  const rows = Object.values(sources).some(({ counts }) => counts === undefined)
  const memory = rows ? (await import('../../summary/memory/engine.js')).createMemoryEngine : undefined
  // The palette is the last to be known and the first to be named, so it is filled in afterwards.
  const palette = {} as Palette
  const found: PackedReport = unflatten(report as number[], {
    Entries: Object.fromEntries,
    Palette: () => palette,
    Kind: (key) => known.find((kind) => kind.key === key),
    Given: (channels: [keyof Effect, never][]): Effect => ({ ...NO_EFFECT, ...Object.fromEntries(channels) }),
    Ramp: ([key, colors]: ['fill' | 'ink', Int32Array]): Effect[] =>
      Array.from(colors, (color) => ({ ...NO_EFFECT, [key]: color })),
    Numbers: (list: Int32Array) => [...list],
  })
  const { pigments, icons, pictures, colors } = found.palette
  Object.assign(palette, {
    pigments,
    icons,
    color: (text: string) => (Object.hasOwn(colors, text) ? colors[text] : undefined),
    picture: (name: string) =>
      Object.hasOwn(pictures, name)
        ? pictures[name]
        : problem('bad-picture', { name, why: 'the page does not hold it' }),
    remember: memoized(),
  } satisfies Palette)
  const { calendar } = found
  return {
    ...found,
    palette,
    sources: found.sources.map((own): BoundSource => {
      const { date, name } = own
      const stored = sources[name]
      const options = date === undefined ? { calendar } : { date, calendar }
      const { table, engine } = openStored(stored, options, stored.counts === undefined ? memory : undefined)
      const home = own === found.sources[0]
      const rest = { stack: undefined, expect: {}, known: home ? undefined : new Set<string>(), fields: new Map() }
      return { ...own, ...rest, table, engine }
    }),
  }
}
