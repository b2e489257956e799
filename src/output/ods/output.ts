import { findBrowser, type PageRenderer } from '../../node/browser.js'
import type { Page } from '../../page/page.js'
import { ProblemError } from '../../problem/problem.js'
import type { WorkbookOptions } from '../../view/workbook/document.js'
import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'ods',
  about:
    'a workbook by the open standard, a sheet for each exhibit: values with formats and paint; charts as SVG, and as PNG where a browser is found',
  library: '`toOds(page, { why, rules, png })` of `acuarela/workbook`',
  binary: true,
  annotates: true,
  async render(page, { why, rules }, renderer) {
    const { writeOds } = await import('../../view/workbook/document.js')
    const { toSvg } = await import('../../view/svg/checked.js')
    const options = { ...(why && { why }), ...(rules && { rules }), ...(await pngOf(page, renderer)) }
    return whole(await writeOds(page, options, toSvg))
  },
}

/** Makes pictures of charts for programs that show no SVG, where a browser is at hand. */
async function pngOf(page: Page, renderer: () => Promise<PageRenderer>): Promise<Pick<WorkbookOptions, 'png'>> {
  if (!page.exhibits.some(({ kind }) => kind === 'chart') || findBrowser() === undefined) return {}
  try {
    const browser = await renderer()
    return { png: (svgs) => browser.pictures(svgs) }
  } catch (error) {
    // A browser that does not start is no reason to write no workbook.
    if (error instanceof ProblemError) return {}
    throw error
  }
}
