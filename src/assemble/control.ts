import { settle } from '../column/decimals.js'
import { fromMoments } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import { numberPrinter } from '../format/format.js'
import type { SourceControl } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { problem } from '../problem/rare.js'
import { formatFor } from '../rule/print.js'
import type { Engine, Survey } from '../summary/engine.js'
import type { BoundReport } from './bind.js'
import { counted, type SourceFacts } from './control-text.js'
import type { Coverage, Gap } from './coverage.js'
import { type BoundSource, sourceText } from './joined.js'
import { repeats } from './stacked.js'

/**
 * What each source holds beside what counts, so that a reader can tell that nothing was lost on the way: all that does not depend on what the
 * report is narrowed by. Other data than those that are expected are refused before.
 */
export async function controlsOf(
  report: BoundReport,
  surveys: readonly Survey[],
  asOf: number | undefined,
  joined: readonly Problem[],
  { gaps, blanks }: Coverage,
): Promise<SourceFacts[]> {
  await checkExpected(report, surveys)
  return Promise.all(
    report.sources.map(async (source, s) => {
      const { rows, undated, span } = surveys[s]
      const late =
        asOf === undefined || span === undefined || span.to <= asOf
          ? 0
          : rows - undated - (await counted(source, [], { from: span.from, to: asOf }))
      const unmatched = joined.flatMap((p) =>
        p.code === 'note-unmatched' && p.params.source === source.name
          ? [{ key: p.params.key, words: [...p.params.words] }]
          : [],
      )
      return {
        source: source.name,
        from: sourceText(report.spec.sources[source.name]),
        rows,
        undated,
        late,
        unmatched,
        lacking: await lackingIn(
          report,
          gaps.filter((gap) => gap.source === source.name),
        ),
        blank: blanks.flatMap((own) => (own.source === source.name ? [{ column: own.column, rows: own.rows }] : [])),
        sums: await sumsOf(report, source),
      }
    }),
  )
}

/** Keys and periods that home has rows for and a source has none, whatever the report narrows. */
async function lackingIn(report: BoundReport, gaps: readonly Gap[]): Promise<SourceControl['lacking']> {
  if (gaps.length === 0) return []
  const { lackingData, lackingOf } = await import('./gap-notes.js')
  return gaps.flatMap((gap) => lackingData(gap, lackingOf(report, gap, []), report.starts))
}

/** The sum over all rows of each measure that is one: before any period or condition of the report. */
async function sumsOf(report: BoundReport, source: BoundSource): Promise<SourceControl['sums']> {
  const home = report.sources[0].name
  const sums: SourceControl['sums'][number][] = []
  for (const { name, label, bound, format, unit } of report.measures.values()) {
    if (bound.op !== 'aggregate' || bound.statistic !== 'sum' || (bound.source ?? home) !== source.name) continue
    const value = await total(source.engine, bound)
    // To the cent, whatever is shown elsewhere: it is to be compared with another system's.
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
  // An engine may answer in several groups; sums of cents are exact far beyond what a report holds.
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

/** Other data than those that are expected are refused before anything is painted. */
async function checkExpected(report: BoundReport, surveys: readonly Survey[]): Promise<void> {
  const problems: Problem[] = []
  for (const [s, source] of report.sources.entries())
    for (const [name, expected] of Object.entries(report.spec.sources[source.name].expect ?? {})) {
      const all = name === 'rows' ? surveys[s].rows : await total(source.engine, sumOf(name))
      // What was not stacked stands on several rows, and is expected once.
      const times = name === 'rows' ? 1 : repeats(report.spec.sources[source.name].stack, name)
      const found = all === null ? null : settle(all / times, undefined)
      if (found !== null && found === settle(expected, undefined)) continue
      const params = {
        what: name === 'rows' ? 'rows' : `the sum of ${name}`,
        source: source.name,
        // As one would write it in the report.
        found: found === null ? 'missing' : String(found),
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
