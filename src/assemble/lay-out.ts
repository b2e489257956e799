import type { Exhibit } from '../page/page.js'
import { type Answered, type Asked, answerExhibit } from './answer-exhibit.js'
import { buildCards } from './cards.js'
import { buildChart } from './chart.js'
import type { BoundExhibit } from './exhibit.js'
import { buildGrid } from './grid.js'
import { answerRecords, buildRecords } from './records.js'
import { answerTrend } from './trend.js'
import { answerPeriods, buildWords } from './words.js'

/** Answers an exhibit, with whatever is shown inside it, and lays it out. */
export async function layOut(asked: Asked, exhibit: BoundExhibit): Promise<{ answered: Answered; exhibit: Exhibit }> {
  switch (exhibit.kind) {
    case 'chart': {
      const answered = await answerExhibit(asked, exhibit)
      return { answered, exhibit: buildChart(answered) }
    }
    case 'cards': {
      const answered = await answerExhibit(asked, exhibit)
      const trends = await Promise.all(
        (exhibit.cards ?? []).map(async ({ trend }) => trend && answerTrend(asked, answered, trend)),
      )
      return { answered, exhibit: buildCards(answered, trends) }
    }
    case 'records': {
      const { answered, found } = await answerRecords(asked, exhibit)
      return { answered, exhibit: buildRecords(answered, found) }
    }
    case 'words': {
      const answered = await answerExhibit(asked, exhibit)
      return { answered, exhibit: buildWords(answered, await answerPeriods(asked, exhibit), asked.asOf) }
    }
    default: {
      const answered = await answerExhibit(asked, exhibit)
      const trends = await Promise.all(
        exhibit.slots.flatMap((slot) => ('trend' in slot ? [answerTrend(asked, answered, slot.trend)] : [])),
      )
      return { answered, exhibit: buildGrid(answered, trends) }
    }
  }
}
