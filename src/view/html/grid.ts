import type { Cell, ColumnHeading, GridExhibit, Heading, Row } from '../../page/page.js'
import { barUse, iconUse } from '../icon.js'
import { escapeText } from '../markup.js'
import type { LookClasses } from './looks.js'

type OwnIcons = Readonly<Record<string, string>>

/** From this many columns on a heatmap takes the whole width. */
const MANY = 12

/** A table or heatmap as semantic HTML: caption, scopes, words for every icon. */
export function gridMarkup(exhibit: GridExhibit, classes: LookClasses, own: OwnIcons): string {
  const heat = exhibit.kind === 'heatmap'
  const edges = heat ? yearEdges(exhibit.columnHeadings) : new Set<number>()
  const head = exhibit.columnHeadings.map((row, r) => headMarkup(exhibit, row, r, edges)).join('')
  const body = exhibit.rows.map((row) => rowMarkup(row, exhibit, classes, edges, own)).join('\n')
  const caption = [exhibit.title, exhibit.note, exhibit.periodText]
    .filter((text) => text !== null && text !== '')
    .join(', ')
  return `<div class="wide"><table class="${heat ? ((exhibit.columnHeadings.at(-1)?.length ?? 0) >= MANY ? 'heat full-width' : 'heat') : 'grid'}"><caption class="v">${escapeText(caption)}</caption><thead>${head}</thead>
<tbody>${body}</tbody></table></div>`
}

/** Columns at which a new outer heading begins. */
function yearEdges(headings: GridExhibit['columnHeadings']): Set<number> {
  const edges = new Set<number>()
  if (headings.length < 2) return edges
  let at = 0
  for (const heading of headings[0]) {
    if (at > 0) edges.add(at)
    at += heading.span
  }
  return edges
}

function headMarkup(
  exhibit: GridExhibit,
  row: readonly ColumnHeading[],
  r: number,
  edges: ReadonlySet<number>,
): string {
  const heat = exhibit.kind === 'heatmap'
  const last = r === exhibit.columnHeadings.length - 1
  // The corner names the row headings, once, in the last line of the head.
  const corner = last ? `<th scope="col">${escapeText(exhibit.corner)}</th>` : '<td></td>'
  let at = 0
  const cells = row.map((heading) => {
    const kinds = [heading.span > 1 || (heat && !last) ? 'm' : 'n']
    if (heat && !last) kinds.push('y')
    if (edges.has(at)) kinds.push('e')
    at += heading.span
    const span = heading.span > 1 ? ` colspan="${heading.span}" scope="colgroup"` : ' scope="col"'
    return `<th class="${kinds.join(' ')}"${span}>${escapeText(heading.text)}</th>`
  })
  return `<tr>${corner}${cells.join('')}</tr>`
}

function rowMarkup(
  row: Row,
  exhibit: GridExhibit,
  classes: LookClasses,
  edges: ReadonlySet<number>,
  own: OwnIcons,
): string {
  const kinds: string[] = []
  if (row.depth > 1) kinds.push(`d${Math.min(row.depth, 4)}`)
  if (row.group) kinds.push('g')
  else if (row.heading.level !== 'detail') kinds.push(row.depth === 0 ? 't' : 's')
  const kind = kinds.length === 0 ? '' : ` class="${kinds.join(' ')}"`
  const scope = row.group ? 'rowgroup' : 'row'
  const cells = row.cells.map((cell, c) => cellMarkup(cell, exhibit, classes, edges.has(c), own))
  return `<tr${kind}><th scope="${scope}">${headingMarkup(row.heading, classes, own)}</th>${cells.join('')}</tr>`
}

/** A row's heading, painted where some rule reaches it. */
function headingMarkup(heading: Heading, classes: LookClasses, own: OwnIcons): string {
  const { look, text } = heading
  const style = classes.of(look)
  const inside = `${lead(heading, own)}${look.hide === 'value' ? `<span class="v">${escapeText(text)}</span>` : escapeText(text)}${flagMarkup(heading)}`
  const kind = look.fill === null ? style : `dab ${style}`
  return `<span${kind === '' ? '' : ` class="${kind}"`}>${inside}</span>`
}

/** What stands before the value: picture, drawing, the words of the status, and the bar. */
function lead({ look, bar, statusText }: Pick<Cell, 'look' | 'bar' | 'statusText'>, own: OwnIcons): string {
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, own)
  const picture = look.picture === null ? '' : `<img class="pic" alt="" src="${escapeText(look.picture)}">`
  const words = statusText === '' ? '' : `<span class="v">${escapeText(statusText)}, </span>`
  return `${picture}${icon}${words}${barUse(bar)}`
}

function flagMarkup({ flag }: Pick<Cell, 'flag'>): string {
  return flag === null ? '' : `<em>${escapeText(flag)}</em>`
}

function cellMarkup(
  cell: Cell | null,
  exhibit: GridExhibit,
  classes: LookClasses,
  edge: boolean,
  own: OwnIcons,
): string {
  if (cell === null) return '<td></td>'
  const { look } = cell
  const hidden = look.hide === 'value'
  const style = classes.of(look)
  const text = escapeText(cell.text)
  const before = lead(cell, own)
  const flag = flagMarkup(cell)
  const number = hidden ? `<span class="v">${text}</span>` : text
  if (exhibit.kind === 'heatmap') {
    // A cell without a value is hatched, so that it is not taken for a low one.
    const kinds = [style, cell.value === null && look.fill === null ? 'no' : '', edge ? 'e' : '']
      .filter((k) => k !== '')
      .join(' ')
    const kind = kinds === '' ? '' : ` class="${kinds}"`
    return `<td${kind} title="${escapeText(cell.hint)}">${before}${hidden ? number : `<b>${number}</b>`}${flag}</td>`
  }
  const title = hidden ? ` title="${escapeText(cell.hint)}"` : ''
  if (look.fill !== null) return `<td${title}><span class="dab ${style}">${before}<b>${number}</b>${flag}</span></td>`
  const kind = style === '' ? '' : ` class="${style}"`
  return `<td${title}><span${kind}>${before}<b>${number}</b>${flag}</span></td>`
}
