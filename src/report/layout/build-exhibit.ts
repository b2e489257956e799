import type { BuiltExhibit, QueryContext } from '../model/answered.js'
import type { BoundExhibit } from '../model/bound.js'
import { LOAD } from './kinds/registry.js'

/** Answers an exhibit with its trends, and lays it out. */
export async function buildExhibit(context: QueryContext, exhibit: BoundExhibit): Promise<BuiltExhibit> {
  const prepare = await LOAD[exhibit.kind]()
  const { answered, build } = await prepare(context, exhibit)
  return { answered, exhibit: build(answered), build }
}
