import { addsUp, type Bound, operandsOf, walk } from '../expression/bound.js'
import { unfinishedSince } from '../report/answer/value.js'
import type { AnsweredExhibit, DecidedReport } from '../report/model/answered.js'
import type { BoundReport } from '../report/model/bound.js'
import type { BoundRule } from '../rule/model.js'
import { finding, type ProofFinding } from './finding.js'

/** Rules with limits for whole periods that judge cells of a period that is not over. */
export function unfinishedJudged({ report, exhibits }: DecidedReport): ProofFinding[] {
  const findings: ProofFinding[] = []
  for (const answered of exhibits) {
    const { exhibit, levels } = answered
    if (exhibit.unfinished !== undefined || exhibit.records !== undefined) continue
    const keys = unfinishedKeys(answered)
    if (keys.length === 0) continue
    const rules = new Set(
      levels.decided().flatMap(({ cells, result }) => {
        const split = keys.some((key) => cells.keys.includes(key))
        return split ? result.results.filter(({ classes }) => classes.some((c) => c >= 0)).map(({ rule }) => rule) : []
      }),
    )
    for (const rule of rules)
      if (!rule.skipsUnfinished && isForWholePeriods(report, rule))
        findings.push(
          finding('unfinished-judged', {
            at: `${exhibit.name} ${rule.name}`,
            message: `the limits of ${rule.name} are for whole periods, and ${exhibit.name} has a ${keys.join(' and a ')} that ${keys.length > 1 ? 'are' : 'is'} not over`,
            path: ['rules', rule.index],
          }),
        )
  }
  return findings
}

/** The time keys of an exhibit with a period that ends after the date of the report. */
function unfinishedKeys({ summary: { rows, columns }, asOf }: AnsweredExhibit): string[] {
  return [rows, columns].flatMap((axis) =>
    axis.keys.flatMap(({ name, domain }, k) =>
      axis.depths[k + 1].some(({ codes }) => unfinishedSince(domain, codes[k], asOf) !== undefined) ? [name] : [],
    ),
  )
}

/**
 * Whether a limit is for whole periods: a plan by month or longer, or a number beside a measure
 * that adds up over time.
 */
function isForWholePeriods(report: BoundReport, rule: BoundRule): boolean {
  const measure = report.measures.get(rule.measure)
  if (measure === undefined || rule.judge !== undefined) return false
  const adds = (name: string): boolean => {
    const bound = report.measures.get(name)?.bound
    return bound !== undefined && addsUp(bound, adds)
  }
  const grown = addsUp(measure.bound, adds) && !readsPeriods(report, measure.bound)
  return grown && rule.kind.expressions(rule.plan).some((limit) => isNumber(limit) || readsPeriods(report, limit))
}

/** A written number other than 0, or a parameter, and nothing else. */
function isNumber(limit: Bound): boolean {
  let written = false
  let read = false
  walk(limit, (part) => {
    if (part.op === 'number' && part.value !== 0) written = true
    if (part.op === 'name' && part.ref.kind === 'parameter') written = true
    else if (part.op === 'name' && part.ref.kind !== 'value') read = true
    if (part.op === 'aggregate' || part.op === 'beside') read = true
  })
  return written && !read
}

/** Whether an expression adds rows of a source by month or longer, not prorated. */
function readsPeriods(report: BoundReport, bound: Bound): boolean {
  if (bound.op === 'aggregate') {
    const source = report.sources.find(({ name }) => name === bound.source)
    return source?.date !== undefined && source.grain !== 'day'
  }
  if (bound.op === 'moved' && (bound.step.kind === 'finished' || bound.step.kind === 'begun')) return false
  if (bound.op === 'name' && bound.ref.kind === 'measure') {
    const measure = report.measures.get(bound.ref.name)
    return measure !== undefined && readsPeriods(report, measure.bound)
  }
  return operandsOf(bound).some((part) => readsPeriods(report, part))
}
