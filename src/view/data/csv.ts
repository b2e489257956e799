import Papa from 'papaparse'
import { colorText } from '../../color/color.js'
import { type Cell, cellsOf, type Keys, type Page, type RecordCell } from '../../page/page.js'
import { checkGiven } from '../model/check-input.js'
import { ownFlag } from './json.js'

/** The columns after those of the keys. */
const FIELDS = [
  'level.row',
  'level.column',
  'measure',
  'value',
  'text',
  'status',
  'statusText',
  'fill',
  'ink',
  'weight',
  'icon',
  'iconAfter',
  'bar.from',
  'bar.to',
  'flag',
  'picture',
  'hide',
  'paintedBy',
] as const

type Field = string | number | null

/**
 * The cells of a page as flat CSV: the exhibit, a column for each key of rows and columns, then
 * value, text and style. Texts that a program would read as a formula begin with an apostrophe;
 * numbers are not changed.
 */
export function toCsv(page: Page): string {
  checkGiven(page)
  const rows: { head: [string, string]; cell: Cell | RecordCell }[] = page.exhibits.flatMap((exhibit) =>
    cellsOf(exhibit).map((cell) => ({ head: [exhibit.name, exhibit.kind] as [string, string], cell })),
  )
  // Every key of an exhibit has a column, even without cells.
  const named = (side: 'row' | 'column'): string[] => [...new Set(page.exhibits.flatMap(({ keys }) => keys[side]))]
  const keys = { row: named('row'), column: named('column') }
  // Only a page that is compared with an earlier date has these columns.
  const compared = page.exhibits.some(({ since }) => since !== undefined)
  const header = [
    'exhibit',
    'kind',
    ...keys.row.map((name) => `row.${name}`),
    ...keys.column.map((name) => `column.${name}`),
    ...FIELDS,
    ...(compared ? ['move', 'was.status', 'was.value', 'was.text'] : []),
  ]
  const lines = rows.map(({ head, cell }): Field[] => [
    ...head,
    ...keys.row.map((name) => keyField(cell.row, name)),
    ...keys.column.map((name) => keyField(cell.column, name)),
    ...fieldsOf(cell),
    ...(compared ? wasFields(cell) : []),
  ])
  return `${Papa.unparse(
    [header, ...lines].map((line) => line.map(guarded)),
    { newline: '\r\n' },
  )}\r\n`
}

function wasFields({ was }: Cell | RecordCell): Field[] {
  return was === undefined ? [null, null, null, null] : [was.move, was.status, was.value, was.text]
}

function keyField(keys: Keys, name: string): Field {
  const value = keys.find((key) => key.name === name)?.value ?? null
  return name === 'record' && value !== null ? Number(value) : value
}

function fieldsOf(cell: Cell | RecordCell): Field[] {
  const { style: look, bar } = cell
  const color = (packed: number | null): string | null => (packed === null ? null : colorText(packed))
  const painters = [...new Set(Object.values(look.paintedBy))].join(' ')
  return [
    cell.level.row,
    cell.level.column,
    cell.measure,
    cell.value,
    cell.text,
    look.status,
    cell.statusText,
    color(look.fill),
    color(look.ink),
    look.weight,
    look.icon,
    look.iconAfter,
    bar?.from ?? null,
    bar?.to ?? null,
    ownFlag(cell),
    look.picture,
    look.hide,
    painters,
  ]
}

/** Guards texts that begin like a formula: OWASP, CSV injection. */
function guarded(field: Field): Field {
  return typeof field === 'string' && /^[\s]*[=+\-@\t\r\n＝＋－＠]/.test(field) ? `'${field}` : field
}
