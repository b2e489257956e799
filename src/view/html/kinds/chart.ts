import type { ChartExhibit } from '../../../page/page.js'
import type { DrawnPanel } from '../../chart/chart.js'
import { escapeText } from '../../markup.js'
import { placeText } from '../../model/captions.js'
import { emptyText } from '../../model/parts.js'
import type { StyleClasses } from '../cells/style-classes.js'

/** The drawing, the legend of its series, and the same as a table. */
export function chartMarkup(exhibit: ChartExhibit, panels: readonly DrawnPanel[], classes: StyleClasses): string {
  const empty = emptyText(exhibit)
  if (empty !== null) return `<p class="none">${empty}</p>`
  const drawn = panels.map(({ label, svg }) =>
    label === '' ? svg : `<figure><figcaption>${escapeText(label)}</figcaption>${svg}</figure>`,
  )
  const many = panels.length > 1 ? [' panels', ` style="--row:${panels[0].perRow}"`] : ['', '']
  return `<div class="chart wide${many[0]}"${many[1]} role="region" aria-label="${escapeText(`${exhibit.title}, chart`)}" tabindex="0">${drawn.join('')}</div>${seriesMarkup(exhibit, classes)}${tableMarkup(exhibit)}`
}

/** The colour and form of each series; a single one needs no legend. */
function seriesMarkup({ series, title }: ChartExhibit, classes: StyleClasses): string {
  if (series.length < 2) return ''
  const items = series.map(
    ({ label, draw, mark, outline }) =>
      `<li><svg class="ser" viewBox="0 0 22 16" aria-hidden="true">${seriesSample(draw, classes.paint(mark), classes.paint(outline ?? mark))}</svg>${escapeText(label)}</li>`,
  )
  return `<ul class="key" aria-label="${escapeText(`Series: ${title}`)}">${items.join('')}</ul>`
}

function seriesSample(draw: ChartExhibit['series'][number]['draw'], fill: string, stroke: string): string {
  if (draw === 'bar') return `<path d="M4 2h14v12H4z" fill="${fill}" stroke="${stroke}"/>`
  if (draw === 'point') return `<circle cx="11" cy="8" r="5" fill="${fill}" stroke="${stroke}"/>`
  return `<path d="M1 8h20" stroke="${fill}" stroke-width="${draw === 'line' ? 2.4 : 3.4}"/>`
}

function tableMarkup(exhibit: ChartExhibit): string {
  const panelled = exhibit.panels.length > 1 || exhibit.panels[0]?.label !== ''
  const several = exhibit.series.length > 1
  const head = [
    ...(panelled ? [''] : []),
    exhibit.along,
    ...(several ? ['Series'] : []),
    several ? 'Value' : exhibit.measureLabel,
    'Status',
  ]
  const rows = exhibit.points.map((p) => {
    const panel = panelled ? `<td>${escapeText(exhibit.panels[p.panel].label)}</td>` : ''
    const series = several ? `<td>${escapeText(exhibit.series[p.series].label)}</td>` : ''
    return `<tr>${panel}<th scope="row">${escapeText(placeText(exhibit.places[p.place]))}</th>${series}<td class="n">${escapeText(p.text)}</td><td>${escapeText(p.statusText)}</td></tr>`
  })
  const lines = exhibit.references.map(
    (l) =>
      `<tr>${panelled ? `<td>${l.panel === undefined ? '' : escapeText(exhibit.panels[l.panel].label)}</td>` : ''}<th scope="row">${escapeText(l.label)}</th>${several ? '<td></td>' : ''}<td class="n">${escapeText(l.text)}</td><td></td></tr>`,
  )
  const cells = head.map((text) => (text === '' ? '<td></td>' : `<th scope="col">${escapeText(text)}</th>`)).join('')
  return `<details class="nums"><summary>The numbers</summary><table class="list"><caption class="v">${escapeText(`${exhibit.title}, numbers`)}</caption><thead><tr>${cells}</tr></thead><tbody>${rows.join('')}${lines.join('')}</tbody></table></details>`
}
