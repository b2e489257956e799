import { type Browser, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll } from 'vitest'
import { BROWSER_FLAGS, findBrowser } from '../../scripts/browser.js'

/** One Chromium for a test file, and a new page for each call; errors of the page are collected. */
export function useBrowser(): { open(width?: number, height?: number): Promise<{ page: Page; faults: string[] }> } {
  let browser: Browser
  beforeAll(async () => {
    const executablePath = findBrowser()
    if (executablePath === undefined)
      throw new Error('no Chromium found: set ACUARELA_BROWSER, or run npm test, which installs one')
    browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
  })
  afterAll(() => browser.close())
  return {
    async open(width = 1280, height = 800) {
      const page = await browser.newPage({ viewport: { width, height } })
      // A busy machine may be slow; a hang still ends.
      page.setDefaultTimeout(120_000)
      const faults: string[] = []
      page.on('console', (message) => faults.push(`${message.type()}: ${message.text()}`))
      page.on('pageerror', (error) => faults.push(`error: ${error.message}`))
      page.on('dialog', (dialog) => {
        faults.push(`dialog: ${dialog.message()}`)
        void dialog.dismiss()
      })
      page.on('request', (request) => {
        if (!/^(file|data|about):|^http:\/\/(localhost|127\.0\.0\.1)/.test(request.url()))
          faults.push(`request: ${request.url()}`)
      })
      return { page, faults }
    },
  }
}
