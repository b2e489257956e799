import type { Exhibit } from '../../page/page.js'
import type { Legend } from '../../style/legend.js'

/** The legends of an exhibit: those that it shows, and those that the exhibit above has shown. */
export interface LegendList {
  shown: readonly Legend[]
  /** A line for legends that are shown above, and the exhibit that shows them. */
  references: readonly { text: string; exhibit: string; title: string }[]
}

/**
 * The legends of each exhibit of a page, by its name. A legend that the exhibit directly above has
 * shown, or referred to, is a line that names the exhibit that shows it.
 */
export function legendLists(exhibits: readonly Exhibit[]): Map<string, LegendList> {
  const lists = new Map<string, LegendList>()
  let above = new Map<string, Exhibit>()
  for (const exhibit of exhibits) {
    const here = new Map<string, Exhibit>()
    const shown: Legend[] = []
    const references = new Map<Exhibit, string[]>()
    for (const legend of exhibit.legends) {
      const key = legendKey(legend)
      const before = above.get(key)
      here.set(key, before ?? exhibit)
      if (before === undefined) shown.push(legend)
      else references.set(before, [...(references.get(before) ?? []), legend.measureLabel])
    }
    lists.set(exhibit.name, {
      shown,
      references: [...references].map(([{ name, title }, measures]) => ({
        text: exhibit.legends.length === 1 ? 'Colours as in' : `${[...new Set(measures)].join(', ')} as in`,
        exhibit: name,
        title,
      })),
    })
    above = here
  }
  return lists
}

/** Legends are equal whatever they count. */
function legendKey({ entries, ...legend }: Legend): string {
  return JSON.stringify([legend, entries.map(({ count: _, countText: _text, ...entry }) => entry)])
}
