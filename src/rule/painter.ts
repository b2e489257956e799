import { colorText } from '../color/color.js'
import type { ParameterSpec, RuleSpec, Status } from '../file/schema.js'
import { checkStyle } from '../look/given.js'
import type { Channel, Look } from '../look/look.js'
import { lookOf, type Painted } from '../look/painting.js'
import { type Problem, refuse } from '../problem/problem.js'
import { columnNames } from '../table/fields.js'
import type { Table } from '../table/table.js'
import { bindRules } from './check.js'
import { paintCells } from './paint.js'
import { readParameters } from './parameter.js'
import type { MeasureFacts } from './vocabulary.js'

/** What `paint` takes beside the table: the same words as in a report file. */
export interface PaintSpec {
  /** Named numbers that limits refer to: 50000, or '15%'. */
  parameters?: Readonly<Record<string, ParameterSpec>>
  /** What a cell can be, and how that looks. */
  statuses?: Readonly<Record<string, Status>>
  /** In order of precedence: the first that sets a channel of a cell wins it. */
  rules: readonly RuleSpec[]
}

/** The look of one cell, in words and `#rrggbb`; null where nobody set a channel. */
export interface CellLook {
  status: string | null
  fill: string | null
  ink: string | null
  weight: 'bold' | 'normal' | null
  icon: string | null
  hide: 'value' | 'icon' | null
  /** The name of the rule that decided each channel. */
  paintedBy: Readonly<Partial<Record<Channel, string>>>
}

/** A painted table. */
export interface TablePainting {
  /** The look of a cell: 0-based row, column by name. A cell that no rule reached is plain. */
  cell(row: number, column: string): CellLook
  /** All cells of a column at once: a small number a row into the distinct looks. Undefined when no rule reached it. */
  column(name: string): Painted | undefined
  /** What was said: rules that could not be applied, and why. */
  notes: readonly string[]
}

/**
 * Decides how the cells of a table look. Every number column can be painted, and may be named in rules like the columns of
 * text; each column is a population of its own.
 *
 * @throws ProblemError carrying every problem of the rules, statuses and parameters.
 */
export function paint(table: Table, spec: PaintSpec): TablePainting {
  const problems: Problem[] = []
  const statuses = spec.statuses ?? {}
  for (const [name, status] of Object.entries(statuses)) problems.push(...checkStyle(status, ['statuses', name]))
  const parameters = readParameters(spec.parameters ?? {}, ['parameters'], problems)
  const measures = new Map<string, MeasureFacts>()
  for (const column of table.columns.values()) {
    if (column.type.kind !== 'number') continue
    const facts: MeasureFacts = { label: column.label, type: column.type }
    if (column.format !== undefined) facts.format = column.format
    if (column.better !== undefined) facts.better = column.better
    measures.set(column.name, facts)
  }
  const bound = bindRules(spec.rules, { statuses, parameters, measures, fields: columnNames(table, '') }, ['rules'])
  refuse([...problems, ...bound.problems])
  const cells = {
    level: 'details' as const,
    what: 'table',
    table,
    keys: [...table.columns.keys()],
    mixed: new Set<string>(),
    parameters: new Map([...parameters].map(([name, p]) => [name, p.value])),
  }
  const { painting, notes } = paintCells(cells, bound.rules, [...measures.keys()])
  return {
    cell: (row, column) => cellLook(lookOf(painting, column, row)),
    column: (name) => painting.get(name),
    notes: notes.map((note) => note.message),
  }
}

function cellLook(look: Look): CellLook {
  const { status, weight, icon, hide, paintedBy } = look
  const text = (color: number | null): string | null => (color === null ? null : colorText(color))
  return { status, fill: text(look.fill), ink: text(look.ink), weight, icon, hide, paintedBy }
}
