import type { Page } from '../../page/page.js'
import type { AnsweredExhibit, BuiltExhibit, QueryContext } from '../model/answered.js'
import type { BoundExhibit } from '../model/bound.js'
import { LOAD } from './kinds/registry.js'
import { MAX_MADE_ROWS } from './slots.js'

/** Answers an exhibit with its trends, and lays it out. */
export async function buildExhibit(context: QueryContext, exhibit: BoundExhibit): Promise<BuiltExhibit> {
  const prepare = await LOAD[exhibit.kind]()
  const { answered: plain, build } = await prepare(context, exhibit)
  const answered =
    exhibit.since === undefined
      ? plain
      : await (await import('./since/answer.js')).withThen(
          context,
          plain,
          async (asked, whole) => (await prepare(asked, whole)).answered,
        )
  return builtExhibit(answered, build, context)
}

/** An answered exhibit; a long table is laid out at the first call, where that is wanted. */
export function builtExhibit(
  answered: AnsweredExhibit,
  build: BuiltExhibit['build'],
  { late }: Pick<QueryContext, 'late'>,
): BuiltExhibit {
  const { exhibit, summary } = answered
  const isLate =
    late === true && exhibit.kind === 'table' && summary.rows.depths[exhibit.rows.length].length > MAX_MADE_ROWS
  let laid = isLate ? undefined : build(answered)
  // The strip and the counts of changes read the details.
  if (isLate) answered.levels.of(summary.levels[exhibit.rows.length][exhibit.columns.length])
  return {
    answered,
    build,
    layOut() {
      laid ??= build(answered)
      return laid
    },
  }
}

/** A page with its exhibits, laid out when they are first looked at. */
export function pageOf(about: Omit<Page, 'exhibits'>, laid: readonly BuiltExhibit[]): Page {
  let exhibits: Page['exhibits'] | undefined
  return {
    ...about,
    get exhibits() {
      exhibits ??= laid.map((each) => each.layOut())
      return exhibits
    },
  }
}
