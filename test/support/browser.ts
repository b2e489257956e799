import { type Browser, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll } from 'vitest'
import { BROWSER_FLAGS, findBrowser } from '../../scripts/browser.js'

/** One Chromium for all test files of a worker; it ends with the worker. */
let shared: Promise<Browser> | undefined

function launched(): Promise<Browser> {
  const executablePath = findBrowser()
  if (executablePath === undefined)
    throw new Error('no Chromium found: set ACUARELA_BROWSER, or run npm test, which installs one')
  shared ??= chromium.launch({ executablePath, args: BROWSER_FLAGS })
  return shared
}

/** A new page for each call, closed after the test file; errors of the page are collected. */
export function useBrowser(): { open(width?: number, height?: number): Promise<{ page: Page; faults: string[] }> } {
  let browser: Browser
  const opened: Page[] = []
  beforeAll(async () => {
    browser = await launched()
  })
  afterAll(() => Promise.all(opened.map((page) => page.context().close())))
  return {
    async open(width = 1280, height = 800) {
      const page = await browser.newPage({ viewport: { width, height } })
      opened.push(page)
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
