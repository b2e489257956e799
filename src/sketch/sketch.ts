import { quantileSorted } from '../column/quantile.js'
import { round14 } from '../column/round.js'
import { fromMoments } from '../column/statistic.js'
import type { BoundAggregate } from '../expression/bound.js'
import { RESERVED } from '../expression/reserved.js'
import { harmless } from '../problem/print.js'
import type { Problem } from '../problem/problem.js'
import { checkShape } from '../shape/shape.js'
import { createMemoryEngine } from '../summary/memory/engine.js'
import type { SourceTable } from '../table/source-table.js'
import type { Table, TableColumn } from '../table/table.js'
import { dayText } from '../time/day.js'
import { parseSpan } from '../time/period.js'

/** Data to start a report from: the file as the report will name it, and its rows as read. */
export interface SketchSource {
  file: string
  source: SourceTable
}

/** A column with what matters for choosing. */
interface Facts {
  name: string
  kind: TableColumn['column']['kind']
  percent: boolean
  distinct: number
  /** For readers: what it holds. */
  says: string
}

const AMOUNT = /amount|revenue|sales|turnover|value|total|net|gross/i
const COST = /cost|expense/i
const LEVEL = /price|rate|margin|share|percent|level|stock|score/i
const LABEL = /(?:^|[ _-])(?:id|no|nr|number|code|zip|postcode|year|month|day|week)$|Id$/
/** More words than these make no table that one reads. */
const MOST_ROWS = 40

/**
 * A starter report: the columns as read, sensible measures, a table and a heatmap, one threshold, one rank, one gradient and one bar rule,
 * each explained in a comment. Painting it works at once.
 */
export async function sketchReport(data: readonly SketchSource[]): Promise<string> {
  checkShape({ list: { keys: { file: 'text', source: 'anything' } }, min: 1 }, data, ['data'])
  const [home, ...others] = data
  const facts = factsOf(home.source.table)
  const names = sourceNames(data.map((own) => own.file))
  const date = facts.find((f) => f.kind === 'date')?.name
  const span = date === undefined ? undefined : (await createMemoryEngine(home.source.table, { date }).survey()).span
  const long = span !== undefined && span.to - span.from > 400
  const period = long ? 'this year' : 'all'
  const main = mainColumn(facts)
  const dimensions = facts.filter((f) => f.kind === 'text' && f.distinct > 1 && f.distinct <= MOST_ROWS)
  const outer = dimensions.find((f) => f.distinct <= 8)
  const inner =
    dimensions.find((f) => f !== outer && f.distinct > (outer?.distinct ?? 0)) ?? dimensions.find((f) => f !== outer)
  const row = inner ?? outer
  const rowName = row?.name ?? (date === undefined ? facts[0].name : 'month')
  const measure = main === undefined ? 'rows' : nameFor('total', main.name)
  const formula =
    main === undefined
      ? 'count()'
      : main.percent || LEVEL.test(main.name)
        ? `mean(${written(main.name)})`
        : `sum(${written(main.name)})`
  const cost =
    main === undefined ? undefined : facts.find((f) => f.kind === 'number' && COST.test(f.name) && f !== main)
  const target = await targetOf(home.source.table, date, rowName, main, formula, span?.to, period)
  const lines: string[] = []
  const say = (...own: string[]): void => {
    lines.push(...own)
  }
  const second = cost !== undefined ? 'margin' : long ? 'growth' : undefined
  say(`# A start made from ${comment(home.file)}: change what it says, and paint it again.`, '')
  say(`title: ${text(titleOf(home.file))}`)
  if (date !== undefined) say('asOf: latest                  # the last day in the data; or a date such as 2025-06-30')
  if (long) say('period: this year             # what is shown; comparisons may look outside it')
  say('', 'sources:')
  for (const [i, { file, source }] of data.entries()) {
    const own = factsOf(source.table)
    say(`  # ${comment(file)}: ${source.table.length} rows`)
    const width = Math.min(24, Math.max(...own.map((f) => f.name.length)))
    for (const f of own) say(`  #   ${comment(f.name).padEnd(width)}  ${comment(f.says)}`)
    for (const note of source.notes) say(`  # ${comment(note.message)}`)
    say(`  ${names[i]}:`, `    file: ${text(file)}`)
    const when = own.find((f) => f.kind === 'date')?.name
    if (when !== undefined) say(`    date: ${text(when)}`)
    const guesses = readAs(source.notes)
    if (guesses.length > 0)
      say(
        `    read: { ${guesses.map(([name, as]) => `${text(name)}: ${text(as)}`).join(', ')} }   # found out; this settles it`,
      )
    const shared =
      i === 0 ? [] : own.filter((f) => f.kind === 'text' && facts.some((h) => h.kind === 'text' && h.name === f.name))
    if (shared.length > 0)
      say(
        `    match: [${shared.map((f) => text(f.name)).join(', ')}]   # joined with the first source on these and on time`,
      )
  }
  say('', 'measures:                     # worked out after summarising: a ratio is right in the totals, too')
  say(
    `  ${measure}: { formula: ${quoted(formula)}, label: ${text(labelOf(main?.name ?? 'rows'))}, format: ${formatOf(main)}, better: higher }`,
  )
  if (main !== undefined && cost !== undefined)
    say(
      `  margin: { formula: ${quoted(`(sum(${written(main.name)}) - sum(${written(cost.name)})) / sum(${written(main.name)})`)}, label: Margin, format: percent 1, better: higher }`,
    )
  if (long)
    say(
      `  lastYear: { formula: ${quoted(`lag(${measure}, 1 year)`)}, label: Last year, format: ${formatOf(main)} }`,
      `  growth: { formula: ${quoted(`changeShare(${measure}, lastYear)`)}, label: Growth, format: percent 1 signed, better: higher }`,
    )
  others.forEach(({ source }, i) => {
    const column = mainColumn(factsOf(source.table))
    if (column === undefined) return
    const name = nameFor(names[i + 1], column.name)
    say(
      `  ${name}: { formula: ${quoted(`sum(${names[i + 1]}.${written(column.name)})`)}, label: ${text(labelOf(`${names[i + 1]} ${column.name}`))}, format: number 0 }`,
    )
  })
  const extra = others.flatMap(({ source }, i) => {
    const column = mainColumn(factsOf(source.table))
    return column === undefined ? [] : [nameFor(names[i + 1], column.name)]
  })
  say('', 'parameters:                   # named numbers that limits refer to: --set target=…')
  // In percent the limit is one, too.
  say(`  target: ${main?.percent === true ? `${round14(target * 100)}%` : target}`, '')
  say('statuses:                     # what a cell can be, and how that looks: said once, used everywhere')
  say('  ahead: { label: On target, means: good, wash: leaf, icon: tick }')
  say('  close: { label: Near target, means: fair, wash: ochre, icon: dash }')
  say('  behind: { label: Behind, means: bad, wash: clay, icon: cross }')
  say('  leading: { label: Among the first three, means: good, ink: sea, icon: leaf, weight: bold }', '')
  say('rules:                        # the first rule that sets a look of a cell wins')
  say('  # a threshold: the first limit that holds decides; what no limit reaches is behind')
  say('  - title: Against the target', `    paint: ${measure}`, '    only: [overview]', '    bands:')
  say(
    '      - { atLeast: target, status: ahead }',
    '      - { atLeast: 80% of target, status: close }',
    '      - { otherwise: behind }',
  )
  say('  # a rank: the three highest; 10% instead of 3 would be a tenth of the rows')
  say('  - title: The first three', `    paint: ${second ?? measure}`, '    only: [overview]')
  say(second === undefined ? '    rank: { top: 3, style: { weight: bold } }' : '    rank: { top: 3, status: leading }')
  say('  # a gradient: from the lowest to the highest of the cells shown')
  say(
    '  - title: Where it is most',
    `    paint: ${measure}`,
    '    only: [heat]',
    '    gradient: { ramp: [paper, sea] }',
  )
  const barred = long ? 'growth' : second
  if (barred !== undefined) {
    say('  # a bar: from zero, with another colour below it')
    say(
      '  - title: How much',
      `    paint: ${barred}`,
      '    only: [overview]',
      '    bar: { wash: leaf, negative: clay }',
    )
  }
  say('')
  say('exhibits:                     # what is on the page, in order')
  const show = [measure, ...(cost === undefined ? [] : ['margin']), ...(long ? ['lastYear', 'growth'] : []), ...extra]
  const rows = outer !== undefined && inner !== undefined ? `[${text(outer.name)}, ${text(inner.name)}]` : text(rowName)
  say(
    '  - name: overview',
    `    title: ${text(`${labelOf(main?.name ?? 'rows')} by ${row === undefined ? rowName : row.name}`)}`,
    '    table:',
  )
  say(`      rows: ${rows}`, `      show: [${show.join(', ')}]`, '      totals: bottom', `      sort: -${measure}`)
  const across = date !== undefined && rowName !== 'month' ? 'month' : dimensions.find((f) => f !== row)?.name
  const heatRow = dimensions.find((f) => f.name !== across && f.distinct > 3 && f !== inner)?.name ?? rowName
  say(
    '  - name: heat',
    `    title: ${text(`${labelOf(main?.name ?? 'rows')}, ${heatRow}${across === undefined ? '' : ` by ${across}`}`)}`,
  )
  if (long) say('    period: last 12 months')
  say(
    `    heatmap: { rows: ${text(heatRow)}${across === undefined ? '' : `, columns: ${text(across)}`}, show: ${measure} }`,
  )
  return `${lines.join('\n')}\n`
}

function factsOf(table: Table): Facts[] {
  return [...table.columns.values()].map(({ name, column, type }) => {
    const percent = type.kind === 'number' && type.unit.is === 'percent'
    if (column.kind === 'text') {
      const { words } = column
      const sample = words.slice(0, 3).join(', ')
      const says = `text, ${words.length} different: ${sample}${words.length > 3 ? ', …' : ''}`
      return { name, kind: 'text', percent, distinct: words.length, says }
    }
    let low = Number.POSITIVE_INFINITY
    let high = Number.NEGATIVE_INFINITY
    let missing = 0
    for (const x of column.values) {
      if (Number.isNaN(x) || (column.kind === 'condition' && x < 0)) missing++
      else {
        if (x < low) low = x
        if (x > high) high = x
      }
    }
    const gone = missing === 0 ? '' : `, ${missing} missing`
    if (column.kind === 'condition')
      return { name, kind: 'condition', percent, distinct: 2, says: `true or false${gone}` }
    const show = (x: number): string => (column.kind === 'date' ? dayText(x) : String(round14(x)))
    const range = low > high ? 'empty' : `${show(low)} to ${show(high)}`
    const kind = column.kind
    return { name, kind, percent, distinct: high - low, says: `${percent ? 'percent' : kind}, ${range}${gone}` }
  })
}

function mainColumn(facts: readonly Facts[]): Facts | undefined {
  const numbers = facts.filter((f) => f.kind === 'number' && !LABEL.test(f.name))
  return (
    numbers.find((f) => AMOUNT.test(f.name) && !COST.test(f.name)) ??
    numbers.find((f) => !f.percent && !LEVEL.test(f.name)) ??
    numbers[0]
  )
}

/** The middle of what the rows reach in the period, to two digits: a limit that divides them. */
async function targetOf(
  table: Table,
  date: string | undefined,
  key: string,
  main: Facts | undefined,
  formula: string,
  last: number | undefined,
  period: string,
): Promise<number> {
  const type = { kind: 'number', unit: { is: 'none' } } as const
  const part: BoundAggregate = {
    op: 'aggregate',
    statistic: main === undefined ? 'count' : formula.startsWith('mean') ? 'mean' : 'sum',
    ...(main === undefined ? {} : { of: { op: 'name', ref: { kind: 'field', name: main.name }, type } }),
    share: 0.5,
    key: formula,
    type,
  }
  const engine = createMemoryEngine(table, date === undefined ? {} : { date })
  const span = last === undefined ? undefined : parseSpan(period, last)
  const { parts } = await engine.ask({
    keys: [key],
    parts: [part],
    fields: [],
    where: [],
    ...(span === undefined ? {} : { span }),
  })
  const values =
    parts[0] === undefined ? [] : [...fromMoments(part.statistic, parts[0])].filter((x) => !Number.isNaN(x))
  const middle = quantileSorted(Float64Array.from(values).sort(), 0.5)
  return Number.isNaN(middle) ? 0 : Number(middle.toPrecision(2))
}

function readAs(notes: readonly Problem[]): [string, string][] {
  return notes.flatMap((p) =>
    p.code === 'note-guessed' ? [[String(p.params.column), String(p.params.as)] as [string, string]] : [],
  )
}

/** What the sources are called: as their files, where that can stand in an expression, each once. */
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

/** A name that can stand in an expression. */
function nameFor(prefix: string, column: string): string {
  const words = column.match(/[\p{L}\p{N}]+/gu) ?? []
  return prefix + words.map(raised).join('')
}

/** A column as it is named in an expression. */
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

/** A text as YAML: plain where nothing can be mistaken in it, else in quotes, as JSON writes them. */
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
