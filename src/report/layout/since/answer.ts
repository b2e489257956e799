import { periodPrinter } from '../../../format/period.js'
import type { Move, SinceHead, Was } from '../../../page/page.js'
import { problem } from '../../../problem/optional.js'
import { ProblemError } from '../../../problem/problem.js'
import type { Status } from '../../../spec/rules.js'
import { styleOf } from '../../../style/painting.js'
import { statusLabel } from '../../../style/status.js'
import { dayText } from '../../../time/day.js'
import { earlierDay } from '../../../time/earlier-day.js'
import { redecideExhibit } from '../../answer/exhibit.js'
import { valueAt } from '../../answer/value.js'
import type { AnsweredExhibit, PaintedLevel, QueryContext, Since } from '../../model/answered.js'
import type { BoundExhibit } from '../../model/bound.js'
import { createLabels } from '../labels.js'
import { pairNodes } from './pair-nodes.js'

/** Answers an exhibit at another date. */
type AnswerAgain = (asked: QueryContext, exhibit: BoundExhibit) => Promise<AnsweredExhibit>

/** The signs of moves: characters that most fonts have. */
const SIGNS: Readonly<Record<Move, string>> = { fell: '▼', rose: '▲', changed: '◆', marked: '+', cleared: '−' }

/**
 * An answered exhibit with the same at the earlier date that it is compared with. Both are decided
 * over all keys.
 *
 * @throws ProblemError if the earlier date is not between the first day of the data and the date of
 * the report.
 */
export async function withThen(
  asked: QueryContext,
  answered: AnsweredExhibit,
  answer: AnswerAgain,
): Promise<AnsweredExhibit> {
  const { since, ...rest } = answered.exhibit
  const { asOf, stats } = asked
  if (since === undefined || asOf === undefined) return answered
  const first = Math.min(...stats.flatMap(({ span }) => (span === undefined ? [] : [span.from])))
  const day = earlierDay(since.text, asOf)
  if (day === undefined || day >= asOf || day < first) {
    const { date } = periodPrinter(asked.report.locale)
    const then = day === undefined ? 'no date' : date(day)
    const params = { text: since.text, then, from: date(Number.isFinite(first) ? first : asOf), to: date(asOf) }
    throw new ProblemError([problem('since-outside', params, { path: since.path })])
  }
  const whole: BoundExhibit = { ...rest, topN: [] }
  const now = rest.topN.length === 0 ? undefined : await answer(asked, whole)
  return compared(answered, now, await answer({ ...asked, asOf: day }, whole), day)
}

/** `now` is left out where the exhibit itself shows all keys. */
function compared(
  answered: AnsweredExhibit,
  now: AnsweredExhibit | undefined,
  then: AnsweredExhibit,
  day: number,
): AnsweredExhibit {
  const pairs = pairCells(now ?? answered, then)
  const shown = now && pairCells(answered, now)
  const inFull = (cell: number): number => (shown === undefined ? cell : shown.cell(cell))
  const was = createWas(now ?? answered, then, pairs.cell)
  const since: Since = {
    day,
    now: now ?? answered,
    before: then,
    past: (cell) => {
      const at = inFull(cell)
      return at < 0 ? -1 : pairs.cell(at)
    },
    was: (cell, measure) => {
      const at = inFull(cell)
      return at < 0 ? undefined : was(at, measure)
    },
    again(asked, next) {
      const past = redecideExhibit({ ...asked, asOf: day }, then)
      return compared(next, now && redecideExhibit(asked, now), past, day)
    },
  }
  return { ...answered, since, head: { ...answered.head, since: headOf(since, pairs) } }
}

/** The detail cells of an answered exhibit. */
export function detailsOf({ summary, exhibit, levels }: AnsweredExhibit): PaintedLevel {
  return levels.of(summary.levels[exhibit.rows.length][exhibit.columns.length])
}

interface CellPairs {
  /** The detail cell with the same keys; -1 where there is none. */
  cell(at: number): number
  /** How many cells there are here, there, and on both sides. */
  here: number
  there: number
  both: number
}

function pairCells(here: AnsweredExhibit, there: AnsweredExhibit): CellPairs {
  const [rows, columns] = (['rows', 'columns'] as const).map(
    (side) => pairNodes(here.summary[side], there.summary[side]).at(-1) ?? new Int32Array(0),
  )
  const width = there.summary.columns.depths.at(-1)?.length ?? 1
  const known = (list: Int32Array): number => list.reduce((sum, at) => sum + (at < 0 ? 0 : 1), 0)
  return {
    cell(at) {
      const [row, column] = [rows[Math.floor(at / columns.length)], columns[at % columns.length]]
      return row < 0 || column < 0 ? -1 : row * width + column
    },
    here: rows.length * columns.length,
    there: (there.summary.rows.depths.at(-1)?.length ?? 1) * width,
    both: known(rows) * known(columns),
  }
}

/** What a cell was, each made once, so that an unchanged cell stays the same object. */
function createWas(
  now: AnsweredExhibit,
  then: AnsweredExhibit,
  pair: (cell: number) => number,
): (cell: number, measure: string) => Was | undefined {
  const { statuses } = now.report
  const made = new Map<string, (Was | undefined)[]>()
  const labels = createLabels(then)
  const date = periodPrinter(now.report.locale).date(then.asOf ?? 0)
  return (cell, measure) => {
    const past = pair(cell)
    if (past < 0) return undefined
    const [is, before] = [detailsOf(now).result.painting, detailsOf(then)]
    const [to, from] = [styleOf(is, measure, cell).status, styleOf(before.result.painting, measure, past).status]
    if (to === from) return undefined
    const list = made.get(measure) ?? []
    made.set(measure, list)
    if (list[cell] === undefined) {
      const column = before.cells.table.columns.get(measure)
      const text = column === undefined ? '' : labels.text(column, past)
      const move = moveOf(statuses, from, to)
      const said = from === null ? 'without a status' : statusLabel(statuses, from)
      list[cell] = {
        move,
        status: from,
        value: column === undefined ? null : valueAt(column, past),
        text,
        sign: SIGNS[move],
        words: `was ${said}${text === '' ? '' : `, ${text}`} on ${date}`,
      }
    }
    return list[cell]
  }
}

const VERDICTS = ['bad', 'fair', 'good']

/** How a status changed: verdicts are compared where both have one and they differ. */
export function moveOf(statuses: Readonly<Record<string, Status>>, from: string | null, to: string | null): Move {
  if (from === null) return 'marked'
  if (to === null) return 'cleared'
  const [before, after] = [from, to].map((name) => VERDICTS.indexOf(statuses[name]?.verdict ?? ''))
  if (before < 0 || after < 0 || before === after) return 'changed'
  return after < before ? 'fell' : 'rose'
}

function headOf(since: Since, pairs: CellPairs): SinceHead {
  const { day, now, before: then } = since
  const counts = { fell: 0, rose: 0, changed: 0, marked: 0, cleared: 0, appeared: 0, gone: 0 }
  const measures = [...new Set([now, then].flatMap((one) => [...detailsOf(one).result.painting.keys()]))]
  const was = createWas(now, then, pairs.cell)
  for (const measure of measures) {
    for (let cell = 0; cell < pairs.here; cell++) {
      const past = was(cell, measure)
      if (past !== undefined) counts[past.move]++
    }
    counts.appeared += pairs.here - pairs.both
    counts.gone += pairs.there - pairs.both
  }
  const date = periodPrinter(now.report.locale).date(day)
  const told = (Object.keys(counts) as (keyof typeof counts)[]).flatMap((name) => {
    const sign = name === 'appeared' || name === 'gone' ? '' : `${SIGNS[name]} `
    return counts[name] === 0 ? [] : [`${sign}${counts[name]} ${name}`]
  })
  const [period, past] = [now, then].map(({ head }) => head.periodText)
  const span = past === period || past === '' ? '' : ` (${past})`
  const judged = [now, then].some((one) =>
    [...detailsOf(one).result.painting.values()].some(({ styles }) => styles.some(({ status }) => status !== null)),
  )
  // Without statuses there is nothing to say.
  const text = !judged ? '' : `since ${date}${span}: ${told.length === 0 ? 'no status changed' : told.join(', ')}`
  return { date: dayText(day), text, counts }
}
