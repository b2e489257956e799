import { numberPrinter } from '../../../format/format.js'
import type { Card, CardsExhibit, Cell } from '../../../page/page.js'
import { formatFor } from '../../../rule/explain/print.js'
import { flagText } from '../../../style/flag.js'
import { answerExhibit } from '../../answer/exhibit.js'
import type { AnsweredExhibit } from '../../model/answered.js'
import { CellMaker } from '../cells.js'
import type { Trends } from '../trends.js'
import { answerTrends, type Prepare } from './prepare.js'

/** Lays out cards: each a value, what it is compared with, and a trend. */
export function buildCards(answered: AnsweredExhibit, trends: readonly (Trends | undefined)[]): CardsExhibit {
  const { exhibit, report, summary } = answered
  const make = new CellMaker(answered)
  const level = summary.levels[0][0]
  const cell = (measure: string): Cell => make.cell(level, 0, 0, measure)
  const cards = (exhibit.cards ?? []).map((card, i): Card => {
    const mainCell = cell(card.measure)
    const label = card.label ?? mainCell.measureLabel
    const versus = card.versus === undefined ? null : cell(card.versus)
    const note =
      card.note === undefined
        ? null
        : flagText(card.note, (name) => {
            if (name === 'value') return mainCell.text
            if (name === 'status') return mainCell.statusText
            const parameter = report.parameters.get(name)
            if (parameter !== undefined) return numberPrinter(parameter.format, report.locale)(parameter.value)
            return cell(name).text
          })
    return {
      label,
      cell: mainCell,
      versus,
      change: versus === null ? null : changeOf(answered, mainCell, versus),
      note,
      trend: trends[i]?.of([], label) ?? null,
    }
  })
  const { legends, notes } = answered.legendsAndMessages()
  const uncounted = legends.map((legend) => ({
    ...legend,
    entries: legend.entries.map((entry) => ({ ...entry, count: null, countText: '' })),
  }))
  return { ...answered.head, kind: 'cards', cards, legends: uncounted, messages: notes }
}

/**
 * A difference in words with its percentage; without it for percents, and for a base of zero or
 * less.
 */
export function changeOf({ report }: AnsweredExhibit, cell: Cell, versus: Cell): Card['change'] {
  const [now, then] = [cell.value, versus.value]
  if (typeof now !== 'number' || typeof then !== 'number') return null
  const measure = report.measures.get(cell.measure)
  const unit = measure?.unit ?? { is: 'none' as const }
  const difference = now - then
  if (difference === 0)
    return { icon: 'sideways', text: `the same as ${labelInside(versus.measureLabel, report.locale)}` }
  const size = numberPrinter(
    { ...formatFor(measure?.format, unit), signed: false },
    report.locale,
  )(Math.abs(difference))
  const percent = numberPrinter({ kind: 'percent', digits: 1, signed: true, compact: false }, report.locale)
  const share = unit.is === 'percent' || then <= 0 ? '' : ` (${percent(difference / then)})`
  const words = unit.is === 'percent' ? `${points(difference, report.locale)} points` : size
  return {
    icon: difference > 0 ? 'up' : 'down',
    text: `${words}${share} ${difference > 0 ? 'above' : 'below'} ${labelInside(versus.measureLabel, report.locale)} (${versus.text})`,
  }
}

/**
 * A label inside an English sentence: `last year` for Last year. A label with capitals beyond its
 * first letter is a name or an abbreviation, and stays.
 */
export function labelInside(label: string, locale: string): string {
  const isPlain = /^en\b/i.test(locale) && /^\p{Lu}[^\p{Lu}]+$/u.test(label)
  return isPlain ? `${label.charAt(0).toLowerCase()}${label.slice(1)}` : label
}

/** A difference of percents is printed in points, as a percent could be read as relative. */
function points(difference: number, locale: string): string {
  return numberPrinter({ kind: 'number', digits: 1, signed: false, compact: false }, locale)(Math.abs(difference) * 100)
}

export const prepare: Prepare = async (context, exhibit) => {
  const answered = await answerExhibit(context, exhibit)
  const trends = await answerTrends(context, answered, exhibit.cards?.map(({ trend }) => trend) ?? [])
  return { answered, build: (current) => buildCards(current, trends) }
}
