import { colorText } from '../../color/color.js'
import type { Legend } from '../../look/legend.js'
import { type Look, PLAIN_LOOK } from '../../look/look.js'
import type { Cell, ChartExhibit, Exhibit, GridExhibit, Keys, Page } from '../../page/page.js'

/** The painted data of a page: the exchange form, documented in docs/painted-data.md. Every channel is listed on every cell. */
export function toData(page: Page): object {
  return {
    acuarela: 1,
    title: page.title,
    asOf: page.asOf,
    parameters: Object.fromEntries(page.parameters.map(({ name, value }) => [name, value])),
    where: page.where,
    sources: page.controls.map(({ text: _, ...control }) => control),
    notes: page.notes,
    exhibits: page.exhibits.map(exhibitData),
  }
}

/** The painted data as JSON text, a cell a line: large files stay readable and their differences small. */
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
    cells: exhibit.kind === 'chart' ? exhibit.points.map((point) => cellData(point)) : gridCells(exhibit),
    headers: exhibit.kind === 'chart' ? chartHeaders(exhibit) : gridHeaders(exhibit),
    trends: [],
    legends: exhibit.legends.map(legendData),
    notes: exhibit.notes,
  }
}

function gridCells(exhibit: GridExhibit): object[] {
  return exhibit.rows.flatMap((row) => row.cells.filter((cell) => cell !== null).map(cellData))
}

function keysData(keys: Keys): object {
  return Object.fromEntries(keys.map(({ name, value }) => [name, value]))
}

function cellData(cell: Cell): object {
  const { measure, value, text, level } = cell
  return {
    row: keysData(cell.row),
    column: keysData(cell.column),
    level,
    measure,
    value,
    text,
    look: lookData(cell.look, cell),
    paintedBy: cell.look.paintedBy,
  }
}

function lookData(
  { status, fill, ink, weight, icon, picture, hide }: Look,
  { bar, flag }: Pick<Cell, 'bar' | 'flag'> = { bar: null, flag: null },
): object {
  const color = (packed: number | null): string | null => (packed === null ? null : colorText(packed))
  return { status, fill: color(fill), ink: color(ink), weight, icon, bar, flag, picture, hide }
}

const PLAIN = lookData(PLAIN_LOOK)

function gridHeaders(exhibit: GridExhibit): object[] {
  const columns = exhibit.columnHeadings
    .flat()
    .map(({ keys, level, text }) => ({ axis: 'column', keys: keysData(keys), level, text, look: PLAIN }))
  const rows = exhibit.rows.map(({ heading: { keys, level, text, ...head } }) => ({
    axis: 'row',
    keys: keysData(keys),
    level,
    text,
    look: lookData(head.look, head),
  }))
  return [...columns, ...rows]
}

function chartHeaders(exhibit: ChartExhibit): object[] {
  return exhibit.points.map(({ row, level, label }) => ({
    axis: 'row',
    keys: keysData(row),
    level: level.row,
    text: label,
    look: PLAIN,
  }))
}

function legendData({ rule, title, measure, population, entries, ramp }: Legend): object {
  return {
    rule,
    title,
    measure,
    population,
    entries: entries.map(({ look, label, limit, count }) => ({ label, limit, count, look: lookData(look) })),
    ramp: ramp === undefined ? null : { colors: ramp.colors.map(colorText), marks: ramp.marks },
  }
}
