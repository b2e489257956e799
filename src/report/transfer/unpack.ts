import { unflatten } from 'devalue'
import { problem } from '../../problem/answering.js'
import { loadKinds } from '../../rule/kinds/load.js'
import type { BoundRule } from '../../rule/model.js'
import { type Effect, iconOf, NO_EFFECT } from '../../style/cell-style.js'
import { memoized, type Palette } from '../../style/palette.js'
import { openStored, type StoredCode, type StoredSource } from '../../summary/memory/stored.js'
import type { BoundReport, BoundSource } from '../model/bound.js'

/** The description of a source in a page. */
export type PackedSource = Pick<
  BoundSource,
  'name' | 'from' | 'date' | 'match' | 'grain' | 'lookup' | 'per' | 'attributes'
>

/** The palette as data: with the pictures and colours that were used, by name. */
export interface PackedPalette extends Pick<Palette, 'pigments' | 'icons'> {
  pictures: Readonly<Record<string, string>>
  colors: Readonly<Record<string, number>>
}

/** A bound report as data. */
export interface PackedReport extends Omit<BoundReport, 'palette' | 'sources'> {
  palette: PackedPalette
  sources: readonly PackedSource[]
}

/** The bundle of a live page: a report packed by `packReport`, and the data of its sources. */
export interface ReportBundle {
  /** The kinds of its rules. */
  kinds: readonly BoundRule['kind']['key'][]
  report: unknown
  sources: Readonly<Record<string, StoredSource>>
}

/** Unpacks a bound report; its sources answer from the stored data. */
export async function openBundle({ kinds, report, sources }: ReportBundle): Promise<BoundReport> {
  const loaded = await loadKinds(kinds)
  const rows = Object.values(sources).some(({ counts }) => counts === undefined)
  const code: StoredCode = {
    ...(rows && { memory: (await import('../../summary/memory/engine.js')).createMemoryEngine }),
    ...(Object.keys(sources).length > 1 && { known: (await import('../../summary/memory/known.js')).withKnown }),
  }
  // The palette is used before it is complete, so it is filled in afterwards.
  const palette = {} as Palette
  const unpacked: PackedReport = unflatten(report as number[], {
    Entries: Object.fromEntries,
    Palette: () => palette,
    Kind: (key) => loaded.find((kind) => kind.key === key),
    Given: (channels: [keyof Effect, never][]): Effect => ({ ...NO_EFFECT, ...Object.fromEntries(channels) }),
    Ramp: ([key, colors]: ['fill' | 'ink', Int32Array]): Effect[] =>
      Array.from(colors, (color) => ({ ...NO_EFFECT, [key]: color })),
    Numbers: (list: Int32Array) => [...list],
  })
  if (needsFamilies(unpacked)) (await import('../../style/icon-families.js')).loadFamilies()
  const { pigments, icons, pictures, colors } = unpacked.palette
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
  const { calendar } = unpacked
  return {
    ...unpacked,
    palette,
    sources: unpacked.sources.map((source): BoundSource => {
      const { date, name } = source
      const stored = sources[name]
      const options = date === undefined ? { calendar } : { date, calendar }
      const { table, engine } = openStored(stored, options, code)
      const home = source === unpacked.sources[0]
      const rest = { stack: undefined, expect: {}, known: home ? undefined : new Set<string>(), fields: new Map() }
      return { ...source, ...rest, table, engine }
    }),
  }
}

/**
 * Whether a report may show a step of an icon family: by a status, a rule, or a value of the data.
 */
export function needsFamilies({ statuses, rules }: Pick<BoundReport, 'statuses' | 'rules'>): boolean {
  const icons = [
    ...Object.values(statuses).map(({ icon }) => icon),
    ...rules.flatMap((rule) => rule.effects.map(iconOf)),
  ]
  return rules.some(({ kind }) => kind.key === 'fromColumn') || /-of-/.test(icons.join())
}
