import type { Exhibit } from '../../page/page.js'
import { type CellStyle, iconOf } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'
import { aboutEntry } from './captions.js'

/** The parts of a page that every writer shows, decided once: writers only draw them. */

/** A legend: its heading, an entry for each style, the marks of its scale. */
export interface LegendParts {
  /** Empty if the exhibit has a single legend, which needs no name. */
  heading: string
  entries: readonly {
    style: CellStyle
    /** The icons of the entry: one, three for an arrow by sign, or none. */
    icons: readonly string[]
    label: string
    /** The limit and the number of cells. */
    about: string
    /** Whether its style applies to text alone. */
    letters: boolean
  }[]
  ramp: { colors: readonly number[]; marks: readonly { at: number; text: string }[] } | undefined
}

/** The three arrows of an arrow by sign, from above zero down. */
const ARROWS = ['up', 'sideways', 'down']

export function legendParts(
  { measureLabel, title, population, entries, ramp }: Legend,
  { legends }: Pick<Exhibit, 'legends'>,
): LegendParts {
  const prefix = legends.length === 1 ? '' : `${measureLabel}: ${title}`
  return {
    heading: [prefix, population].filter((text) => text !== '').join(', '),
    entries: entries.map((entry) => {
      const { style, label } = entry
      const { fill, bar, ink, weight } = style
      const icon = iconOf(style)
      const icons = icon === null ? [] : icon === 'bySign' ? ARROWS : [icon]
      const bare = fill === null && icon === null && bar === null
      return { style, icons, label, about: aboutEntry(entry), letters: bare && (ink !== null || weight !== null) }
    }),
    ramp:
      ramp === undefined || ramp.marks.length === 0
        ? undefined
        : {
            colors: ramp.colors,
            marks: ramp.marks.map(({ at, text, what }) => ({ at, text: `${text} ${what}`.trim() })),
          },
  }
}

/** The text in place of an exhibit without content; null if it has some. */
export function emptyText(exhibit: Exhibit): string | null {
  if (exhibit.kind === 'chart') return exhibit.points.every(({ value }) => value === null) ? 'No values.' : null
  if (exhibit.kind === 'records') return exhibit.records.length === 0 ? 'No rows.' : null
  return 'rows' in exhibit && exhibit.rows.length === 0 ? 'No rows.' : null
}
