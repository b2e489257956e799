import type { BuiltExhibit, QueryContext } from '../model/answered.js'
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
  return { answered, exhibit: build(answered), build }
}
