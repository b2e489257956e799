import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import type { Exhibit, Page } from '../../page/page.js'
import { cellAt } from '../../page/places.js'
import { escapeText } from '../../view/markup.js'
import { focusCell } from '../dom/reveal.js'
import type { View } from '../dom/view.js'
import type { Changes, ReportControls, Update } from '../session/model.js'
import type { LiveState } from '../state/state.js'
import { parameterLabel } from './markup.js'

/**
 * What moved parameters and paused rules changed, in words: `Shop target €75,000 (was €60,000): On
 * target 4 → 2; 5 cells changed status`.
 */
export function changesMarkup(
  { changes }: Update,
  { parameters, paused }: LiveState,
  { locale, parameters: all, rules }: ReportControls,
): string {
  if (changes === null) return ''
  const { counts, moved, restyled } = changes
  const what = [
    ...all.flatMap((parameter) => {
      const value = parameters[parameter.name]
      if (value === undefined) return []
      const print = numberPrinter(parameter.format, locale)
      return [
        `${parameterLabel(parameter)} <b>${escapeText(print(value))}</b> (was ${escapeText(print(parameter.value))})`,
      ]
    }),
    ...paused.map((name) => `${rules.find(({ rule }) => rule === name)?.title ?? name} off`).map(escapeText),
  ]
  // With the digits of the language, as the strip has them.
  const count = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, locale)
  const counted = counts.map(
    ({ label, before, after }) => `${escapeText(label)} ${count(before)} → <b>${count(after)}</b>`,
  )
  const cells = [`${count(moved)} ${moved === 1 ? 'cell' : 'cells'} changed status`]
  if (restyled > 0) cells.push(`${count(restyled)} changed colour`)
  const show =
    moved + restyled === 0 ? '' : ' <span class="walk"><button type="button" data-walk="1">Show them</button></span>'
  const said = [counted.join(', '), cells.join(' · ')].filter((text) => text !== '').join('; ')
  return `${what.join(', ')}: ${said}${show}`
}

/** A changed cell by its place. */
interface ChangedCell {
  exhibit: Exhibit
  place: number
}

/** The changed detail cells, in the order of the page. */
export function changedCells({ cells }: Changes, { exhibits }: Page): ChangedCell[] {
  return cells.flatMap(({ exhibit: name, moved, restyled }) => {
    const exhibit = exhibits.find((each) => each.name === name)
    if (exhibit === undefined || moved.length + restyled.length === 0) return []
    return [...moved, ...restyled]
      .sort((a, b) => a - b)
      .filter((place) => isDetail(exhibit, place))
      .map((place) => ({ exhibit, place }))
  })
}

/** Of a table the headings tell, so that no cell is made. */
function isDetail(exhibit: Exhibit, place: number): boolean {
  if ('rows' in exhibit) {
    const [row, column] = [Math.floor(place / exhibit.styles.length), place % exhibit.styles.length]
    const heading = exhibit.columnHeadings.at(-1)?.[column]
    return exhibit.rows[row]?.heading.level === 'detail' && (heading?.level ?? 'detail') === 'detail'
  }
  const level = cellAt(exhibit, place)?.level
  return level?.row === 'detail' && level.column === 'detail'
}

/** Goes through the changed cells of an update, one at a time. */
export interface ChangeWalk {
  /** Moves by so many cells, and says where it is. */
  step(by: number): void
}

export function createChangeWalk(view: View, current: () => Update): ChangeWalk {
  let place = { of: undefined as Update | undefined, cells: [] as ChangedCell[], at: -1 }
  return {
    step(by) {
      const update = current()
      if (update.changes === null) return
      if (place.of !== update) place = { of: update, cells: changedCells(update.changes, update.page), at: -1 }
      const { length } = place.cells
      if (length === 0) return
      place.at = place.at < 0 ? (by > 0 ? 0 : length - 1) : (place.at + by + length) % length
      const walk = view.tools.querySelector('.walk')
      if (walk !== null) {
        if (walk.querySelector('[data-walk="-1"]') === null)
          walk.innerHTML =
            '<button type="button" data-walk="-1" aria-label="Previous changed cell">‹</button> <span></span> <button type="button" data-walk="1" aria-label="Next changed cell">›</button>'
        const said = walk.querySelector('span')
        if (said !== null) said.textContent = `${place.at + 1} of ${length}`
      }
      const { exhibit, place: at } = place.cells[place.at]
      focusCell(view, exhibit, at)
    },
  }
}
