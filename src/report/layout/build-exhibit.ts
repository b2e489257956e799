import type { Page } from '../../page/page.js'
import type { AnsweredExhibit, BuiltExhibit, QueryContext } from '../model/answered.js'
import type { BoundExhibit } from '../model/bound.js'
import { LOAD } from './kinds/registry.js'

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
  return layOut(answered, build, context)
}

/** Shorter tables are laid out at once. */
const MIN_LATE_ROWS = 300

/** Lays an answered exhibit out: a long table when it is first looked at, where that is wanted. */
export function layOut(
  answered: AnsweredExhibit,
  build: BuiltExhibit['build'],
  { late }: Pick<QueryContext, 'late'>,
): BuiltExhibit {
  const { exhibit, summary } = answered
  const isLate =
    late === true && exhibit.kind === 'table' && summary.rows.depths[exhibit.rows.length].length > MIN_LATE_ROWS
  if (!isLate) return { answered, exhibit: build(answered), build }
  // The strip and the counts of changes read the details.
  answered.levels.of(summary.levels[exhibit.rows.length][exhibit.columns.length])
  let made: BuiltExhibit['exhibit'] | undefined
  return {
    answered,
    build,
    get exhibit() {
      made ??= build(answered)
      return made
    },
  }
}

/** A page with its exhibits, laid out when they are first looked at. */
export function pageOf(about: Omit<Page, 'exhibits'>, laid: readonly BuiltExhibit[]): Page {
  let exhibits: Page['exhibits'] | undefined
  return {
    ...about,
    get exhibits() {
      exhibits ??= laid.map(({ exhibit }) => exhibit)
      return exhibits
    },
  }
}
