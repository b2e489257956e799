import { type Browser, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll, onTestFinished } from 'vitest'
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

/**
 * Pages that wait for their next test. A page that is used again has its process and its compiled
 * scripts: it shows the demo in a third of the processor time of a new one.
 */
const waiting: Page[] = []

/** What tests listen to. */
const EVENTS = ['console', 'pageerror', 'dialog', 'request', 'requestfinished', 'response', 'download'] as const

/** Takes away what a test left in a page: listeners, settings, permissions, and what is stored. */
async function cleaned(page: Page): Promise<void> {
  for (const event of EVENTS) page.removeAllListeners(event)
  page.on('dialog', (dialog) => void dialog.accept())
  const { origin } = new URL(page.url())
  await page.goto('about:blank')
  page.removeAllListeners('dialog')
  const context = page.context()
  await context.clearCookies()
  await context.clearPermissions()
  const inspector = await context.newCDPSession(page)
  if (/^http/.test(origin)) await inspector.send('Storage.clearDataForOrigin', { origin, storageTypes: 'all' })
  await inspector.detach()
  await page.emulateMedia({ media: null, colorScheme: 'light', forcedColors: 'none', reducedMotion: 'no-preference' })
}

/** A page for a test. */
interface Opened {
  page: Page
  /** What the page complained about, and what it asked of other servers. */
  faults: string[]
  /** Gives the page back before the test ends. */
  done(): Promise<void>
}

/** A page without anything of another test for each call, given back after it. */
export function useBrowser(): { open(width?: number, height?: number): Promise<Opened> } {
  let browser: Browser
  const opened = new Set<Page>()
  beforeAll(async () => {
    browser = await launched()
  })
  const giveBack = async (page: Page): Promise<void> => {
    if (!opened.delete(page) || page.isClosed()) return
    try {
      await cleaned(page)
      waiting.push(page)
    } catch {
      await page.context().close()
    }
  }
  afterAll(async () => {
    for (const page of [...opened]) await giveBack(page)
  })
  return {
    async open(width = 1280, height = 800) {
      const page = waiting.pop() ?? (await browser.newPage())
      await page.setViewportSize({ width, height })
      opened.add(page)
      const done = (): Promise<void> => giveBack(page)
      try {
        onTestFinished(done)
      } catch {
        // Opened for all tests of the file: given back after them.
      }
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
      return { page, faults, done }
    },
  }
}

/** Opens a page of the tool, and waits until its script has drawn it if it has one. */
export async function goTo(page: Page, url: string): Promise<void> {
  await page.goto(url)
  if ((await page.locator('#acuarela').count()) > 0)
    await page.locator('main:not([aria-busy=true]) .exhibits').waitFor()
}
