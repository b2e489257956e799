import { existsSync } from 'node:fs'
import { delimiter, join } from 'node:path'
import type { Page } from 'playwright-core'
import { ProblemError, problem } from '../problem/problem.js'
import { checkShape, type Shape } from '../shape/shape.js'
import { escapeText } from '../view/markup.js'

/**
 * A Chromium-based browser on this machine: ACUARELA_BROWSER, else the usual names. Nothing is
 * downloaded.
 */
export function findBrowser(): string | undefined {
  const asked = process.env.ACUARELA_BROWSER
  if (asked !== undefined && existsSync(asked)) return asked
  const names = ['chromium', 'chromium-browser', 'google-chrome', 'google-chrome-stable', 'chrome.exe']
  for (const folder of (process.env.PATH ?? '').split(delimiter))
    for (const name of names) if (existsSync(join(folder, name))) return join(folder, name)
  const mac = '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome'
  return existsSync(mac) ? mac : undefined
}

/**
 * Arguments of the browser: no sandbox for root in a container, and no background requests, which a
 * closed network would refuse.
 */
export const BROWSER_FLAGS: string[] = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

/** Limits of a picture in CSS pixels: its width, and the width for a wide table. */
const DEFAULT_WIDTH = 1280
const MAX_WIDTH = 4000

/** Options of a picture. */
export interface PictureOptions {
  /** In CSS pixels; default: 1280. A wider table makes the picture wider. */
  width?: number
  /** Device pixels for each CSS pixel; default: 2. */
  scale?: number
  /** Default: light. */
  theme?: 'light' | 'dark'
}

const OPTIONS: Shape = {
  keys: {
    width: { is: 'whole', min: 1, max: 16_000 },
    scale: { is: 'number', above: 0, max: 8 },
    theme: { oneOf: ['light', 'dark'] },
  },
}

/** A part of the strip, as the browser shows it. */
interface BandPart {
  background: string
  color: string
  text: string
  /** How wide it is, beside the others. */
  share: string
}

/** The head of each page of a PDF, in its margin: the title and the strip in one line. */
function runningHead(title: string, band: readonly BandPart[]): string {
  const parts = band.map(
    ({ background, color, text, share }) =>
      `<span style="flex:${Number(share)} 1 0;min-width:max-content;padding:1px 5px;background:${escapeText(background)};color:${escapeText(color)};-webkit-print-color-adjust:exact">${escapeText(text)}</span>`,
  )
  return `<div style="font:7px sans-serif;width:100%;margin:0 14mm;display:flex;gap:8px;align-items:center"><span>${escapeText(title)}</span><div style="display:flex;flex:1;gap:1px">${parts.join('')}</div></div>`
}

/** Renders pages in a browser of this machine, as a picture or PDF. Close it after use. */
export interface PageRenderer {
  /** The whole page as PNG. */
  png(html: string, options?: PictureOptions): Promise<Uint8Array>
  /** Drawings as PNG, in one go: each as large as its `width` and `height` say, twice as sharp. */
  pictures(svgs: readonly string[]): Promise<Uint8Array[]>
  /** As PDF; paper and margins are those of the page. */
  pdf(html: string): Promise<Uint8Array>
  close(): Promise<void>
}

/** A page of drawings, one below the other. */
function drawingsPage(svgs: readonly string[]): string {
  const drawings = svgs.map((svg) => `<div style="width:max-content">${svg}</div>`)
  return `<!doctype html><body style="margin:0">${drawings.join('')}</body>`
}

async function shotsOf(page: Page): Promise<Uint8Array[]> {
  const pictures: Uint8Array[] = []
  for (const drawing of await page.locator('body > div').all()) pictures.push(await drawing.screenshot())
  return pictures
}

/**
 * Starts the browser. It runs no script and fetches nothing.
 *
 * @throws ProblemError where there is no browser, or nothing to drive it with.
 */
export async function openRenderer(): Promise<PageRenderer> {
  const path = findBrowser()
  if (path === undefined) throw new ProblemError([problem('browser-missing', {})])
  const { chromium } = await import('playwright-core').catch(() => {
    throw new ProblemError([problem('package-missing', { name: 'playwright-core', what: 'png and pdf' })])
  })
  const browser = await chromium.launch({ executablePath: path, args: [...BROWSER_FLAGS] }).catch((error: unknown) => {
    const why = error instanceof Error ? error.message.split('\n')[0] : String(error)
    throw new ProblemError([problem('browser-start', { path, why })])
  })
  const open = async <T>(
    html: string,
    { width = DEFAULT_WIDTH, scale = 1, theme = 'light' }: PictureOptions,
    use: (page: Awaited<ReturnType<typeof browser.newPage>>) => Promise<T>,
  ): Promise<T> => {
    checkShape('text', html, ['html'])
    checkShape(OPTIONS, { width, scale, theme }, ['options'])
    const page = await browser.newPage({
      viewport: { width, height: 800 },
      deviceScaleFactor: scale,
      colorScheme: theme,
      javaScriptEnabled: false,
      offline: true,
    })
    try {
      await page.setContent(html, { waitUntil: 'load' })
      return await use(page)
    } finally {
      await page.close()
    }
  }
  return {
    png: (html, options = {}) =>
      open(html, { scale: 2, ...options }, async (page) => {
        // A picture cannot be scrolled: it is as wide as its widest table needs.
        const more = await page.locator('body').evaluate((body) => {
          const tables = [...body.querySelectorAll('.wide:not(details *)')].map(
            (element) => element.scrollWidth - element.clientWidth,
          )
          return Math.max(0, ...tables)
        })
        if (more > 0) {
          // Set on the element: with scripts off nothing reports that an added style sheet applies.
          await page.locator('main').evaluate((main) => {
            main.style.maxWidth = 'none'
          })
          await page.setViewportSize({
            width: Math.min(MAX_WIDTH, (options.width ?? DEFAULT_WIDTH) + more),
            height: 800,
          })
        }
        return page.screenshot({ fullPage: true, type: 'png' })
      }),
    pictures: (svgs) => open(drawingsPage(svgs), { scale: 2 }, shotsOf),
    pdf: (html) =>
      open(html, {}, async (page) => {
        const band = await page.locator('.band a').evaluateAll((all) =>
          all.map((part) => {
            const { backgroundColor = '', color = '' } = part.ownerDocument.defaultView?.getComputedStyle(part) ?? {}
            const text = [...part.querySelectorAll('span')].map((span) => span.textContent ?? '').join(' ')
            return { background: backgroundColor, color, text, share: part.parentElement?.style.flexGrow ?? '1' }
          }),
        )
        const common = { preferCSSPageSize: true, printBackground: true } as const
        if (band.length === 0) return page.pdf(common)
        const title = (await page.locator('h1').first().textContent()) ?? ''
        const headerTemplate = runningHead(title, band)
        return page.pdf({ ...common, displayHeaderFooter: true, headerTemplate, footerTemplate: '<span></span>' })
      }),
    close: () => browser.close(),
  }
}
