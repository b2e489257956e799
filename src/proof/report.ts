import type { Edit } from '../edit/edits.js'
import { type Bound, referencesOf, walk } from '../expression/bound.js'
import type { ReportFile } from '../file/report-file.js'
import { problem } from '../problem/problem.js'
import { phraseContextOf } from '../report/answer/facts.js'
import { lackingOf, lackingText } from '../report/answer/gap-notes.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { FromColumnPlan } from '../rule/kinds/from-column/run.js'
import type { BoundRule } from '../rule/model.js'
import { flagNames } from '../style/flag.js'
import { isTimeUnit } from '../time/period.js'
import { finding, markIgnored, type ProofFinding } from './finding.js'
import { fixEdits } from './fixes.js'
import { lookupFindings } from './lookups.js'
import { unlikeSums } from './pairs.js'
import { proofSubject } from './proof.js'
import type { Subject } from './subject.js'
import { unfinishedJudged } from './unfinished.js'

/** A finding with its place in the report file. */
export type PlacedFinding = ProofFinding & {
  file?: string
  line?: number
  /** The edits that fix it; left out where somebody has to decide. */
  edits?: readonly Edit[]
}

/**
 * Finds everything wrong or risky in a report: its rules, styles and names. In the order of the
 * file for each code.
 */
export async function proofReport(decided: DecidedReport, file: ReportFile): Promise<PlacedFinding[]> {
  const { spec } = file
  const ignored = spec?.proof?.ignore ?? []
  const findings = [
    ...proofSubject(subjectOf(decided)),
    ...unusedStatuses(decided),
    ...unusedParameters(decided),
    ...datedConditions(decided),
    ...shadows(decided),
    ...lackingRows(decided),
    ...(await lookupFindings(decided)),
    ...blankAmounts(decided),
    ...unlikeSums(decided),
    ...unfinishedJudged(decided),
  ]
  return markIgnored(findings, ignored).map((finding) => {
    if (finding.path === undefined) return finding
    const { place } = file.place(problem('internal', { why: '' }, { path: finding.path }))
    const edits = place.file === file.file ? fixEdits(finding, { ...spec }) : []
    return {
      ...finding,
      ...(edits.length > 0 && { edits }),
      ...(place.file === undefined ? {} : { file: place.file }),
      ...(place.line === undefined ? {} : { line: place.line }),
    }
  })
}

function subjectOf(decided: DecidedReport): Subject {
  const { report } = decided
  return {
    facts: phraseContextOf(report),
    palette: report.palette,
    measures: report.measureFacts,
    rules: report.rules,
    levels: decided.exhibits.flatMap(({ exhibit, levels }) =>
      levels.decided().map(({ cells, result }) => ({
        exhibit: exhibit.name,
        kind: exhibit.kind,
        cells,
        result,
        show: cells.part === 'headings' ? [] : exhibit.show,
        hidden: exhibit.hide,
      })),
    ),
  }
}

function unusedStatuses({ report }: DecidedReport): ProofFinding[] {
  const used = new Set(report.rules.flatMap((rule) => rule.effects.map((given) => given.status)))
  // A column of statuses may name any of them.
  const named = ({ kind, plan }: BoundRule): boolean =>
    kind.key === 'fromColumn' && (plan as FromColumnPlan).columns.some(({ channel }) => channel === 'status')
  if (report.rules.some(named)) return []
  return Object.keys(report.statuses)
    .filter((name) => !used.has(name))
    .map((name) =>
      finding('unused-status', { at: name, message: `no rule gives the status ${name}`, path: ['statuses', name] }),
    )
}

function unusedParameters({ report, bound: { exhibits } }: DecidedReport): ProofFinding[] {
  const read = new Set<string>()
  const look = (bound: Bound): void => {
    walk(bound, (part) => {
      if (part.op === 'name' && part.ref.kind === 'parameter') read.add(part.ref.name)
    })
  }
  for (const rule of report.rules) {
    for (const bound of rule.kind.expressions(rule.plan)) look(bound)
    for (const part of [rule.judge, rule.where, rule.among]) if (part !== undefined) look(part.bound)
    for (const { flag } of rule.effects) for (const name of flagNames(flag ?? '')) read.add(name)
  }
  for (const measure of report.measures.values()) look(measure.bound)
  for (const exhibit of report.exhibits) for (const line of exhibit.chart?.references ?? []) look(line.bound)
  // In an answered exhibit their values are filled in.
  for (const exhibit of exhibits) for (const condition of exhibit.where) look(condition)
  return [...report.parameters.keys()]
    .filter((name) => !read.has(name))
    .map((name) =>
      finding('unused-parameter', {
        at: name,
        message: `nothing reads the parameter ${name}`,
        path: ['parameters', name],
      }),
    )
}

/** A condition on dates also cuts earlier periods, unlike `period`. */
function datedConditions({ report }: DecidedReport): ProofFinding[] {
  const back = [...report.measures.values()].filter((measure) => {
    let moved = false
    walk(measure.bound, (part) => {
      if (part.op === 'moved') moved = true
    })
    return moved
  })
  if (back.length === 0) return []
  const dates = new Set(report.sources.flatMap((source) => source.date ?? []))
  const dated = (bound: Bound): boolean =>
    referencesOf(bound).some((ref) => isTimeUnit(ref.name) || dates.has(ref.name))
  const names = back.map((measure) => measure.label).join(', ')
  const findings: ProofFinding[] = []
  if (report.where.some(dated))
    findings.push(
      finding('dated-condition', {
        at: 'where',
        message: `the report has a condition on a date, and ${names} reads an earlier period`,
        path: ['where'],
      }),
    )
  report.exhibits.forEach((exhibit) => {
    if (!exhibit.where.some(dated)) return
    const path = ['exhibits', exhibit.index, 'where']
    findings.push(
      finding('dated-condition', {
        at: exhibit.name,
        message: `it has a condition on a date, and ${names} reads an earlier period`,
        path,
      }),
    )
  })
  return findings
}

/** Keys and periods for which a further source has no rows. */
function lackingRows({ report }: DecidedReport): ProofFinding[] {
  const [home] = report.sources
  return (report.coverage?.gaps ?? []).flatMap((gap) => {
    const lacking = lackingOf(report, gap, report.where)
    const count = lacking.reduce((n, { periods }) => n + Math.max(1, periods.length), 0)
    if (count === 0) return []
    const message = `${gap.source} has no rows where ${home.name} has some: ${lackingText(gap, lacking, report)}`
    return [finding('source-gap', { at: gap.source, message, numbers: { count }, path: ['sources', gap.source] })]
  })
}

/** Summed columns with empty values. */
function blankAmounts({ report }: DecidedReport): ProofFinding[] {
  return (report.coverage?.blanks ?? []).map(({ source, column, rows, of }) =>
    finding('blank-amounts', {
      at: `${source}.${column}`,
      message: `${rows.toLocaleString('en')} of ${of.toLocaleString('en')} rows of ${source} have no ${column}`,
      numbers: { rows, of },
      path: ['sources', source],
    }),
  )
}

/** Names of the report that are also columns of a source. */
function shadows({ report }: DecidedReport): ProofFinding[] {
  const [home] = report.sources
  const columns = home.table.columns
  const defined: [string, string][] = [
    ...[...report.measures.keys()].map((name): [string, string] => ['measures', name]),
    ...[...report.parameters.keys()].map((name): [string, string] => ['parameters', name]),
  ]
  // `amount: sum(amount)` is made of its column: the name hides nothing else.
  const isDerived = (name: string): boolean =>
    referencesOf(report.measures.get(name)?.bound ?? { op: 'truth', value: true, type: { kind: 'condition' } }).some(
      (ref) => ref.name === name,
    )
  return defined.flatMap(([root, name]) =>
    columns.has(name) && !isDerived(name) && !home.fields.has(name)
      ? [
          finding('name-shadows', {
            at: name,
            message: `${name} is ${root === 'measures' ? 'a measure' : 'a parameter'} here and a column of ${home.name}`,
            path: [root, name],
          }),
        ]
      : [],
  )
}
