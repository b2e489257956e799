import { nearest } from '../problem/nearest.js'
import { type Problem, ProblemError, problem, refuse } from '../problem/problem.js'
import type { NamedThing, SentenceNames } from '../rule/grammar/names.js'
import { RULE_SPEC, STATUS } from '../shape/rule-table.js'
import type { Shape } from '../shape/shape.js'
import { PARAMETER_SPEC, PIGMENT_SPEC } from '../shape/table.js'
import type { RuleSpec } from '../spec/rules.js'
import { createTable, type Table, type TableColumn } from '../table/table.js'
import { emptyColumn } from '../table/values.js'

/** The shape of a `PaintSpec`. */
export const PAINT_SPEC: Shape = {
  keys: {
    'parameters?': { each: PARAMETER_SPEC },
    'statuses?': { each: STATUS },
    rules: { list: RULE_SPEC },
    'pigments?': { each: PIGMENT_SPEC },
    'icons?': { each: 'text' },
    'locale?': 'text',
  },
}

/** The names that sentences of rules may use. What is of the wrong shape is reported elsewhere. */
export function namesOf(table: Table, spec: unknown): SentenceNames {
  const { parameters, statuses, pigments } = (spec ?? {}) as Record<string, unknown>
  const keys = (part: unknown): string[] => (typeof part === 'object' && part !== null ? Object.keys(part) : [])
  const things = (part: unknown): NamedThing[] =>
    keys(part).map((id) => {
      const own = (part as Record<string, unknown>)[id]
      const label = typeof own === 'object' && own !== null && 'label' in own ? own.label : undefined
      return { id, label: typeof label === 'string' ? label : id }
    })
  const columns = [...table.columns.values()].map(
    ({ name, label, type }): NamedThing => ({ id: name, label, is: type.kind === 'number' ? 'measure' : 'key' }),
  )
  return {
    values: [...columns, ...things(parameters)],
    statuses: things(statuses),
    exhibits: [],
    pigments: keys(pigments),
  }
}

/**
 * The columns of a painter in another table; a column without values takes the kind that it had.
 */
export function matchColumns(table: Table, like: Table): Table {
  const problems: Problem[] = []
  const columns = new Map(table.columns)
  for (const wanted of like.columns.values()) {
    const { name, column, type } = wanted
    const written = columns.get(name)
    if (type.kind === 'blank' && written !== undefined) continue
    if (written !== undefined && written.column.kind === column.kind) continue
    // A table without rows has no columns to compare.
    const isBlank = written === undefined ? table.length === 0 : written.type.kind === 'blank'
    if (!isBlank) problems.push(problem('other-table', { column: name, kind: column.kind }))
    else
      columns.set(name, { ...wanted, ...written, type, column: emptyColumn(column.kind, table.length) } as TableColumn)
  }
  refuse(problems)
  return createTable(table.length, columns.values())
}

/** @throws ProblemError for a row or a column that the table does not have. */
export function checkCell(table: Table, column: string, row?: number): void {
  if (!table.columns.has(column)) {
    const candidates = [...table.columns.keys()]
    const name = String(column)
    throw new ProblemError([problem('unknown-column', { name, nearest: nearest(name, candidates), known: candidates })])
  }
  if (row !== undefined && !(Number.isInteger(row) && row >= 0 && row < table.length))
    throw new ProblemError([problem('row-outside', { row: String(row), rows: table.length })])
}

/** In a text column that is mostly numbers, the first text is reported with its row. */
export function withTexts(p: Problem, table: Table, rules: readonly RuleSpec[]): Problem {
  if (p.code !== 'wrong-type' && p.code !== 'unlike-types') return p
  const { text = '', path = [] } = p.place
  const rule = path[0] === 'rules' ? rules[Number(path[1])] : undefined
  const painted = rule === undefined || rule.judge !== undefined ? [] : [rule.paint].flat()
  for (const name of [...text.split(/[^\p{L}\p{N}_]+/u), ...painted]) {
    const column = table.columns.get(name)?.column
    if (column?.kind !== 'text' || column.words.length === 0 || !column.words.every(isNumeric)) continue
    const row = column.codes.findIndex((code) => code >= 0)
    return problem('text-numbers', { column: name, row: row + 1, sample: column.words[column.codes[row]] }, p.place)
  }
  return p
}

const isNumeric = (word: string): boolean => /^\s*[+-]?(\d+(\.\d+)?|\.\d+)\s*$/.test(word)
