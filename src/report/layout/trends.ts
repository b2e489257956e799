import type { Keys, Trend } from '../../page/page.js'
import { problem } from '../../problem/answering.js'
import { pathText } from '../../summary/cells/axis.js'
import { isPeriodUnit } from '../../time/period.js'
import { answerExhibit } from '../answer/exhibit.js'
import type { AnsweredExhibit, QueryContext } from '../model/answered.js'
import type { BoundExhibit, BoundTrend } from '../model/bound.js'
import { CellMaker } from './cells.js'
import { restNode } from './labels.js'

/** The values of a trend by row. */
export interface Trends {
  /** By the row's keys; null if it has no values. */
  of(keys: Keys, name: string): Trend | null
}

/** Answers a measure along a key, for every row of an exhibit. */
export async function answerTrend(
  asked: QueryContext,
  { exhibit, summary, notes }: Pick<AnsweredExhibit, 'exhibit' | 'summary' | 'notes'>,
  trend: BoundTrend,
): Promise<Trends> {
  const { rows } = summary
  const along: BoundExhibit = {
    ...exhibit,
    kind: 'heatmap',
    columns: [trend.along],
    show: [trend.of],
    // The first n rows are those of the table, whatever the period of the trend.
    topN: exhibit.topN.map((keep) => ({
      ...keep,
      shown: new Set(rows.depths[exhibit.rows.indexOf(keep.key) + 1].map((node) => pathText(rows, node))),
    })),
    sort: undefined,
    period: trend.period ?? exhibit.period,
  }
  const answered = await answerExhibit(asked, along, [])
  for (const note of answered.notes) if (!notes.some((other) => other.message === note.message)) notes.push(note)
  const make = new CellMaker(answered)
  const lines = trendValues(answered, make, trend)
  if (![...lines.values()].some((line) => line.filter((v) => v !== null).length > 1)) {
    const label = answered.report.measures.get(trend.of)?.label ?? trend.of
    notes.push(problem('note-trend-time', { measure: label, along: trend.along }))
  }
  const axis = answered.summary.columns
  const places = axis.depths[1].map((node) => {
    const [code] = node.codes
    const { domain } = axis.keys[0]
    const day = make.labels.until(axis, node)
    const until = day === '' ? '' : `, to ${day}`
    const dated = domain.kind === 'time' && isPeriodUnit(domain.unit) && code >= 0
    return {
      keys: make.labels.keys(axis, node),
      label: dated
        ? `${make.labels.periods.long(domain.unit, domain.periods[code])}${until}`
        : make.labels.label(axis, node),
      unfinished: until !== '',
    }
  })
  const print = make.labels.printer(trend.of)
  const measureLabel = answered.report.measures.get(trend.of)?.label ?? trend.of
  return {
    of(keys, name) {
      const values = lines.get(rowKey(keys))
      if (values === undefined || values.every((v) => v === null)) return null
      const points = values.map((value, i) => ({ ...places[i], value, text: value === null ? '' : print(value) }))
      const present = points.flatMap(({ value }, i) => (value === null ? [] : [{ value, i }]))
      const at = (better: (a: number, b: number) => boolean): number =>
        present.reduce((best, point) => (better(point.value, best.value) ? point : best), present[0]).i
      const [last, lowest, highest] = [present.at(-1)?.i ?? -1, at((a, b) => a < b), at((a, b) => a > b)]
      const said = [
        `${points[last].label} ${points[last].text}`,
        `lowest ${points[lowest].label} ${points[lowest].text}`,
        `highest ${points[highest].label} ${points[highest].text}`,
      ]
      return {
        measure: trend.of,
        measureLabel,
        name,
        points,
        last,
        lowest,
        highest,
        hint: `${name}, ${measureLabel}: ${said.join(', ')}`,
      }
    },
  }
}

/** The values of each row by its keys: details, groups, the total and the others of a key. */
function trendValues(
  { summary }: AnsweredExhibit,
  make: CellMaker,
  { of }: BoundTrend,
): Map<string, (number | null)[]> {
  const lines = new Map<string, (number | null)[]>()
  const width = summary.columns.depths[1].length
  const add = (keys: Keys, values: Float64Array, row: number): void => {
    const rowValues = Array.from(values.subarray(row * width, (row + 1) * width), (v) => (Number.isNaN(v) ? null : v))
    lines.set(rowKey(keys), rowValues)
  }
  summary.levels.forEach((across, depth) => {
    const column = across[1].table.columns.get(of)?.column
    if (column?.kind !== 'number') return
    summary.rows.depths[depth].forEach((node, row) => {
      add(make.labels.keys(summary.rows, node), column.values, row)
    })
  })
  for (const { rest, levels } of summary.rests) {
    const column = levels[1].table.columns.get(of)?.column
    if (column?.kind !== 'number') continue
    rest.parents.forEach((_, place) => {
      add(make.labels.keys(summary.rows, restNode(summary.rows, rest, place)), column.values, place)
    })
  }
  return lines
}

function rowKey(keys: Keys): string {
  return JSON.stringify(keys.map(({ value }) => value))
}
