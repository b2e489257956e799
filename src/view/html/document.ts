import type { Page } from '../../page/page.js'
import type { Shape } from '../../shape/shape.js'
import { escapeText } from '../markup.js'
import { checkGiven, documentFor } from '../model/check-input.js'
import { partedRows, trendValues } from './first-view.js'
import { createWriting, type HtmlOptions, htmlParts } from './page.js'
import { STYLE } from './sheet.js'

/** The script of a live page, and its data. */
export interface LiveParts {
  /** The runtime, as the content of a script element. */
  script: string
  /** SHA-256 of the script in base64: the policy of the page allows this script alone. */
  hash: string
  /** JSON for the runtime. */
  data: string
  /** The lists of the data as bytes: deflated, in base64; empty without long lists. */
  bytes: string
  /** The style of the controls. */
  style: string
}

const OPTIONS: Shape = {
  keys: {
    'document?': 'anything',
    'theme?': { oneOf: ['auto', 'light', 'dark'] },
    'paper?': { oneOf: ['A4', 'Letter'] },
  },
}

/**
 * A page as one self-contained HTML file. Nothing is fetched; without `live` there is no script.
 */
export async function toHtml(page: Page, options: HtmlOptions = {}, live?: LiveParts): Promise<string> {
  checkGiven(page, OPTIONS, options)
  // Browsers take many seconds to lay out rows that the script removes at once.
  const document = await documentFor(page, options.document)
  const writing = { ...createWriting(page), ...(live ? { parted: partedRows } : { values: trendValues }) }
  const { symbols, header, strip, exhibits, sources, css } = await htmlParts(
    page,
    { ...options, ...(document && { document }) },
    writing,
  )
  const paper = options.paper === undefined ? '' : `@page{size:${options.paper}}\n`
  // The live page begins with the theme that it was written in.
  const theme = options.theme === undefined || options.theme === 'auto' ? '' : ` data-theme="${options.theme}"`
  const allowed = live === undefined ? '' : `; script-src 'sha256-${live.hash}'`
  const scripts =
    live === undefined
      ? ''
      : `<script type="application/json" id="acuarela">${live.data.replaceAll('<', '\\u003c')}</script>
${live.bytes === '' ? '' : `<script type="application/octet-stream" id="acuarela-bytes">${live.bytes}</script>\n`}<script>${live.script}</script>
`
  return `<!doctype html>
<html lang="${escapeText(page.locale)}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:${allowed}">
<title>${escapeText(page.title)}</title>
<style>
${STYLE}${paper}${live?.style ?? ''}</style>
<style>
${css}
</style>
</head>
<body>
${symbols}
<main${theme}>
${header}
${strip}
${exhibits.join('\n')}
${sources}</main>
${scripts}</body>
</html>
`
}
