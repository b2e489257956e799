import type { Cell, Exhibit, Page, RecordCell } from '../../page/page.js'
import { OWN, OWN_ROW_STYLES } from '../../source/formats/ods/own.js'
import type { DrawingDocument } from '../chart/frame.js'
import { escapeText } from '../markup.js'
import { aboutExhibit } from '../model/captions.js'
import { emptyText } from '../model/parts.js'
import type { Sheet } from '../model/sheet.js'
import { archiveOf, packed } from './archive.js'
import { sheetOf } from './exhibits.js'
import { metaXml, rootTags, settingsXml, stylesXml } from './parts.js'
import { SheetWriter, type Writing } from './sheet.js'
import { NO_SINK, type Sink } from './sink.js'
import { columnXml, Styles } from './styles.js'
import { quotedSheet, sheetName } from './text.js'
import { emptyRow, headRows, legendRows, messageRows, type RuleWords, sourceRows } from './words.js'

export { TYPE as ODS_TYPE } from './parts.js'

/** Options of a workbook. */
export interface WorkbookOptions {
  /** Whether painted cells are annotated with what painted them; default: false. */
  why?: boolean
  /** The rules as sentences, for the sheet of the legend; default: none. */
  rules?: readonly RuleWords[]
  /** The document for charts; default: one that needs no browser, loaded if there are charts. */
  document?: DrawingDocument
  /** Makes PNG of charts, for programs that show no SVG; default: the SVG alone. */
  png?: (svgs: readonly string[]) => Promise<readonly Uint8Array[]>
}

/** The widest table that stands upright on paper, in centimetres. */
const UPRIGHT = 18
const CHART_WIDTH = 24
const CONTENT = ['office', 'style', 'text', 'table', 'draw', 'fo', 'number', 'svg', 'xlink', 'dc']
/** Styles of columns of signs, bars and the like: by these names sheets are read back. */
const NAMED_COLUMNS: Readonly<Record<string, string>> = {
  before: OWN.sign,
  after: OWN.sign,
  bar: OWN.bar,
  flag: OWN.flag,
  trend: OWN.trend,
}

/** A sheet that is written. */
interface Written {
  name: string
  /** Adds its markup. */
  write(out: Sink): void
  cells: number
  /** Rows and columns that stay in place. */
  frozen: { rows: number; columns: number }
}

/** Draws the exhibits of a page as SVG: the writer of pictures, which this one does not know. */
export type DrawCharts = (
  page: Page,
  options: { document?: DrawingDocument },
) => Promise<readonly { name: string; text: string }[]>

/** A page as an OpenDocument spreadsheet; the input is checked. */
export async function writeOds(page: Page, options: WorkbookOptions, draw: DrawCharts): Promise<Uint8Array> {
  const styles = new Styles(page.locale)
  const writing: Writing = {
    styles,
    formats: page.formats,
    decimal: new Intl.NumberFormat(page.locale).formatToParts(1.5).find(({ type }) => type === 'decimal')?.value ?? '.',
    why: undefined,
  }
  const pictures = await picturesOf(page, options, draw)
  const hasCharts = page.exhibits.some(({ kind }) => kind === 'chart')
  const chartSheet = hasCharts ? (await import('../model/chart-sheet.js')).chartSheet : undefined
  const taken = new Set<string>()
  const sheets = page.exhibits.map((exhibit, i): Written => {
    const why = options.why === true ? (cell: Cell | RecordCell) => whyOf(cell, exhibit) : undefined
    const sheet = sheetOf(exhibit, chartSheet)
    return exhibitSheet(page, exhibit, sheet, { ...writing, why }, sheetName(exhibit.title, taken), i === 0, pictures)
  })
  const legend = legendRows(page, options.rules ?? [], styles)
  const words = [
    ...(legend.length === 0 ? [] : [wordSheet(sheetName('Legend and rules', taken), legend, styles)]),
    wordSheet(sheetName('Sources', taken), sourceRows(page, styles), styles),
  ]
  const tables = [...sheets, ...words]
  // Styles are found while rows are written, and stand before them.
  for (const { write } of tables) write(NO_SINK)
  const isLarge = tables.reduce((sum, { cells }) => sum + cells, 0) > LARGE_CELLS
  const content = packed(isLarge, (out) => {
    const [before, after] = rootTags('document-content', CONTENT)
    out.add(
      `${before}<office:automatic-styles>${styles}${fixedStyles()}</office:automatic-styles><office:body><office:spreadsheet>`,
    )
    for (const { write } of tables) write(out)
    out.add(`</office:spreadsheet></office:body>${after}`)
  })
  return archiveOf({
    'content.xml': content,
    'styles.xml': stylesXml(page.locale),
    'meta.xml': metaXml(page),
    'settings.xml': settingsXml(sheets.map(({ name, frozen }) => ({ name, ...frozen }))),
    ...Object.fromEntries([...pictures.values()].flatMap(({ files }) => files)),
  })
}

/** More cells than these are a large document. */
const LARGE_CELLS = 100_000

/** A sheet of words. */
function wordSheet(name: string, rows: readonly string[], styles: Styles): Written {
  const columns = [4, 5, 9].map((width) => `<table:table-column table:style-name="${styles.column(width)}"/>`)
  const xml = `<table:table table:name="${escapeText(name)}" table:style-name="${OWN.words}">${columns.join('')}${rows.join('')}</table:table>`
  return { name, cells: rows.length, write: (out) => out.add(xml), frozen: { rows: 0, columns: 0 } }
}

/** Styles that have names of their own. */
function fixedStyles(): string {
  const table = (name: string, master: string): string =>
    `<style:style style:name="${name}" style:family="table" style:master-page-name="${master}"><style:table-properties table:display="true"/></style:style>`
  const rows = OWN_ROW_STYLES.filter((name) => name !== 'picture').map(
    (name) =>
      `<style:style style:name="${name}" style:family="table-row"><style:table-row-properties style:use-optimal-row-height="true"/></style:style>`,
  )
  const picture = `<style:style style:name="picture" style:family="table-row"><style:table-row-properties style:row-height="${PICTURE_HEIGHT}cm" style:use-optimal-row-height="false"/></style:style>`
  const columns =
    columnXml(OWN.sign, 0.75) +
    columnXml(OWN.signWords, 2.6) +
    columnXml(OWN.bar, 2.6) +
    columnXml(OWN.flag, 4) +
    columnXml(OWN.trend, 3.4)
  return [
    table(OWN.sheet, 'upright'),
    table(OWN.across, 'across'),
    table(OWN.words, 'upright'),
    columns,
    ...rows,
    picture,
  ].join('')
}

const PICTURE_HEIGHT = 9

/** A chart as files of the archive. */
interface Picture {
  files: [name: string, content: string | Uint8Array][]
  /** Width by height. */
  ratio: number
}

async function picturesOf(
  page: Page,
  { document, png }: WorkbookOptions,
  draw: DrawCharts,
): Promise<Map<string, Picture>> {
  const charts = page.exhibits.filter((exhibit) => exhibit.kind === 'chart' && emptyText(exhibit) === null)
  const pictures = new Map<string, Picture>()
  if (charts.length === 0) return pictures
  const drawn = await draw({ ...page, exhibits: charts }, document === undefined ? {} : { document })
  const replacements = await png?.(drawn.map(({ text }) => text))
  for (const [i, { name, text }] of drawn.entries()) {
    const size = /<svg[^>]*?\bwidth="([\d.]+)"[^>]*?\bheight="([\d.]+)"/.exec(text)
    const files: Picture['files'] = [[`Pictures/chart-${i + 1}.svg`, text]]
    const replacement = replacements?.[i]
    if (replacement !== undefined) files.push([`Pictures/chart-${i + 1}.png`, replacement])
    pictures.set(name, { files, ratio: size === null ? 2 : Number(size[1]) / Number(size[2]) })
  }
  return pictures
}

function exhibitSheet(
  page: Page,
  exhibit: Exhibit,
  sheet: Sheet,
  writing: Writing,
  name: string,
  isFirst: boolean,
  pictures: ReadonlyMap<string, Picture>,
): Written {
  const { styles } = writing
  const above = headRows(page, exhibit, aboutExhibit(exhibit), styles, isFirst)
  const empty = emptyText(exhibit)
  const messages = messageRows(exhibit.messages, styles)
  const picture = pictures.get(exhibit.name)
  if (picture !== undefined) above.push(pictureRow(exhibit.title, picture))
  const writer = new SheetWriter(sheet, writing)
  const { widths, plan, heads, headCount, rowCount } = writer.head()
  const columns = plan.columns.map(({ part }, c) => {
    const isWord = part === 'before' && widths[c] > 1
    return `<table:table-column table:style-name="${isWord ? OWN.signWords : (NAMED_COLUMNS[part] ?? styles.column(widths[c]))}"/>`
  })
  const isWide = widths.reduce((sum, width) => sum + width, 0) > UPRIGHT
  // In place of heads and rows a sheet without cells has one line that says so.
  const written = empty === null ? headCount + rowCount : 1
  const last = `$${columnLetters(plan.columns.length - 1)}$${above.length + written + messages.length}`
  const range = `${quotedSheet(name).replace(/^/, '$')}.$A$1:${last}`
  const headings = plan.columns.filter(({ part }) => part === 'head').length
  const isFrozen = empty === null && picture === undefined
  return {
    name,
    cells: plan.columns.length * rowCount,
    write(out) {
      out.add(
        `<table:table table:name="${escapeText(name)}" table:style-name="${isWide ? OWN.across : OWN.sheet}" table:print-ranges="${escapeText(range)}">${columns.join('')}${above.join('')}`,
      )
      if (empty === null) {
        out.add(`<table:table-header-rows>${heads}</table:table-header-rows>`)
        writer.write(out)
      } else out.add(emptyRow(empty, styles))
      out.add(`${messages.join('')}</table:table>`)
    },
    frozen: isFrozen ? { rows: above.length + headCount, columns: headings } : { rows: 0, columns: 0 },
  }
}

/** A chart in a row of its own; programs that do not know its first form take the second. */
function pictureRow(title: string, { files, ratio }: Picture): string {
  const width = Math.min(CHART_WIDTH, (PICTURE_HEIGHT - 0.4) * ratio)
  const images = files
    .map(([name]) => `<draw:image xlink:href="${name}" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>`)
    .join('')
  return `<table:table-row table:style-name="picture"><table:table-cell><draw:frame draw:name="${escapeText(title)}" svg:x="0.1cm" svg:y="0.1cm" svg:width="${width.toFixed(2)}cm" svg:height="${(width / ratio).toFixed(2)}cm">${images}<svg:title>${escapeText(title)}</svg:title></draw:frame></table:table-cell></table:table-row>`
}

/** `A` for 0, `AB` for 27. */
function columnLetters(column: number): string {
  const rest = Math.floor(column / 26)
  return (rest === 0 ? '' : columnLetters(rest - 1)) + String.fromCharCode(65 + (column % 26))
}

/** What painted a cell: each rule with the part of its legend that has the cell's style. */
function whyOf({ style, text, statusText }: Cell | RecordCell, { legends }: Exhibit): string {
  const rules = [...new Set(Object.values(style.paintedBy))]
  const lines = rules.map((rule) => {
    const legend = legends.find((one) => one.rule === rule)
    if (legend === undefined) return rule
    const entry = legend.entries.find(
      (one) => (one.style.status !== null && one.style.status === style.status) || one.style.fill === style.fill,
    )
    const part = entry === undefined ? '' : [entry.label, entry.limit].filter((one) => one !== '').join(', ')
    return part === '' ? legend.title : `${legend.title}: ${part}`
  })
  return [[text, statusText].filter((one) => one !== '').join(', '), ...lines].filter((line) => line !== '').join('\n')
}
