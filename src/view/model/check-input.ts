import type { Page } from '../../page/page.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { checkShape, type Shape } from '../../shape/shape.js'
import type { DrawingDocument } from '../chart/frame.js'

/**
 * Refuses what is no page, and options of another shape.
 *
 * @throws ProblemError carrying every problem.
 */
export function checkGiven(page: Page, shape?: Shape, options?: unknown): void {
  const candidate = page as Page | null | undefined
  if (
    typeof candidate !== 'object' ||
    candidate === null ||
    !Array.isArray(candidate.exhibits) ||
    typeof candidate.title !== 'string'
  )
    throw new ProblemError([
      problem('no-page', { found: candidate === null ? 'nothing' : typeof candidate }, { path: ['page'] }),
    ])
  if (shape !== undefined) checkShape(shape, options, ['options'])
}

/**
 * The document for charts: the given one, else one that needs no browser, loaded if a page has
 * charts.
 */
export async function documentFor(
  page: Page,
  given: DrawingDocument | undefined,
): Promise<DrawingDocument | undefined> {
  if (given !== undefined || !page.exhibits.some(({ kind }) => kind === 'chart')) return given
  const { parseHTML } = await import('linkedom')
  return parseHTML('<!doctype html><html><body></body></html>').document as unknown as DrawingDocument
}
