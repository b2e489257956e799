import { parseColor } from '../../color/parse.js'
import { cellsOf, type Keys, type Page } from '../../page/page.js'
import { ProblemError, problem } from '../../problem/problem.js'
import type { Status } from '../../spec/rules.js'
import { type CellStyle, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Bar } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import { type ComparedCell, styleText } from './compare.js'

/** Painted data that were saved: what a reader saw. */
export interface Published {
  /** ISO 8601; null without dates. */
  asOf: string | null
  cells: ComparedCell[]
}

/** The version of painted data that can be compared. */
const VERSION = 2
/** Exhibits that repeat cells of others. */
const REPEATING = ['list', 'reading', 'moves']

/** The shown detail cells of a page. */
export function pageCells({ exhibits, statuses }: Page): ComparedCell[] {
  return exhibits
    .filter(({ kind }) => !REPEATING.includes(kind))
    .flatMap((exhibit) =>
      cellsOf(exhibit)
        .filter(({ level }) => level.row === 'detail' && level.column === 'detail')
        .map(({ row, column, measure, name, value, text, style, bar, flag }) => {
          const look = { ...style, flag }
          const [rowKeys, columnKeys] = [row, column].map(recordOf)
          return comparedCell(
            { exhibit: exhibit.name, measure, name, row: rowKeys, column: columnKeys, value, text, look, bar },
            statuses,
          )
        }),
    )
}

function recordOf(keys: Keys): Record<string, string | null> {
  return Object.fromEntries(keys.map(({ name, value }) => [name, value]))
}

function comparedCell(
  cell: Omit<ComparedCell, 'keys' | 'status' | 'style'>,
  statuses: Readonly<Record<string, Status>>,
): ComparedCell {
  const { row, column, look, bar } = cell
  const status = look.status === null ? null : statusLabel(statuses, look.status)
  return { ...cell, keys: { ...row, ...column }, status, style: styleText(look, bar) }
}

/** Whether a JSON text is meant as painted data: a report has no such key. */
export function isPublished(data: unknown): boolean {
  return isMap(data) && Object.hasOwn(data, 'acuarela')
}

/**
 * The detail cells of painted data, as `--to json` writes them. Unknown keys are skipped.
 *
 * @param file its name for problems.
 * @throws ProblemError if the data are of another version or form.
 */
export function publishedCells(data: unknown, file: string, statuses: Readonly<Record<string, Status>>): Published {
  const refuse = (why: string): never => {
    throw new ProblemError([problem('bad-published', { file, why })])
  }
  if (!isMap(data) || data.acuarela !== VERSION)
    return refuse(`its version is ${isMap(data) ? String(data.acuarela) : 'missing'}, and this tool reads ${VERSION}`)
  if (!Array.isArray(data.exhibits)) return refuse('it has no list of exhibits')
  const cells: ComparedCell[] = []
  for (const exhibit of data.exhibits) {
    if (!isMap(exhibit) || typeof exhibit.name !== 'string' || !Array.isArray(exhibit.cells))
      return refuse('one of its exhibits has no name, or no cells')
    if (REPEATING.includes(String(exhibit.kind))) continue
    for (const [i, one] of exhibit.cells.entries()) {
      const cell = readCell(one, exhibit.name, statuses)
      if (cell === undefined) return refuse(`cell ${i + 1} of ${exhibit.name} is not a painted cell`)
      if (cell !== 'total') cells.push(cell)
    }
  }
  return { asOf: typeof data.asOf === 'string' ? data.asOf : null, cells }
}

function readCell(
  cell: unknown,
  exhibit: string,
  statuses: Readonly<Record<string, Status>>,
): ComparedCell | 'total' | undefined {
  if (!isMap(cell) || !isMap(cell.level) || !isMap(cell.style) || typeof cell.measure !== 'string') return undefined
  const [row, column] = [keysOf(cell.row), keysOf(cell.column)]
  if (row === undefined || column === undefined) return undefined
  if (cell.level.row !== 'detail' || cell.level.column !== 'detail') return 'total'
  const { value, text } = cell
  const name = [...Object.values(row), ...Object.values(column)].map((key) => key ?? '(none)').join(', ') || 'Total'
  return comparedCell(
    {
      exhibit,
      measure: cell.measure,
      name,
      row,
      column,
      value: typeof value === 'number' || typeof value === 'string' ? value : null,
      text: typeof text === 'string' ? text : '',
      ...readStyle(cell.style, isMap(cell.paintedBy) ? cell.paintedBy : {}),
    },
    statuses,
  )
}

/** A record is identified by a number, other rows by texts. */
function keysOf(keys: unknown): Record<string, string | null> | undefined {
  if (!isMap(keys)) return undefined
  return Object.fromEntries(Object.entries(keys).map(([name, value]) => [name, value === null ? null : String(value)]))
}

function readStyle(
  style: Record<string, unknown>,
  paintedBy: Record<string, unknown>,
): Pick<ComparedCell, 'look' | 'bar'> {
  const text = (key: string): string | null => (typeof style[key] === 'string' ? (style[key] as string) : null)
  const packed = (key: string): number | null => {
    const written = text(key)
    return written === null ? null : (parseColor(written) ?? null)
  }
  const { bar } = style
  const look = {
    ...PLAIN_STYLE,
    status: text('status'),
    fill: packed('fill'),
    ink: packed('ink'),
    weight: text('weight'),
    icon: text('icon'),
    iconAfter: text('iconAfter'),
    flag: text('flag'),
    picture: text('picture'),
    hide: text('hide'),
    paintedBy,
  } as CellStyle
  if (!isMap(bar)) return { look, bar: null }
  const { from, to, beyond } = bar
  const end = beyond === 'low' || beyond === 'high' ? { beyond } : {}
  const finish = bar.finish === 'fading' ? 'fading' : 'solid'
  const color = String(bar.color)
  const drawn: Bar = { from: Number(from), to: Number(to), color, finish, ...(end as Pick<Bar, 'beyond'>) }
  return { look: { ...look, bar: { name: color, finish } as CellStyle['bar'] }, bar: drawn }
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
