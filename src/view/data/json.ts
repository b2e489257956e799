import { colorText } from '../../color/color.js'
import {
  type Cell,
  type ChartExhibit,
  cellsOf,
  type Exhibit,
  type Keys,
  type Page,
  type RecordCell,
  type RecordsExhibit,
  type Strip,
  type StripPart,
  type Trend,
  type Was,
} from '../../page/page.js'
import { type CellStyle, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'

/**
 * The version of the painted data. Keys may be added without a new version; removing, renaming or
 * redefining one needs a new version.
 */
const VERSION = 2

/**
 * The painted data of a page: the exchange format, documented in docs/painted-data.md. Every
 * channel is listed on every cell.
 */
export function toData(page: Page): object {
  return {
    acuarela: VERSION,
    title: page.title,
    asOf: page.asOf,
    parameters: Object.fromEntries(page.parameters.map(({ name, value }) => [name, value])),
    where: page.where,
    sources: page.controls.map(({ text: _, ...control }) => control),
    messages: page.messages,
    strip: stripData(page.strip),
    exhibits: page.exhibits.map(exhibitData),
  }
}

/**
 * The painted data as JSON text, one cell on a line, so that large files are readable and their
 * diffs small.
 */
export function toJson(page: Page): string {
  const { exhibits, ...head } = toData(page) as { exhibits: Record<string, unknown>[] }
  return `${objectText({ ...head, exhibits }, (key, value) => (key === 'exhibits' ? listText(exhibits.map((e) => objectText(e, memberText))) : JSON.stringify(value)))}\n`
}

function memberText(_: string, value: unknown): string {
  return Array.isArray(value) ? listText(value.map((item) => JSON.stringify(item))) : JSON.stringify(value)
}

function objectText(map: object, text: (key: string, value: unknown) => string): string {
  const members = Object.entries(map).map(([key, value]) => `${JSON.stringify(key)}: ${text(key, value)}`)
  return `{\n${members.join(',\n')}\n}`
}

function listText(items: readonly string[]): string {
  return items.length === 0 ? '[]' : `[\n${items.join(',\n')}\n]`
}

function exhibitData(exhibit: Exhibit): object {
  return {
    name: exhibit.name,
    kind: exhibit.kind,
    title: exhibit.title,
    section: exhibit.section,
    note: exhibit.note,
    period: exhibit.periodText,
    ...(exhibit.since && { since: exhibit.since }),
    cells: cellsOf(exhibit).map(cellData),
    headings: headingsData(exhibit),
    trends: trendsOf(exhibit),
    ...(exhibit.kind === 'reading' ? { sentences: exhibit.sentences.map(({ text }) => text) } : {}),
    ...(exhibit.kind === 'cards'
      ? { cards: exhibit.cards.map(({ label, change, note }) => ({ label, change: change?.text ?? null, note })) }
      : {}),
    ...(exhibit.kind === 'chart' ? { references: referenceLinesData(exhibit) } : {}),
    ...(exhibit.kind === 'records' ? { count: exhibit.count, ...groupsData(exhibit) } : {}),
    legends: exhibit.legends.map(legendData),
    messages: exhibit.messages,
  }
}

function stripData(strip: Strip | null): object | null {
  if (strip === null) return null
  const { exhibit, measure, count, parts } = strip
  const countOf = (kind: StripPart['kind']): number => parts.find((part) => part.kind === kind)?.count ?? 0
  return {
    exhibit,
    measure,
    count,
    statuses: parts
      .filter(({ kind }) => kind === 'status')
      .map(({ status, label, limit, count: cells }) => ({ status, label, limit, count: cells })),
    noStatus: countOf('noStatus'),
    missing: countOf('missing'),
  }
}

/** Reference lines; one of a single panel has its keys. */
function referenceLinesData({ references: lines, panels }: ChartExhibit): object[] {
  return lines.map(({ label, value, text, panel }) => ({
    column: panel === undefined ? {} : keysData(panels[panel].keys),
    label,
    value,
    text,
  }))
}

/** The headings of grouped records, each with the record that follows it. */
function groupsData({ records }: RecordsExhibit): object {
  const groups = records.flatMap(({ record, group }) => (group === undefined ? [] : [{ text: group, record }]))
  return groups.length === 0 ? {} : { groups }
}

/** Trends, each with its keys and values. */
function trendsOf(exhibit: Exhibit): object[] {
  const one = (keys: Keys, trend: Trend | null): object[] =>
    trend === null
      ? []
      : [
          {
            row: keysData(keys),
            measure: trend.measure,
            points: trend.points.map(({ keys: at, value, text }) => ({ along: keysData(at), value, text })),
          },
        ]
  if (exhibit.kind === 'cards') return exhibit.cards.flatMap(({ trend }) => one([], trend))
  if (exhibit.kind !== 'table') return []
  return exhibit.rows.flatMap((row) => row.trends.flatMap((trend) => one(row.heading.keys, trend)))
}

function keysData(keys: Keys): object {
  return Object.fromEntries(keys.map(({ name, value }) => [name, value]))
}

function cellData(cell: Cell | RecordCell): object {
  const { measure, value, text, level } = cell
  return {
    row: rowData(cell.row),
    column: keysData(cell.column),
    level,
    measure,
    value,
    text,
    style: styleData(cell.style, { bar: cell.bar, flag: ownFlag(cell) }),
    paintedBy: cell.style.paintedBy,
    ...(cell.was && { was: wasData(cell.was) }),
    ...(cell.date && { date: cell.date }),
    ...(cell.method && { method: cell.method }),
  }
}

/** The former status, value and text of a cell whose status changed, and how it did. */
function wasData({ move, status, value, text }: Was): object {
  return { move, status, value, text }
}

/** The flag without the sign of a changed status. */
export function ownFlag({ flag, was }: Pick<Cell, 'flag' | 'was'>): string | null {
  return was === undefined ? flag : flag?.slice(was.sign.length + 1) || null
}

/** A record is identified by its number. */
function rowData(keys: Keys): object {
  return keys.length === 1 && keys[0].name === 'record' ? { record: Number(keys[0].value) } : keysData(keys)
}

function styleData(
  { status, fill, ink, weight, icon, iconAfter, picture, hide }: CellStyle,
  { bar, flag }: Pick<Cell, 'bar' | 'flag'> = { bar: null, flag: null },
): object {
  const color = (packed: number | null): string | null => (packed === null ? null : colorText(packed))
  return { status, fill: color(fill), ink: color(ink), weight, icon, iconAfter, bar, flag, picture, hide }
}

const PLAIN = styleData(PLAIN_STYLE)

function headingsData(exhibit: Exhibit): object[] {
  switch (exhibit.kind) {
    case 'chart':
      return exhibit.points
        .filter(({ panel, series }) => panel === 0 && series === 0)
        .map(({ row, level, place }) => ({
          axis: 'row',
          keys: keysData(row),
          level: level.row,
          text: exhibit.places[place].label,
          style: PLAIN,
        }))
    case 'records':
      return exhibit.columns.map(({ name, label }) => ({
        axis: 'column',
        keys: { column: name },
        level: 'detail',
        text: label,
        style: PLAIN,
      }))
    case 'cards':
    case 'reading':
      return []
    default: {
      const columns = exhibit.columnHeadings
        .flat()
        .map(({ keys, level, text }) => ({ axis: 'column', keys: keysData(keys), level, text, style: PLAIN }))
      const rows = exhibit.rows.map(({ heading: { keys, level, text, ...head } }) => ({
        axis: 'row',
        keys: keysData(keys),
        level,
        text,
        style: styleData(head.style, head),
      }))
      return [...columns, ...rows]
    }
  }
}

function legendData({ rule, title, measure, population, entries, ramp }: Legend): object {
  return {
    rule,
    title,
    measure,
    population,
    entries: entries.map(({ style: look, label, limit, count }) => ({ label, limit, count, style: styleData(look) })),
    ramp: ramp === undefined ? null : { colors: ramp.colors.map(colorText), marks: ramp.marks },
  }
}
