import type { Card, Exhibit, ReadingExhibit } from '../../page/page.js'
import type { CellStyle } from '../../style/cell-style.js'
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
      const { icon, fill, bar, ink, weight } = style
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

/** A sentence of a reading: the tag of its status, and the rest. */
export function sentenceParts({ text, style, statusText }: ReadingExhibit['sentences'][number]): {
  tag: { style: CellStyle; text: string } | null
  rest: string
} {
  if (style === null) return { tag: null, rest: text }
  // The tag replaces the words and their colon.
  const rest = text.startsWith(`${statusText}: `) ? text.slice(statusText.length + 1) : text
  return { tag: { style, text: statusText }, rest }
}

/** The value of a card as it is shown. */
export function cardValue({ cell }: Card): string {
  return cell.text === '' ? 'no value' : cell.text
}

/** The flag of a card, with what its status was if that has changed. */
export function cardFlag({ flag, was }: Card['cell']): string {
  return [flag ?? '', was?.words ?? ''].join(' ').trim()
}

/** The lines under the value of a card: status, flag, change and note, if it has them. */
export function cardLines({
  cell,
  change,
  note,
}: Card): { part: 'status' | 'flag' | 'change' | 'note'; text: string }[] {
  const lines = [
    { part: 'status' as const, text: cell.statusText },
    { part: 'flag' as const, text: cardFlag(cell) },
    { part: 'change' as const, text: change?.text ?? '' },
    { part: 'note' as const, text: note ?? '' },
  ]
  return lines.filter(({ text }) => text !== '')
}

/** The text in place of an exhibit without content; null if it has some. */
export function emptyText(exhibit: Exhibit): string | null {
  if (exhibit.kind === 'chart') return exhibit.points.every(({ value }) => value === null) ? 'No values.' : null
  if (exhibit.kind === 'records') return exhibit.records.length === 0 ? 'No rows.' : null
  return 'rows' in exhibit && exhibit.rows.length === 0 ? 'No rows.' : null
}
