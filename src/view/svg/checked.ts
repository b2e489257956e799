import type { Page } from '../../page/page.js'
import type { Shape } from '../../shape/shape.js'
import { checkGiven, documentFor } from '../model/check-input.js'
import { drawSvg, type SvgFile, type SvgOptions } from './page.js'

const OPTIONS: Shape = { keys: { 'document?': 'anything', 'rows?': { is: 'whole', min: 1 } } }

/**
 * Every exhibit of a page as an SVG file, with its title and legend. Long tables are cut, with a
 * message.
 *
 * @throws ProblemError for what is no page, and options of another shape.
 */
export async function toSvg(page: Page, given: SvgOptions = {}): Promise<SvgFile[]> {
  checkGiven(page, OPTIONS, given)
  const document = await documentFor(page, given.document)
  return drawSvg(page, { ...given, ...(document && { document }) })
}
