import { round14 } from '../column/round.js'
import { RESERVED } from '../expression/reserved.js'
import { harmless } from '../problem/print.js'
import type { Problem } from '../problem/problem.js'
import { checkShape } from '../shape/shape.js'
import { createMemoryEngine } from '../summary/memory/engine.js'
import type { SourceTable } from '../table/source-table.js'
import { COST, columnFacts, type Facts, LEVEL, mainColumn, targetOf } from './facts.js'

/** Data for a starter report: the file as the report will name it, and its rows. */
export interface SketchSource {
  file: string
  source: SourceTable
}
/** More words than these make a table too long to read. */
const MOST_ROWS = 40

/** The parts of a starter report, chosen from its data. */
interface Choice {
  data: readonly SketchSource[]
  names: readonly string[]
  facts: readonly Facts[]
  date: string | undefined
  /** Whether the data cover more than a year, so that last year can be compared. */
  long: boolean
  /** The column of amounts. */
  main: Facts | undefined
  cost: Facts | undefined
  measure: string
  formula: string
  target: number
  /** Text columns that make rows or columns. */
  dimensions: readonly Facts[]
  outer: Facts | undefined
  inner: Facts | undefined
  /** The key of the rows, or its substitute. */
  rowName: string
}

/**
 * Writes a starter report: the columns as read, sensible measures, a table and a heatmap, one
 * threshold, one rank, one gradient and one bar rule, each explained in a comment. It can be
 * painted at once.
 */
export async function sketch(data: readonly SketchSource[]): Promise<string> {
  checkShape({ list: { keys: { file: 'text', source: 'anything' } }, min: 1 }, data, ['data'])
  const choice = await choose(data)
  const lines = [
    ...headYaml(choice),
    '',
    'sources:',
    ...data.flatMap((_, i) => sourceYaml(choice, i)),
    '',
    ...measuresYaml(choice),
    '',
    ...STATUS_LINES,
    '',
    ...rulesYaml(choice),
    '',
    ...exhibitsYaml(choice),
  ]
  return `${lines.join('\n')}\n`
}

async function choose(data: readonly SketchSource[]): Promise<Choice> {
  const [home] = data
  const facts = columnFacts(home.source.table)
  const date = facts.find((f) => f.kind === 'date')?.name
  const span = date === undefined ? undefined : (await createMemoryEngine(home.source.table, { date }).stats()).span
  const long = span !== undefined && span.to - span.from > 400
  const main = mainColumn(facts)
  const dimensions = facts.filter((f) => f.kind === 'text' && f.distinct > 1 && f.distinct <= MOST_ROWS)
  const outer = dimensions.find((f) => f.distinct <= 8)
  const inner =
    dimensions.find((f) => f !== outer && f.distinct > (outer?.distinct ?? 0)) ?? dimensions.find((f) => f !== outer)
  const rowName = (inner ?? outer)?.name ?? (date === undefined ? facts[0].name : 'month')
  const isLevel = main !== undefined && (main.percent || LEVEL.test(main.name))
  const formula = main === undefined ? 'count()' : `${isLevel ? 'mean' : 'sum'}(${written(main.name)})`
  return {
    data,
    names: sourceNames(data.map((source) => source.file)),
    facts,
    date,
    long,
    main,
    cost: main && facts.find((f) => f.kind === 'number' && COST.test(f.name) && f !== main),
    measure: main === undefined ? 'rows' : nameFor('total', main.name),
    formula,
    target: await targetOf(home.source.table, date, rowName, main, formula, span?.to, long ? 'this year' : 'all'),
    dimensions,
    outer,
    inner,
    rowName,
  }
}

function headYaml({ data: [home], date, long }: Choice): string[] {
  return [
    `# A start made from ${comment(home.file)}: change what it says, and paint it again.`,
    '',
    `title: ${text(titleOf(home.file))}`,
    ...(date === undefined
      ? []
      : ['asOf: latest                  # the last day in the data; or a date such as 2025-06-30']),
    ...(long ? ['period: this year             # what is shown; comparisons may look outside it'] : []),
  ]
}

function sourceYaml({ data, names, facts }: Choice, i: number): string[] {
  const { file, source } = data[i]
  const sourceFacts = columnFacts(source.table)
  const width = Math.min(24, Math.max(...sourceFacts.map((f) => f.name.length)))
  const when = sourceFacts.find((f) => f.kind === 'date')?.name
  const guesses = readAs(source.notes).map(([name, as]) => `${text(name)}: ${text(as)}`)
  const shared =
    i === 0
      ? []
      : sourceFacts.filter((f) => f.kind === 'text' && facts.some((h) => h.kind === 'text' && h.name === f.name))
  const match = shared.map((f) => text(f.name)).join(', ')
  return [
    `  # ${comment(file)}: ${source.table.length} rows`,
    ...sourceFacts.map((f) => `  #   ${comment(f.name).padEnd(width)}  ${comment(f.says)}`),
    ...source.notes.map((note) => `  # ${comment(note.message)}`),
    `  ${names[i]}:`,
    `    file: ${text(file)}`,
    ...(when === undefined ? [] : [`    date: ${text(when)}`]),
    ...(guesses.length === 0 ? [] : [`    read: { ${guesses.join(', ')} }   # inferred; this declares it`]),
    ...(match === '' ? [] : [`    match: [${match}]   # joined with the first source on these and on time`]),
  ]
}

/** A measure for each further source with an amount. */
function otherMeasures({ data, names }: Choice): { name: string; line: string }[] {
  return data.slice(1).flatMap(({ source }, i) => {
    const column = mainColumn(columnFacts(source.table))
    if (column === undefined) return []
    const ownName = names[i + 1]
    const name = nameFor(ownName, column.name)
    const formula = quoted(`sum(${ownName}.${written(column.name)})`)
    return [
      {
        name,
        line: `  ${name}: { formula: ${formula}, label: ${text(labelOf(`${ownName} ${column.name}`))}, format: number 0 }`,
      },
    ]
  })
}

function measuresYaml(choice: Choice): string[] {
  const { main, cost, long, measure, formula, target } = choice
  const format = formatOf(main)
  const margin =
    main && cost && quoted(`(sum(${written(main.name)}) - sum(${written(cost.name)})) / sum(${written(main.name)})`)
  return [
    'measures:                     # computed after aggregation: a ratio is right in the totals, too',
    `  ${measure}: { formula: ${quoted(formula)}, label: ${text(labelOf(main?.name ?? 'rows'))}, format: ${format}, better: higher }`,
    ...(margin === undefined
      ? []
      : [`  margin: { formula: ${margin}, label: Margin, format: percent 1, better: higher }`]),
    ...(long
      ? [
          `  lastYear: { formula: ${quoted(`lag(${measure}, 1 year)`)}, label: Last year, format: ${format} }`,
          `  growth: { formula: ${quoted(`percentChange(${measure}, lastYear)`)}, label: Growth, format: percent 1 signed, better: higher }`,
        ]
      : []),
    ...otherMeasures(choice).map(({ line }) => line),
    '',
    'parameters:                   # named numbers that limits refer to: --set target=…',
    // For a percent the limit is a percent, too.
    `  target: ${main?.percent === true ? `${round14(target * 100)}%` : target}`,
  ]
}

const STATUS_LINES = [
  'statuses:                     # what a cell can be, and its style: written once, used everywhere',
  '  ahead: { label: On target, verdict: good, wash: aqua, icon: tick }',
  '  close: { label: Near target, verdict: fair, wash: straw, icon: dash }',
  '  behind: { label: Behind, verdict: bad, wash: coral, icon: cross }',
  '  leading: { label: Among the first three, verdict: good, ink: indigo, icon: sprig, weight: bold }',
]

function rulesYaml({ cost, long, measure }: Choice): string[] {
  const second = cost !== undefined ? 'margin' : long ? 'growth' : undefined
  const barred = long ? 'growth' : second
  return [
    'rules:                        # the first rule that sets a look of a cell wins',
    '  # a threshold: the first limit that is met decides; all other values are behind',
    '  - title: Against the target',
    `    paint: ${measure}`,
    '    only: [overview]',
    '    bands:',
    '      - { atLeast: target, status: ahead }',
    '      - { atLeast: 80% of target, status: close }',
    '      - { otherwise: behind }',
    '  # a rank: the three highest; 10% instead of 3 would be a tenth of the rows',
    '  - title: The first three',
    `    paint: ${second ?? measure}`,
    '    only: [overview]',
    second === undefined ? '    rank: { top: 3, style: { weight: bold } }' : '    rank: { top: 3, status: leading }',
    '  # a gradient: from the lowest to the highest of the cells shown',
    '  - title: Where it is most',
    `    paint: ${measure}`,
    '    only: [heat]',
    '    gradient: { ramp: [paper, indigo] }',
    ...(barred === undefined
      ? []
      : [
          '  # a bar: from zero, with another colour below it',
          '  - title: How much',
          `    paint: ${barred}`,
          '    only: [overview]',
          '    bar: { color: aqua, negative: coral }',
        ]),
  ]
}

function exhibitsYaml(choice: Choice): string[] {
  const { main, cost, long, date, measure, dimensions, outer, inner, rowName } = choice
  const row = inner ?? outer
  const extra = otherMeasures(choice).map(({ name }) => name)
  const show = [measure, ...(cost === undefined ? [] : ['margin']), ...(long ? ['lastYear', 'growth'] : []), ...extra]
  const rows = outer !== undefined && inner !== undefined ? `[${text(outer.name)}, ${text(inner.name)}]` : text(rowName)
  const across = date !== undefined && rowName !== 'month' ? 'month' : dimensions.find((f) => f !== row)?.name
  const heatRow = dimensions.find((f) => f.name !== across && f.distinct > 3 && f !== inner)?.name ?? rowName
  const label = labelOf(main?.name ?? 'rows')
  const columns = across === undefined ? '' : `, columns: ${text(across)}`
  return [
    'exhibits:                     # what is on the page, in order',
    '  - name: overview',
    `    title: ${text(`${label} by ${rowName}`)}`,
    '    table:',
    `      rows: ${rows}`,
    `      show: [${show.join(', ')}]`,
    '      totals: bottom',
    `      sort: -${measure}`,
    '  - name: heat',
    `    title: ${text(`${label}, ${heatRow}${across === undefined ? '' : ` by ${across}`}`)}`,
    ...(long ? ['    period: last 12 months'] : []),
    `    heatmap: { rows: ${text(heatRow)}${columns}, show: ${measure} }`,
  ]
}

function readAs(notes: readonly Problem[]): [string, string][] {
  return notes.flatMap((p) =>
    p.code === 'note-guessed' ? [[String(p.params.column), String(p.params.as)] as [string, string]] : [],
  )
}

/** The names of sources: those of their files if they are valid in expressions, each once. */
function sourceNames(files: readonly string[]): string[] {
  const names: string[] = []
  for (const [i, file] of files.entries()) {
    const words = stemOf(file).match(/[\p{L}\p{N}]+/gu) ?? []
    const name = words.map((word, w) => (w === 0 ? word.toLowerCase() : raised(word))).join('')
    const good = /^\p{L}/u.test(name) && !RESERVED.has(name) && !names.includes(name) && name.length < 30
    names.push(good ? name : i === 0 ? 'rows' : `other${i}`)
  }
  return names
}

function stemOf(file: string): string {
  const stem = file.replace(/^.*[\\/{]/, '').replace(/(?:\.[a-z]+)+(?:,.*)?\}?$/i, '')
  return stem === '' ? file : stem
}

function raised(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1)
}

/** A name that is valid in expressions. */
function nameFor(prefix: string, column: string): string {
  const words = column.match(/[\p{L}\p{N}]+/gu) ?? []
  return prefix + words.map(raised).join('')
}

/** A column as written in an expression. */
function written(column: string): string {
  if (/^\p{L}[\p{L}\p{N}_]*$/u.test(column) && !RESERVED.has(column)) return column
  return `column('${column.replaceAll("'", "''")}')`
}

function formatOf(main: Facts | undefined): string {
  return main?.percent === true ? 'percent 1' : 'number 0'
}

function labelOf(name: string): string {
  const plain = name.replace(/[_-]+/g, ' ').trim()
  return raised(plain)
}

function titleOf(file: string): string {
  return labelOf(stemOf(file))
}

/** A text as YAML: plain if it is unambiguous, else quoted as in JSON. */
function text(value: string): string {
  const plain =
    /^[\p{L}][\p{L}\p{N} _./-]*$/u.test(value) &&
    !/^(?:true|false|null|yes|no|on|off|y|n)$/i.test(value) &&
    !value.endsWith(' ')
  return plain ? value : JSON.stringify(value)
}

/** An expression as YAML. */
function quoted(expression: string): string {
  return /[,:#{}[\]'"&*]/.test(expression) ? JSON.stringify(expression) : expression
}

/** Data in a comment: one line, no control characters, not too long. */
function comment(value: string): string {
  const line = harmless(value).replace(/\s+/g, ' ')
  return line.length > 100 ? `${line.slice(0, 99)}…` : line
}
