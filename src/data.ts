import type { Page } from './page/page.js'
import { toData as dataOf, toJson as jsonOf } from './view/data/json.js'
import { checkGiven } from './view/model/check-input.js'

export { toCsv } from './view/data/csv.js'

/**
 * The painted data of a page: the exchange format, documented in docs/painted-data.md. Every
 * channel is listed on every cell.
 *
 * @throws ProblemError for what is no page.
 */
export function toData(page: Page): object {
  checkGiven(page)
  return dataOf(page)
}

/**
 * The painted data as JSON text, one cell on a line, so that large files are readable and their
 * diffs small.
 *
 * @throws ProblemError for what is no page.
 */
export function toJson(page: Page): string {
  checkGiven(page)
  return jsonOf(page)
}
