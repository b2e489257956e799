import type { ChartExhibit, Exhibit, Page } from '../../page/page.js'
import { ProblemError, problem } from '../../problem/problem.js'
import type { DrawingDocument } from '../chart.js'
import { iconSymbols } from '../icon.js'
import { escapeText } from '../markup.js'
import { gridMarkup } from './grid.js'
import { legendMarkup } from './legend.js'
import { createLookClasses, type LookClasses } from './looks.js'
import { STYLE } from './style.js'

export interface HtmlOptions {
  /**
   * What charts are drawn with: the browser's document, or on a server one from `acuarela/node`.
   * Left out, a page that holds a chart is a problem.
   */
  document?: DrawingDocument
}

/** Widths of a chart that has the page for itself, and of one at the side of another exhibit, in pixels. */
const WHOLE = 1150
const HALF = 620

/** A page as one self-contained HTML file: no script, nothing fetched. */
export async function toHtml(page: Page, options: HtmlOptions = {}): Promise<string> {
  const classes = createLookClasses()
  const charts = await drawCharts(page, options)
  const sections: string[] = []
  for (const exhibit of page.exhibits) {
    const markup = exhibitMarkup(exhibit, classes, charts, page.icons)
    const previous = sections.at(-1)
    if (exhibit.beside && previous !== undefined)
      sections[sections.length - 1] = previous.startsWith('<div class="pair">')
        ? `${previous.slice(0, -'</div>'.length)}${markup}</div>`
        : `<div class="pair">${previous}${markup}</div>`
    else sections.push(markup)
  }
  const about = [
    page.asOfText === null ? '' : `as of ${page.asOfText}`,
    ...page.sources,
    page.where === null ? '' : `where ${page.where}`,
  ]
  const by = about
    .filter((text) => text !== '')
    .map(escapeText)
    .join(' · ')
  const lead = page.note === null ? '' : `<p class="lead">${escapeText(page.note)}</p>`
  return `<!doctype html>
<html lang="${escapeText(page.locale)}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:">
<title>${escapeText(page.title)}</title>
<style>
${STYLE}${classes.css()}
</style>
</head>
<body>
<svg width="0" height="0" class="v" aria-hidden="true">${iconSymbols(iconsOf(page))}</svg>
<main>
<header><h1>${escapeText(page.title)}</h1>
<p class="by">${by}</p>${lead}${saidMarkup(page.notes)}</header>
${sections.join('\n')}
${sourcesMarkup(page)}</main>
</body>
</html>
`
}

async function drawCharts(page: Page, { document }: HtmlOptions): Promise<Map<Exhibit, string>> {
  const charts = page.exhibits.filter((exhibit): exhibit is ChartExhibit => exhibit.kind === 'chart')
  const drawn = new Map<Exhibit, string>()
  if (charts.length === 0) return drawn
  if (document === undefined) throw new ProblemError([problem('document-needed', {})])
  const { drawChart } = await import('../chart.js')
  for (const exhibit of charts) {
    const next = page.exhibits[page.exhibits.indexOf(exhibit) + 1]
    const shares = exhibit.beside || next?.beside === true
    drawn.set(exhibit, drawChart(exhibit, document, { width: shares ? HALF : WHOLE, height: 330 }))
  }
  return drawn
}

function exhibitMarkup(
  exhibit: Exhibit,
  classes: LookClasses,
  charts: ReadonlyMap<Exhibit, string>,
  icons: Page['icons'],
): string {
  const id = `x-${encodeURIComponent(exhibit.name.toWellFormed())}`
  const note = [exhibit.note ?? (exhibit.kind === 'chart' ? exhibit.measureLabel : null), exhibit.periodText]
  const about = note.filter((text) => text !== null && text !== '').join(' · ')
  const inside =
    exhibit.kind === 'chart' ? chartMarkup(exhibit, charts.get(exhibit) ?? '') : gridMarkup(exhibit, classes, icons)
  const alone = exhibit.legends.length === 1
  const legends =
    exhibit.legends.map((legend) => legendMarkup(legend, classes, alone, icons)).join('') + missingMarkup(exhibit)
  const fit = exhibit.kind === 'table' ? ' class="fit"' : ''
  return `<section${fit} aria-labelledby="${escapeText(id)}"><h2 id="${escapeText(id)}">${escapeText(exhibit.title)}</h2>
<p class="note">${escapeText(about)}</p>
${inside}${legends}${saidMarkup(exhibit.notes)}</section>`
}

/** What hatching means, where a heatmap has some. */
function missingMarkup(exhibit: Exhibit): string {
  if (exhibit.kind !== 'heatmap') return ''
  const some = exhibit.rows.some((row) => row.cells.some((cell) => cell?.value === null))
  return some ? '<ul class="key"><li><span class="sw no"></span>no value</li></ul>' : ''
}

/** The picture, and the same as a table for those who do not see it. */
function chartMarkup(exhibit: ChartExhibit, svg: string): string {
  const rows = exhibit.points.map(
    (p) =>
      `<tr><th scope="row">${escapeText(`${p.label} ${p.outer}`.trim())}</th><td>${escapeText(p.text)}</td><td>${escapeText(p.statusText)}</td></tr>`,
  )
  const lines = exhibit.lines.map(
    (l) => `<tr><th scope="row">${escapeText(l.label)}</th><td>${escapeText(l.text)}</td><td></td></tr>`,
  )
  const head = `<thead><tr><th scope="col">${escapeText(exhibit.along)}</th><th scope="col">${escapeText(exhibit.measureLabel)}</th><th scope="col">Status</th></tr></thead>`
  return `<div class="chart wide">${svg}</div><div class="v"><table><caption>${escapeText(exhibit.title)}</caption>${head}<tbody>${rows.join('')}${lines.join('')}</tbody></table></div>`
}

/** What was read: the control totals of every source. */
function sourcesMarkup({ controls }: Page): string {
  if (controls.length === 0) return ''
  const items = controls.map(({ text }) => `<li>${escapeText(text)}</li>`)
  return `<footer><h2>Sources</h2><ul>${items.join('')}</ul></footer>\n`
}

function saidMarkup(notes: readonly string[]): string {
  if (notes.length === 0) return ''
  return `<ul class="said">${notes.map((note) => `<li>${escapeText(note)}</li>`).join('')}</ul>`
}

function iconsOf(page: Page): Set<string> {
  const names = new Set<string>()
  for (const exhibit of page.exhibits) {
    for (const legend of exhibit.legends)
      for (const { look } of legend.entries) if (look.icon !== null) names.add(look.icon)
    if (exhibit.kind === 'chart') continue
    for (const { cells, heading } of exhibit.rows)
      for (const cell of [heading, ...cells]) if (cell?.look.icon != null) names.add(cell.look.icon)
  }
  // `direction` in a legend stands for the three arrows it becomes.
  if (names.delete('direction')) for (const name of ['up', 'level', 'down']) names.add(name)
  return names
}
