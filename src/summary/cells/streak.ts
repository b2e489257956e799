import type { Calendar } from '../../time/calendar.js'
import { isPeriodUnit, type PeriodUnit, periodOf, type Span } from '../../time/period.js'
import type { Measure } from '../plan/measures.js'
import type { Streak } from '../plan/streaks.js'
import { shareKeys } from './align-keys.js'
import { type CellSet, type CellSetKey, coarser, spansOf, tellsTime } from './cell-set.js'
import { partsAt, type StreakAnswer, worker } from './evaluate-measures.js'
import { askAll } from './merge.js'
import type { SourceAnswers, SourceQuery } from './question.js'

/** The condition of a streak in every period up to the last, even if fewer are shown. */
export interface StreakQuery {
  streak: Streak
  unit: PeriodUnit
  askings: readonly SourceQuery[]
  /** From the first day of the data to the last that counts. */
  span: Span
  /** All measures of the condition. */
  measures: readonly Measure[]
}

/**
 * Asks for the condition of a streak in every period, and counts back from the last period of a
 * cell.
 */
export async function askStreak(
  asking: StreakQuery,
  keys: readonly string[],
  main: {
    answers: SourceAnswers
    whole: Span | undefined
    calendar: Calendar
    parameters: ReadonlyMap<string, number>
  },
): Promise<StreakAnswer> {
  const { streak, unit, span } = asking
  const names = keys.filter((name) => !isPeriodUnit(name))
  const unitAnswers = await askAll(asking.askings, [...names, unit], [], main.calendar)
  // A common domain for the keys of both: the same shop has the same code.
  const both = shareKeys(
    [...names, unit],
    [...main.answers.list.map((a) => a.groups), ...unitAnswers.list.map((a) => a.groups)],
  )
  const skipped = main.answers.list.length
  const answers: SourceAnswers = {
    list: unitAnswers.list,
    shared: both.map((key) => ({ ...key, codes: key.codes.slice(skipped) })),
  }
  const test: Measure = {
    name: streak.key,
    label: streak.key,
    unit: { is: 'none' },
    formula: streak.key,
    bound: {
      op: 'if',
      test: streak.of,
      yes: { op: 'number', value: 1, type: streak.type },
      no: { op: 'number', value: 0, type: streak.type },
      type: streak.type,
    },
  }
  const measures = [...asking.measures, test]
  return {
    key: streak.key,
    async at(frame) {
      const frameNames = frame.keys.map((key) => key.name)
      const kept = frameNames.filter((name) => !tellsTime(name, frameNames))
      const groups = coarser(frame, kept)
      const first = periodOf(unit, span.from, main.calendar)
      const count = periodOf(unit, span.to, main.calendar) - first + 1
      const long = byPeriods(groups.frame, both, { unit, first, count, calendar: main.calendar })
      const holds = worker(measures, main.parameters)(await partsAt(answers, long, measures, []), test)
      const runs = countRuns(holds, groups.frame.count, count)
      const spans = main.whole === undefined ? [] : spansOf(frame, main.whole)
      return Float64Array.from({ length: frame.count }, (_, cell) => {
        const until = spans[cell]
        if (until === undefined || until.from > until.to) return Number.NaN
        const at = periodOf(unit, until.to, main.calendar) - first
        return at < 0 || at >= count ? Number.NaN : runs[groups.into[cell] * count + at]
      })
    },
  }
}

/** The cells, repeated for each of the periods. */
function byPeriods(
  frame: CellSet,
  shared: readonly { name: string; domain: CellSetKey['domain'] }[],
  { unit, first, count, calendar }: { unit: PeriodUnit; first: number; count: number; calendar: Calendar },
): CellSet {
  const total = frame.count * count
  const keys = frame.keys.map(
    (key): CellSetKey => ({
      ...key,
      codes: Int32Array.from({ length: total }, (_, i) => key.codes[Math.floor(i / count)]),
    }),
  )
  const unitDomain = shared.find((key) => key.name === unit)?.domain
  const periods = unitDomain?.kind === 'time' ? [...unitDomain.periods] : []
  const codes = new Map(periods.map((period, code) => [period, code]))
  const periodCodes = Int32Array.from({ length: count }, (_, k) => codes.get(first + k) ?? periods.push(first + k) - 1)
  const domain: CellSetKey['domain'] = {
    kind: 'time',
    unit,
    periods,
    ...(calendar.yearStarts === 1 ? {} : { calendar }),
  }
  return {
    count: total,
    keys: [
      ...keys,
      { name: unit, domain, codes: Int32Array.from({ length: total }, (_, i) => periodCodes[i % count]) },
    ],
  }
}

/** For each period, how many periods in a row the condition holds; missing if it is unknown. */
function countRuns(holds: Float64Array, groups: number, count: number): Float64Array {
  const out = new Float64Array(groups * count)
  for (let g = 0; g < groups; g++) {
    let run = 0
    for (let i = g * count; i < (g + 1) * count; i++) {
      run = holds[i] === 1 ? run + 1 : 0
      out[i] = Number.isNaN(holds[i]) ? Number.NaN : run
    }
  }
  return out
}
