import type { Exhibit } from '../page/page.js'
import { type Answered, type Asked, answerExhibit } from './answer-exhibit.js'
import { buildCards } from './cards.js'
import { buildChart } from './chart.js'
import type { BoundExhibit } from './exhibit.js'
import { buildGrid } from './grid.js'
import { answerRecords, buildRecords } from './records.js'
import { answerTrend } from './trend.js'
import { answerPeriods, buildWords } from './words.js'

/** An exhibit answered, and what lays it out: once more where it is decided again with the same numbers. */
export interface LaidOut {
  answered: Answered
  exhibit: Exhibit
  build(answered: Answered): Exhibit
}

/** Answers an exhibit, with whatever is shown inside it, and lays it out. */
export async function layOut(asked: Asked, exhibit: BoundExhibit): Promise<LaidOut> {
  const { answered, build } = await prepared(asked, exhibit)
  return { answered, exhibit: build(answered), build }
}

async function prepared(asked: Asked, exhibit: BoundExhibit): Promise<Pick<LaidOut, 'answered' | 'build'>> {
  switch (exhibit.kind) {
    case 'chart':
      return { answered: await answerExhibit(asked, exhibit), build: buildChart }
    case 'cards': {
      const answered = await answerExhibit(asked, exhibit)
      const trends = await Promise.all(
        (exhibit.cards ?? []).map(async ({ trend }) => trend && answerTrend(asked, answered, trend)),
      )
      return { answered, build: (own) => buildCards(own, trends) }
    }
    case 'records': {
      const { answered, found } = await answerRecords(asked, exhibit)
      return { answered, build: (own) => buildRecords(own, found) }
    }
    case 'words': {
      const answered = await answerExhibit(asked, exhibit)
      const periods = await answerPeriods(asked, exhibit)
      return { answered, build: (own) => buildWords(own, periods, asked.asOf) }
    }
    default: {
      const answered = await answerExhibit(asked, exhibit)
      const trends = await Promise.all(
        exhibit.slots.flatMap((slot) => ('trend' in slot ? [answerTrend(asked, answered, slot.trend)] : [])),
      )
      return { answered, build: (own) => buildGrid(own, trends) }
    }
  }
}
