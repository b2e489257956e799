import { settle } from '../../column/decimals.js'
import { fromMoments } from '../../column/statistic.js'
import type { Bound, BoundAggregate } from '../../expression/bound.js'
import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import { periodPrinter } from '../../format/period.js'
import type { SourceControl } from '../../page/page.js'
import { problem } from '../../problem/control.js'
import { type Problem, ProblemError } from '../../problem/problem.js'
import { formatFor } from '../../rule/explain/print.js'
import type { Engine, SourceStats } from '../../summary/contract.js'
import type { Span } from '../../time/period.js'
import { repeats } from '../bind/stacked-values.js'
import type { BoundReport, BoundSource, Coverage, Gap, SourceFacts } from '../model/bound.js'
import { counted, rowsText } from './control-text.js'
import type { UnmatchedKeys } from './join-sources.js'

/**
 * The contents of each source beside what the report uses, so that a reader can check that nothing
 * was lost: all that does not depend on filters.
 */
export async function controlsOf(
  report: BoundReport,
  surveys: readonly SourceStats[],
  asOf: number | undefined,
  keys: readonly UnmatchedKeys[],
  coverage: Coverage,
): Promise<SourceFacts[]> {
  const { gaps, blanks } = coverage
  return Promise.all(
    report.sources.map(async (source, s) => {
      const { rows, undated, span } = surveys[s]
      const late =
        asOf === undefined || span === undefined || span.to <= asOf
          ? 0
          : rows - undated - (await counted(source, [], { from: span.from, to: asOf }))
      const unmatched = keys.flatMap((key) => (key.source === source.name ? [{ key: key.key, words: key.words }] : []))
      const totals = {
        source: source.name,
        from: source.from,
        rows,
        undated,
        late,
        unmatched,
        lacking: await lackingIn(
          report,
          gaps.filter((gap) => gap.source === source.name),
        ),
        blank: blanks.flatMap((blank) =>
          blank.source === source.name ? [{ column: blank.column, rows: blank.rows }] : [],
        ),
        sums: await sumsOf(report, source),
      }
      const words = controlText(report, totals, span, asOf)
      return { ...totals, words, notes: notesOf(source.name, surveys[s]) }
    }),
  )
}

/**
 * `sales: 27,872 rows of sales.csv, 1 July 2022 to 30 June 2025; revenue €4,542,326`, in two parts:
 * the excluded rows are printed between them.
 */
function controlText(
  report: BoundReport,
  { source, from, rows, undated, late, unmatched, lacking, blank, sums }: Omit<SourceControl, 'filtered' | 'text'>,
  span: Span | undefined,
  asOf: number | undefined,
): [string, string] {
  const count = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, report.locale)
  const date = periodPrinter(report.locale).date
  const plural = (n: number): string => rowsText(n, report.locale)
  let first = `${source}: ${plural(rows)}${from === '' || from === source ? '' : ` of ${from}`}`
  if (span !== undefined) first += `, ${date(span.from)} to ${date(span.to)}`
  const parts: string[] = []
  if (late > 0 && asOf !== undefined) parts.push(`${plural(late)} left out after ${date(asOf)}`)
  if (undated > 0) parts.push(`${plural(undated)} without a date`)
  for (const { key, words } of unmatched) parts.push(`${words.length} ${key} not in ${report.sources[0].name}`)
  const gone = lacking.reduce((n, { periods }) => n + Math.max(1, periods.length), 0)
  if (gone > 0)
    parts.push(`no rows for ${count(gone)} ${gone === 1 ? 'key' : 'keys'} that ${report.sources[0].name} has`)
  for (const { column, rows: empty } of blank)
    parts.push(`${count(empty)} of ${plural(rows)} ${empty === 1 ? 'has' : 'have'} no ${column}`)
  for (const { label, text } of sums) parts.push(`${label} ${text === '' ? 'missing' : text} over all rows`)
  return [first, parts.map((part) => `; ${part}`).join('')]
}

/** Messages about a source that a reader should see first. */
function notesOf(source: string, { rows, undated }: SourceStats): string[] {
  return [
    ...(rows === 0 ? [problem('note-no-rows', { source })] : []),
    ...(undated > 0 ? [problem('note-undated', { count: undated, source })] : []),
  ].map(({ message }) => message)
}

/** Keys and periods for which home has rows and a source has none, whatever the filters. */
async function lackingIn(report: BoundReport, gaps: readonly Gap[]): Promise<SourceControl['lacking']> {
  if (gaps.length === 0) return []
  const { lackingData, lackingOf } = await import('./gap-notes.js')
  return gaps.flatMap((gap) => lackingData(gap, lackingOf(report, gap, []), report.calendar))
}

/** The sum of each measure that is a plain sum, over all rows: before any period or condition. */
async function sumsOf(report: BoundReport, source: BoundSource): Promise<SourceControl['sums']> {
  const home = report.sources[0].name
  const sums: SourceControl['sums'][number][] = []
  for (const { name, label, bound, format, unit } of report.measures.values()) {
    if (bound.op !== 'aggregate' || bound.statistic !== 'sum' || (bound.source ?? home) !== source.name) continue
    const value = await total(source.engine, bound)
    // With all decimals, to be compared with another system.
    const { digits: _, ...plain } = { ...formatFor(format, unit), compact: false, signed: false }
    const print = numberPrinter(plain, report.locale)
    sums.push({ measure: name, label, value, text: print(value ?? Number.NaN) })
  }
  return sums
}

async function total(engine: Engine, part: BoundAggregate): Promise<number | null> {
  const { parts, groups, decimals } = await engine.ask({ keys: [], parts: [part], fields: [], where: [] })
  const [moments] = parts
  if (moments === undefined) return null
  // An engine may answer in several groups; sums of cents are exact far beyond the size of a
  // report.
  const values = fromMoments(part.statistic, moments, decimals[0])
  let sum = 0
  let some = false
  for (let g = 0; g < groups; g++) {
    if (Number.isNaN(values[g])) continue
    sum += values[g]
    some = true
  }
  return some ? settle(sum, decimals[0]) : null
}

/** Data that differ from the expected control totals are refused before anything is painted. */
export async function checkExpected(report: BoundReport, surveys: readonly SourceStats[]): Promise<void> {
  const problems: Problem[] = []
  for (const [s, source] of report.sources.entries())
    for (const [name, expected] of Object.entries(source.expect)) {
      const all = name === 'rows' ? surveys[s].rows : await total(source.engine, sumOf(name))
      // Columns that were not stacked are repeated on several rows; the expected sum counts them
      // once.
      const times = name === 'rows' ? 1 : repeats(source.stack, name)
      const settled = all === null ? null : settle(all / times, undefined)
      if (settled !== null && settled === settle(expected, undefined)) continue
      const params = {
        what: name === 'rows' ? 'rows' : `the sum of ${name}`,
        source: source.name,
        // As written in a report.
        found: settled === null ? 'missing' : String(settled),
        expected: String(expected),
      }
      problems.push(problem('not-expected', params, { path: ['sources', source.name, 'expect', name] }))
    }
  if (problems.length > 0) throw new ProblemError(problems)
}

function sumOf(name: string): BoundAggregate {
  const type = { kind: 'number', unit: { is: 'none' } } as const
  const of: Bound = { op: 'name', ref: { kind: 'field', name }, type }
  return { op: 'aggregate', statistic: 'sum', of, share: 0.5, key: `sum(${name})`, type }
}
