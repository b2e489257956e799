import { quoteText } from '../expression/print.js'
import { writeSentence } from '../rule/sentence/parse.js'
import type { RuleSpec } from '../spec/rules.js'
import type { ColumnFacts } from './facts.js'
import { type Line, line, printLines } from './line.js'
import { columnLabel, commentText, labelOf, titleOf, yamlExpression, yamlText } from './names.js'
import type { Plan } from './plan.js'
import type { StarterMeasure } from './starter-measure.js'
import { sourceSection } from './write-sources.js'

/** Numbers that are chosen from the answered cells, and what was left out after the check. */
export interface Tuning {
  target: number
  /** The share of the target, or of the plan, that is still near it. */
  near: number
  /** The change that is worth a mark. */
  slack: number
  /** Parts that the check of the finished report removed. */
  without: ReadonlySet<string>
  /** Findings about the data, which the author may want to see later. */
  ignored: readonly { code: string; at: string | undefined; because: string }[]
}

/** The report as text. Without comments if `brief`. */
export function writeReport(plan: Plan, tuning: Tuning, brief: boolean): string {
  const lines = [
    ...head(plan),
    ...sourceSection(plan),
    ...measures(plan),
    ...statuses(plan, tuning),
    ...rules(plan, tuning),
    ...exhibits(plan, tuning),
    ...ignored(tuning),
  ]
  return printLines(lines, brief)
}

function head({ sources: [home], times }: Plan): Line[] {
  return [
    line('', `A start made from ${commentText(home.file)}: change what it says, and paint it again.`),
    line(`title: ${yamlText(titleOf(home.file))}`),
    ...(times === undefined ? [] : [line('asOf: latest', 'the last day in the data; or a date such as 2025-06-30')]),
    ...(times === undefined || times.period === 'all' ? [] : [line(`period: ${times.period}`, times.because)]),
    line(''),
  ]
}

function measureLine({ name, formula, label, format, better, because }: StarterMeasure): Line[] {
  const code = `  ${name}: { formula: ${yamlExpression(formula)}, label: ${yamlText(label)}, format: ${format}, better: ${better} }`
  return [line(code, because)]
}

/** The measures that the report shows, in order. */
function shownMeasures({ measures: { main, plan, gap, lastYear, growth, margin, others } }: Plan): StarterMeasure[] {
  return [main, plan, gap, lastYear, growth, margin, ...others].filter((each) => each !== undefined).slice(0, 9)
}

function measures(plan: Plan): Line[] {
  return [
    line('measures:', 'computed after aggregation: a ratio is right in the totals, too'),
    ...shownMeasures(plan).flatMap(measureLine),
    line(''),
  ]
}

/**
 * A table of a single measure would be filled everywhere: then what needs no act has an ink alone.
 */
function statusStyles(without: ReadonlySet<string>) {
  return {
    ahead: `verdict: good, ${without.has('aheadFill') ? 'ink' : 'wash'}: aqua, icon: tick`,
    close: `verdict: fair, ${without.has('closeFill') ? 'ink' : 'wash'}: straw, icon: dash`,
    behind: 'verdict: bad, wash: coral, icon: cross',
  }
}

function statuses({ measures: { plan, gap, growth } }: Plan, { target, slack, without }: Tuning): Line[] {
  if (without.has('bands') && without.has('marks')) return []
  const word = plan === undefined ? 'target' : 'plan'
  const styles = statusStyles(without)
  const parameters = [
    ...(plan !== undefined || without.has('bands') ? [] : [`target: ${target}`]),
    ...((gap ?? growth) === undefined || without.has('marks') ? [] : [`slack: ${Math.round(slack * 100)}%`]),
  ]
  const about = plan === undefined ? 'a third of the cells reach the target' : 'smaller differences are not marked'
  return [
    ...(parameters.length === 0
      ? []
      : [
          line(
            `parameters: { ${parameters.join(', ')} }`,
            `${about}; try it: --set ${parameters[0].replace(': ', '=')}`,
          ),
          line(''),
        ]),
    ...(without.has('bands')
      ? []
      : [
          line('statuses:', 'what a cell can be, and its style: written once, used everywhere'),
          line(`  ahead: { label: On ${word}, ${styles.ahead} }`),
          line(`  close: { label: Near ${word}, ${styles.close} }`),
          line(`  behind: { label: Behind, ${styles.behind} }`),
          line(''),
        ]),
  ]
}

function rules(plan: Plan, { near, without }: Tuning): Line[] {
  const { main, plan: target, gap, growth } = plan.measures
  const lower = main.better === 'lower'
  const limit = target?.name ?? 'target'
  const share = `${Math.round(near * 100)}% of ${limit}`
  const compared = gap ?? growth
  const word = target === undefined ? 'target' : 'plan'
  const sign = lower ? 'atMost' : 'atLeast'
  const color = colorColumn(plan)
  const list: Line[] = [
    ...(without.has('bands')
      ? []
      : [
          line(
            `  - name: against${target === undefined ? 'Target' : 'Plan'}`,
            'a threshold: the first limit that is met decides',
          ),
          line(`    title: Against the ${word}`),
          said({
            paint: main.name,
            only: without.has('list') ? ['overview'] : ['overview', 'toActOn'],
            bands: [{ [sign]: limit, status: 'ahead' }, { [sign]: share, status: 'close' }, { otherwise: 'behind' }],
          }),
        ]),
    ...(compared === undefined || without.has('marks')
      ? []
      : [
          line('  - name: exceptions', 'what is beyond the tolerance gets an arrow'),
          line('    title: Beyond the tolerance'),
          said({
            paint: compared.name,
            bands: [
              { above: 'slack', style: { ink: lower ? 'coral' : 'aqua', icon: 'up' } },
              { below: '-slack', style: { ink: lower ? 'aqua' : 'coral', icon: 'down' } },
            ],
          }),
        ]),
    ...(without.has('shade') || without.has('heat')
      ? []
      : [
          line('  - name: shade', 'a gradient; one huge cell does not make the others pale'),
          line('    title: How much'),
          said({
            paint: main.name,
            only: ['heat'],
            gradient: { ramp: ['paper', 'indigo'], to: 'percentile(value, 95%)' },
          }),
        ]),
    ...(!without.has('bands') || without.has('bar')
      ? []
      : [
          line('  - name: size', 'a bar from zero, in the column that it measures'),
          line('    title: How large'),
          said({
            paint: barred(plan),
            only: [plan.keys.rows.length === 0 && plan.times === undefined ? 'records' : 'overview'],
            bar: { color: 'indigo' },
          }),
        ]),
    ...(color === undefined || without.has('colors')
      ? []
      : [
          line('  - name: colours', 'each row in the colour that its data give it'),
          line('    title: As in the data'),
          said({ paint: 'row', only: ['records'], fromColumn: { fill: color.name } }),
        ]),
  ]
  return list.length === 0
    ? []
    : [line('rules:', 'the first rule that sets a channel of a cell wins it'), ...list, line('')]
}

/** A rule as its sentence, beside its name and title. */
function said(rule: RuleSpec): Line {
  return line(`    say: ${quoteText(writeSentence(rule))}`)
}

/** The measure of the table; without a table, the column that records are sorted by. */
function barred({ keys, times, measures: { main, column } }: Plan): string {
  return keys.rows.length > 0 || times !== undefined || column === undefined ? main.name : column.name
}

function colorColumn({ sources: [home] }: Plan): ColumnFacts | undefined {
  return home.roles.find(({ role }) => role === 'color')?.facts
}

function exhibits(plan: Plan, { without }: Tuning): Line[] {
  const { keys, times, measures: m } = plan
  const shown = shownMeasures(plan)
  const inner = keys.rows.at(-1)
  const rows = keys.rows.map(({ name }) => yamlText(name))
  const rowText = rows.length === 0 ? (times?.unit ?? '') : rows.length === 1 ? rows[0] : `[${rows.join(', ')}]`
  const rowName = inner?.name ?? times?.unit ?? ''
  const columns = shown.filter((each) => each !== m.lastYear || m.growth === undefined).slice(0, 6)
  const hasTrend = times?.hasTrend === true && rows.length > 0 && !without.has('trend')
  const trend = hasTrend ? [`{ trend: { along: ${times.unit} }, label: Trend }`] : []
  return [
    line('exhibits:', 'what is on the page, in order'),
    ...cards(plan, without),
    ...(rowText === ''
      ? []
      : [
          line('  - name: overview'),
          line(
            `    title: ${yamlText(`${m.main.label} by ${(inner === undefined ? labelOf(rowName) : columnLabel(inner)).toLowerCase()}`)}`,
            keys.because,
          ),
          line('    table:'),
          line(`      rows: ${rowText}`),
          line(`      show: [${[...columns.map(({ name }) => name), ...trend].join(', ')}]`),
          ...(rows.length === 0
            ? []
            : [
                line(`      totals: bottom`),
                line(`      sort: ${m.main.better === 'lower' ? '' : '-'}${m.main.name}`),
              ]),
        ]),
    ...heatmap(plan, without),
    ...(without.has('bands') || without.has('list') || rows.length === 0
      ? []
      : [
          line(`  - { name: toActOn, title: To act on, list: { status: behind, of: ${m.main.name}, by: ${rowText} } }`),
        ]),
    ...(without.has('reading') || rows.length === 0 || m.isMean
      ? []
      : [
          line(
            `  - { name: inWords, title: The reading, reading: { of: ${m.main.name}, by: ${yamlText(rowName)}${m.lastYear === undefined ? '' : `, versus: ${m.lastYear.name}`} } }`,
          ),
        ]),
    ...records(plan, without),
    ...(rows.length === 0
      ? []
      : [
          line(''),
          line(
            `filters: [${[...keys.rows, ...keys.others]
              .filter(({ kind, distinct }) => kind === 'text' && distinct <= 60)
              .slice(0, 3)
              .map(({ name }) => yamlText(name))
              .join(', ')}${times === undefined ? '' : ', period'}]`,
            'what the reader of a live page may filter by',
          ),
        ]),
  ]
}

function cards({ measures: m, times }: Plan, without: ReadonlySet<string>): Line[] {
  if (without.has('cards')) return []
  const versus = m.plan ?? m.lastYear
  const trend = times?.hasTrend === true && !without.has('trend') ? `, trend: { along: ${times.unit} }` : ''
  const rest = [m.gap === undefined ? m.growth : m.gap, m.margin, ...m.others]
    .filter((each) => each !== undefined)
    .slice(0, 3)
  return [
    line('  - name: headline'),
    line('    title: In short'),
    line(
      `    cards: [${[`{ show: ${m.main.name}${versus === undefined ? '' : `, versus: ${versus.name}`}${trend} }`, ...rest.map(({ name }) => `{ show: ${name} }`)].join(', ')}]`,
    ),
  ]
}

function heatmap({ sources: [home], keys, times, measures: { main } }: Plan, without: ReadonlySet<string>): Line[] {
  if (without.has('heat')) return []
  const [outer] = keys.rows
  const order = home.shape?.order
  const stacked = order === undefined ? undefined : home.facts.find(({ name }) => name === home.shape?.stack?.name)
  const others = keys.others.filter(({ kind, distinct }) => kind === 'text' && distinct >= 2 && distinct <= 24)
  const across =
    times !== undefined && outer !== undefined
      ? times.unit
      : stacked !== undefined && !keys.rows.includes(stacked)
        ? `{ key: ${yamlText(stacked.name)}, order: [${(order ?? []).map(yamlText).join(', ')}] }`
        : others[0] && yamlText(others[0].name)
  const innermost = keys.rows.at(-1)
  const inner =
    innermost !== undefined && innermost !== stacked && yamlText(innermost.name) !== across ? innermost : outer
  if (across === undefined || inner === undefined) return []
  return [
    line('  - name: heat'),
    line(
      `    title: ${yamlText(`${main.label}, ${columnLabel(inner).toLowerCase()} by ${stacked?.name ?? times?.unit ?? columnLabel(others[0]).toLowerCase()}`)}`,
    ),
    line(`    heatmap: { rows: ${yamlText(inner.name)}, columns: ${across}, show: ${main.name} }`),
  ]
}

/** The rows themselves: if nothing can be grouped, or if the data give colours. */
function records({ sources: [home], keys, measures: { column } }: Plan, without: ReadonlySet<string>): Line[] {
  const color = home.roles.some(({ role }) => role === 'color')
  if ((keys.rows.length > 0 && !color) || without.has('records')) return []
  const shown = home.roles
    .filter(({ role }) => !['color', 'picture', 'empty', 'text', 'constant'].includes(role))
    .slice(0, 7)
  if (shown.length === 0 || home.source.table.length === 0) return []
  const sort = shown.find(({ facts }) => facts === column)
  return [
    line('  - name: records'),
    line(`    title: ${sort === undefined ? 'The rows' : 'The largest rows'}`),
    line(
      `    records: { show: [${shown.map(({ facts }) => yamlText(facts.name)).join(', ')}]${sort === undefined ? '' : `, sort: ${yamlText(`-${sort.facts.name}`)}`}, first: 20 }`,
    ),
  ]
}

function ignored({ ignored: list }: Tuning): Line[] {
  if (list.length === 0) return []
  return [
    line(''),
    line('proof:', 'findings about the data that were there when this was made'),
    line('  ignore:'),
    ...list.map(({ code, at, because }) =>
      line(`    - { code: ${code}${at === undefined ? '' : `, at: ${yamlText(at)}`}, because: ${yamlText(because)} }`),
    ),
  ]
}
