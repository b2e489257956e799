import { answerExhibit } from '../answer/exhibit.js'
import type { AnsweredExhibit, BuiltExhibit, QueryContext } from '../model/answered.js'
import type { BoundExhibit, BoundTrend } from '../model/bound.js'
import { buildGrid } from './grid.js'
import type { Trends } from './trends.js'

/** Answers an exhibit, with whatever is shown inside it, and lays it out. */
export async function buildExhibit(asked: QueryContext, exhibit: BoundExhibit): Promise<BuiltExhibit> {
  const { answered, build } = await prepared(asked, exhibit)
  return { answered, exhibit: build(answered), build }
}

/** What is not a table is loaded when a report has it. */
async function prepared(asked: QueryContext, exhibit: BoundExhibit): Promise<Pick<BuiltExhibit, 'answered' | 'build'>> {
  if (exhibit.kind === 'records') {
    const { answerRecords, buildRecords } = await import('./records.js')
    const { answered, found } = await answerRecords(asked, exhibit)
    return { answered, build: (own) => buildRecords(own, found) }
  }
  const answered = await answerExhibit(asked, exhibit)
  switch (exhibit.kind) {
    case 'chart':
      return { answered, build: (await import('./chart.js')).buildChart }
    case 'cards': {
      const { buildCards } = await import('./cards.js')
      const trends = await answerTrends(asked, answered, exhibit.cards?.map(({ trend }) => trend) ?? [])
      return { answered, build: (own) => buildCards(own, trends) }
    }
    case 'reading': {
      const { answerPeriods, buildReading: buildWords } = await import('./reading.js')
      const periods = await answerPeriods(asked, exhibit)
      return { answered, build: (own) => buildWords(own, periods, asked.asOf) }
    }
    default: {
      const lines = exhibit.slots.flatMap((slot) => ('trend' in slot ? [slot.trend] : []))
      const trends = await answerTrends(asked, answered, lines)
      return { answered, build: (own) => buildGrid(own, trends) }
    }
  }
}

/** The lines of an exhibit, in their order. */
async function answerTrends<T extends BoundTrend | undefined>(
  asked: QueryContext,
  answered: AnsweredExhibit,
  trends: readonly T[],
): Promise<(Trends | (T & undefined))[]> {
  if (trends.every((trend) => trend === undefined)) return trends.map((trend) => trend as T & undefined)
  const { answerTrend } = await import('./trends.js')
  return Promise.all(
    trends.map(async (trend) => (trend === undefined ? (trend as T & undefined) : answerTrend(asked, answered, trend))),
  )
}
