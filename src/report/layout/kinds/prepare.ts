import type { AnsweredExhibit, BuiltExhibit, QueryContext } from '../../model/answered.js'
import type { BoundExhibit, BoundTrend } from '../../model/bound.js'
import type { Trends } from '../trends.js'

/** Answers an exhibit of one kind. `build` lays it out, and again after a parameter moved. */
export type Prepare = (
  context: QueryContext,
  exhibit: BoundExhibit,
) => Promise<Pick<BuiltExhibit, 'answered' | 'build'>>

/** The trends of an exhibit, in order. */
export async function answerTrends<T extends BoundTrend | undefined>(
  context: QueryContext,
  answered: AnsweredExhibit,
  trends: readonly T[],
): Promise<(Trends | (T & undefined))[]> {
  if (trends.every((trend) => trend === undefined)) return trends.map((trend) => trend as T & undefined)
  const { answerTrend } = await import('../trends.js')
  return Promise.all(
    trends.map(async (trend) =>
      trend === undefined ? (trend as T & undefined) : answerTrend(context, answered, trend),
    ),
  )
}
