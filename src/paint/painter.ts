import { colorText } from '../color/color.js'
import { numberPrinter } from '../format/format.js'
import { isLocale } from '../format/parse.js'
import { periodPrinter } from '../format/period.js'
import { Diagnostics } from '../problem/diagnostics.js'
import { nearest } from '../problem/nearest.js'
import { withoutFollowUps } from '../problem/order.js'
import { type Problem, ProblemError, problem, refuse } from '../problem/problem.js'
import { readParameters, setParameters } from '../rule/bind/parameters.js'
import { bindRules } from '../rule/bind/rules.js'
import type { MeasureFacts } from '../rule/bind/vocabulary.js'
import { judgedText } from '../rule/explain/judged-text.js'
import { createColorNamer, type PhraseContext } from '../rule/explain/phrases.js'
import { printerFor } from '../rule/explain/print.js'
import { type Rehearsal, rehearsable, rehearseRule } from '../rule/explain/rehearse.js'
import { type RuleSentence, sentencesOf } from '../rule/explain/sentence.js'
import { type Tally, tallyCells } from '../rule/explain/tally.js'
import { explainCell, type Why } from '../rule/explain/why.js'
import type { BoundRule, Cells, RunCache, StyleCache } from '../rule/model.js'
import { runOneScale } from '../rule/run/one-scale.js'
import { type PaintResult, paintCells } from '../rule/run/paint.js'
import { createRunCache } from '../rule/run/run-cache.js'
import { saidRules } from '../rule/written/said.js'
import { checkShape, validate } from '../shape/shape.js'
import type { RuleSpec, Status, WrittenRule } from '../spec/rules.js'
import type { ParameterSpec } from '../spec/sources.js'
import type { CellStyle, Channel } from '../style/cell-style.js'
import { checkStyle } from '../style/effect.js'
import { flagText } from '../style/flag.js'
import { type Bar, barOf, type Painted, styleOf } from '../style/painting.js'
import { createPalette, type Palette, type PaletteSpec } from '../style/palette.js'
import { statusLabel } from '../style/status.js'
import { asTable } from '../table/as-table.js'
import { columnNames } from '../table/fields.js'
import type { Table } from '../table/table.js'
import { checkCell, matchColumns, namesOf, PAINT_SPEC, withTexts } from './painter-input.js'

/** The rules of `paint`, with the keys of the report file. */
export interface PaintSpec extends PaletteSpec {
  /** Named numbers for limits: 50000, or '15%'. */
  parameters?: Readonly<Record<string, ParameterSpec>>
  /** The statuses of cells with their styles. */
  statuses?: Readonly<Record<string, Status>>
  /**
   * In keys, or as sentences: 'revenue: at least target → ahead'. In order of precedence: the first
   * rule that sets a channel of a cell wins it.
   */
  rules: readonly WrittenRule[]
  /** BCP 47, for values in words; default: en. */
  locale?: string
}

/** The style of one cell, in words and `#rrggbb`; null for channels that no rule set. */
export interface TableCellStyle {
  status: string | null
  fill: string | null
  ink: string | null
  weight: 'bold' | 'normal' | null
  icon: string | null
  /** A second icon, after the number. */
  iconAfter: string | null
  /** Its ends across the cell, 0 to 1, its colour and finish. */
  bar: Bar | null
  /** The flag with its values; null if one of them is missing. */
  flag: string | null
  /** A data URL. */
  picture: string | null
  hide: 'value' | 'icon' | null
  /** The name of the rule that set each channel. */
  paintedBy: Readonly<Partial<Record<Channel, string>>>
}

/** A painted table. An unknown row or column is a ProblemError in every call. */
export interface TablePainting {
  /** The style of a cell: 0-based row, column by name. A cell without a rule is plain. */
  cell(row: number, column: string): TableCellStyle
  /**
   * All cells of a column at once: a small number for each row, an index into the distinct styles.
   * Undefined if no rule painted it.
   */
  column(name: string): Painted | undefined
  /** Explains a cell, as data and as sentences. */
  why(row: number, column: string): Why
  /** Counts the cells of each status and of each part of a rule. */
  tally(): Tally
  /**
   * Tries each rule on values around its limits, zero and missing, and on `values`. One rule by
   * name, else all.
   */
  rehearse(rule?: string, values?: readonly (number | string)[]): Rehearsal[]
  /** Each rule as a sentence with an explanation, in order. */
  rules(): RuleSentence[]
  /**
   * Decides again with other values of parameters: plain numbers (0.15 for 15 %), or texts such as
   * '15%'. Checked and bound rules are reused.
   *
   * @throws ProblemError for a name that is no parameter, and a value that is no number.
   */
  repaint(parameters: Readonly<Record<string, number | string>>): TablePainting
  /** Messages: rules that could not be applied, and why. */
  notes: readonly string[]
  /** The rules and results, for `proof`. */
  readonly decided: DecidedTable
}

/** A painted table with its rules and results. */
export interface DecidedTable {
  rules: readonly BoundRule[]
  cells: Cells
  result: PaintResult
  facts: PhraseContext
  palette: Palette
  measures: ReadonlyMap<string, MeasureFacts>
}

/**
 * Decides the style of the cells of a table. Every number column can be painted, and rules may name
 * every column; each column is a population of its own. Columns of text and dates are painted by
 * name. A list of rows is read as by `fromRows`.
 *
 * @throws ProblemError carrying every problem of the rules, statuses and parameters.
 */
export function paint(table: Table | readonly object[], spec: PaintSpec): TablePainting {
  const checked = asTable(table, 'table')
  return createPainter(checked, spec).paint(checked)
}

/** Rules that are checked and compiled once, for any number of tables. */
export interface Painter {
  /**
   * Decides the style of the cells of a table. Its columns must be those of the table that the
   * painter was created with, by name and kind; a column without values is of any kind.
   *
   * @throws ProblemError where a column is missing, or of another kind.
   */
  paint(table: Table | readonly object[]): TablePainting
}

/**
 * Checks and compiles rules for tables of the same columns, such as the same sales of another day.
 *
 * @throws ProblemError carrying every problem of the rules, statuses and parameters.
 */
export function createPainter(like: Table | readonly object[], spec: PaintSpec): Painter {
  const first = asTable(like, 'like')
  const bound = bindPainter(first, spec)
  /** Bound again if a column had no values before, with the kinds of these columns. */
  const others = new Map<string, BoundPainter>()
  return {
    paint(given) {
      const table = matchColumns(asTable(given, 'table'), first)
      const filled = [...first.columns.values()].flatMap(({ name, type }) => {
        const kind = table.columns.get(name)?.type.kind
        return type.kind === 'blank' && kind !== 'blank' ? [`${name} ${kind}`] : []
      })
      if (filled.length === 0) return paintedBy(bound, table)
      const kinds = filled.join()
      let other = others.get(kinds)
      if (other === undefined) {
        other = bindPainter(table, spec)
        others.set(kinds, other)
      }
      return paintedBy(other, table)
    },
  }
}

/** Rules bound to columns. */
interface BoundPainter extends Pick<Prepared, 'rules' | 'palette' | 'measures' | 'looks'> {
  statuses: Readonly<Record<string, Status>>
  parameters: PhraseContext['parameters']
  locale: string
  color: PhraseContext['color']
}

function bindPainter(like: Table, given: PaintSpec): BoundPainter {
  // Parts of the wrong shape are reported, and the rest is checked all the same.
  const written: unknown = given
  const isMap = typeof written === 'object' && written !== null && 'rules' in written
  const said = saidRules(isMap ? written.rules : undefined, namesOf(like, written), ['rules'])
  const keyed = isMap ? { ...written, rules: said.rules } : written
  const { value, problems: shapes } = validate(PAINT_SPEC, keyed, [], { rules: [] })
  const problems = [...said.problems, ...shapes.filter((p) => !said.isTold(p))]
  if (value === undefined) throw new ProblemError(problems)
  const spec = value as Omit<PaintSpec, 'rules'> & { rules: readonly RuleSpec[] }
  const statuses = spec.statuses ?? {}
  const diagnostics = new Diagnostics(problems)
  const palette = createPalette(spec, diagnostics)
  for (const [name, status] of Object.entries(statuses)) checkStyle(status, diagnostics.at('statuses', name), palette)
  const parameters = readParameters(spec.parameters ?? {}, diagnostics.at('parameters'))
  const locale = spec.locale ?? 'en'
  if (!isLocale(locale)) diagnostics.at('locale').report('bad-locale', { text: locale })
  const measures = new Map<string, MeasureFacts>()
  for (const column of like.columns.values()) {
    if (column.type.kind !== 'number' && column.type.kind !== 'blank') continue
    const facts: MeasureFacts = { label: column.label, type: column.type }
    if (column.format !== undefined) facts.format = column.format
    if (column.better !== undefined) facts.better = column.better
    measures.set(column.name, facts)
  }
  const vocabulary = { statuses, palette, parameters, measures, fields: columnNames(like, '') }
  const bound = bindRules(spec.rules, vocabulary, ['rules'])
  const found = [...problems, ...bound.problems.map((p) => withTexts(p, like, spec.rules))]
  refuse(withoutFollowUps(found.map((p) => said.place(p))))
  const color = createColorNamer(palette)
  return { rules: bound.rules, palette, measures, looks: new Map(), statuses, parameters, locale, color }
}

function paintedBy(bound: BoundPainter, table: Table): TablePainting {
  const { statuses, parameters, locale, color, ...rest } = bound
  const facts: PhraseContext = {
    locale,
    statuses,
    parameters,
    label: (name) => table.columns.get(name)?.label ?? name,
    color,
    format: (name) => table.columns.get(name)?.format,
  }
  const values = new Map([...parameters].map(([name, { value }]) => [name, value]))
  return painted({ ...rest, table, kept: createRunCache() }, facts, values)
}

interface Prepared {
  table: Table
  rules: readonly BoundRule[]
  palette: Palette
  measures: ReadonlyMap<string, MeasureFacts>
  kept: RunCache
  looks: Map<string, StyleCache>
}

function painted(prepared: Prepared, facts: PhraseContext, parameters: ReadonlyMap<string, number>): TablePainting {
  const { table, rules, palette, measures, kept, looks } = prepared
  const cells: Cells = {
    level: 'detail',
    part: 'cells',
    levelText: 'table',
    table,
    keys: [...table.columns.keys()],
    mixed: new Set<string>(),
    parameters,
    runCache: kept,
    styleCaches: looks,
    oneScale: runOneScale,
  }
  const result: PaintResult = paintCells(cells, rules, [...table.columns.keys()])
  const { painting, results, notes } = result
  const text = createCellText(table, facts)
  const flag = (look: CellStyle, row: number, column: string): string | null =>
    look.flag === null
      ? null
      : flagText(look.flag, (name) => {
          if (name === 'value') return text(row, column)
          if (name === 'status') return look.status === null ? '' : statusLabel(facts.statuses, look.status)
          if (name === 'judged') {
            const by = results.find((one) => one.measure === column && one.rule.name === look.paintedBy.flag)
            return by === undefined ? '' : judgedText(by, row, facts)
          }
          const parameter = facts.parameters.get(name)
          if (parameter === undefined) return text(row, name)
          return numberPrinter(parameter.format, facts.locale)(parameters.get(name) ?? Number.NaN)
        })
  return {
    cell(row, column) {
      checkCell(table, column, row)
      const look = styleOf(painting, column, row)
      return { ...cellLook(look), bar: barOf(painting, column, row), flag: flag(look, row, column) }
    },
    column(name) {
      checkCell(table, name)
      return painting.get(name)
    },
    why(row, column) {
      checkCell(table, column, row)
      const look = styleOf(painting, column, row)
      return explainCell({ cells, rules, results, facts }, column, row, look, text(row, column))
    },
    tally: () => tallyCells(null, painting, results, facts),
    rehearse(rule, values) {
      if (values !== undefined) checkShape({ list: { any: ['number', 'text'] } }, values, ['values'])
      const names = [...new Set(rules.map((rule) => rule.name))]
      if (rule !== undefined && !names.includes(rule))
        throw new ProblemError([problem('unknown-rule', { name: rule, nearest: nearest(rule, names), known: names })])
      return rehearsable(results)
        .filter((result) => rule === undefined || result.rule.name === rule)
        .map((result) => rehearseRule(result, facts, values))
    },
    rules: () => sentencesOf(rules, facts),
    repaint(changed) {
      const problems: Problem[] = []
      const moved = setParameters(facts.parameters, changed, facts.locale, new Diagnostics(problems))
      refuse(problems)
      const next = new Map([...moved].map(([name, { value }]) => [name, value]))
      return painted(prepared, { ...facts, parameters: moved }, next)
    },
    notes: notes.map((note) => note.message),
    decided: { rules, cells, result, facts, palette, measures },
  }
}

/** The text of a cell by its column's format; printers are cached. */
function createCellText(table: Table, facts: PhraseContext): (row: number, column: string) => string {
  const printers = new Map<string, (value: number) => string>()
  return (row, name) => {
    const judged = table.columns.get(name)
    if (judged === undefined) return ''
    const { column, type } = judged
    if (column.kind === 'text') return column.codes[row] < 0 ? '' : column.words[column.codes[row]]
    if (column.kind === 'condition') return ['', 'no', 'yes'][column.values[row] + 1]
    let print = printers.get(name)
    if (print === undefined) {
      const { date } = periodPrinter(facts.locale)
      const dated = (value: number): string => (Number.isNaN(value) ? '' : date(value))
      const unit = type.kind === 'number' ? type.unit : { is: 'none' as const }
      print = column.kind === 'date' ? dated : printerFor(judged.format, unit, facts.locale)
      printers.set(name, print)
    }
    return print(column.values[row])
  }
}

function cellLook({
  status,
  fill,
  ink,
  weight,
  icon,
  iconAfter,
  picture,
  hide,
  paintedBy,
}: CellStyle): Omit<TableCellStyle, 'bar' | 'flag'> {
  const text = (color: number | null): string | null => (color === null ? null : colorText(color))
  return { status, fill: text(fill), ink: text(ink), weight, icon, iconAfter, picture, hide, paintedBy }
}
