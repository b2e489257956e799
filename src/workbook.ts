import type { Page } from './page/page.js'
import type { Shape } from './shape/shape.js'
import { checkGiven } from './view/model/check-input.js'
import { toSvg } from './view/svg/checked.js'
import { type WorkbookOptions, writeOds } from './view/workbook/document.js'

export type { WorkbookOptions } from './view/workbook/document.js'
export type { RuleWords } from './view/workbook/words.js'

const OPTIONS: Shape = {
  keys: {
    'why?': 'truth',
    'rules?': { list: { keys: { title: 'text', sentence: 'text' } } },
    'document?': 'anything',
    'png?': 'function',
  },
}

/**
 * A page as an OpenDocument spreadsheet (ISO/IEC 26300): a sheet for each exhibit, one for legends
 * and rules, one for sources. Values stay values, with their formats and paint; the same page gives
 * the same bytes.
 *
 * @throws ProblemError for what is no page, and options of another shape.
 */
export async function toOds(page: Page, options: WorkbookOptions = {}): Promise<Uint8Array> {
  checkGiven(page, OPTIONS, options)
  return writeOds(page, options, toSvg)
}
