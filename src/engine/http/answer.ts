import type { Statistic } from '../../column/statistic.js'
import { bindAs, bindExpression, didBind, type Setting } from '../../expression/bind.js'
import type { Bound, BoundAggregate, Type } from '../../expression/bound.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, ProblemError, problem } from '../../problem/problem.js'
import type { Question } from '../../summary/contract.js'
import { columnNames } from '../../table/fields.js'
import { isTimeUnit } from '../../time/period.js'
import { bounded, type Prepared } from './prepare.js'
import { wireType, wireValues } from './types.js'
import type { EngineRequest, WirePart, WireQuestion } from './wire.js'

const MOST_KEYS = 12
const MOST_PARTS = 2000
const MOST_CONDITIONS = 200
/** Days that a span may name: some years beyond the first and the last that a date can have. */
const LAST_DAY = 10_000_000

/** The answer to a request, after all that it names was found among the columns. */
export async function answerQuestion(
  prepared: Prepared,
  { call, question }: EngineRequest,
  { records, maxGroups }: { records: boolean; maxGroups: number },
): Promise<unknown> {
  const { engine } = prepared
  if (call === 'stats') return engine.stats()
  if (question === undefined) throw new ProblemError([problem('http-request', { detail: 'it has no question' })])
  const asked = bindQuestion(prepared, question)
  if (call === 'records') {
    if (!records || engine.records === undefined) throw new ProblemError([problem('http-records', {})])
    const { table, numbers } = await engine.records({ where: asked.where, ...(asked.span && { span: asked.span }) })
    bounded('rows of the answer', table.length, maxGroups)
    const columns = [...table.columns.values()].map(({ name, label, type, column, decimals }) => ({
      name,
      label,
      ...wireType(type),
      values: wireValues(column),
      ...(decimals !== undefined && { decimals }),
    }))
    return { columns, numbers }
  }
  if (call === 'askWhole') {
    const [part] = asked.parts
    if (part === undefined) throw new ProblemError([problem('http-request', { detail: 'its question has no part' })])
    const answer = await engine.askWhole({ ...asked, parts: [] }, part)
    bounded('groups of the answer', answer.values.length, maxGroups)
    return answer
  }
  const answer = await engine.ask(asked)
  bounded('groups of the answer', answer.groups, maxGroups)
  return answer
}

function bindQuestion({ table, calendar, date }: Prepared, question: WireQuestion): Question {
  bounded('keys', question.keys.length + question.fields.length, MOST_KEYS + MOST_PARTS)
  bounded('keys', question.keys.length, MOST_KEYS)
  bounded('parts', question.parts.length, MOST_PARTS)
  bounded('conditions', question.where.length, MOST_CONDITIONS)
  const problems: Problem[] = []
  const known = [...table.columns.keys()]
  const names: readonly (readonly [Path, string, boolean])[] = [
    ...question.keys.map((name, i) => [['question', 'keys', i], name, true] as const),
    ...question.fields.map((name, i) => [['question', 'fields', i], name, false] as const),
  ]
  for (const [path, name, isKey] of names) {
    const isTime = isKey && isTimeUnit(name) && date !== undefined
    if (!isTime && !table.columns.has(name))
      problems.push(problem('unknown-column', { name, nearest: nearest(name, known), known }, { path }))
  }
  const setting: Setting = { what: 'a condition on rows', names: columnNames(table, ''), calendar }
  const bound = (text: string, path: Path, kind?: Type['kind']): Bound | undefined => {
    const result = kind === undefined ? bindExpression(text, setting) : bindAs(text, setting, kind, 'a condition')
    if (didBind(result)) return result.bound
    problems.push(...result.map((one) => ({ ...one, place: { ...one.place, path } })))
    return undefined
  }
  const parts = question.parts.map((part, i) => partOf(part, ['question', 'parts', i], bound, problems))
  const where = question.where.map((text, i) => bound(text, ['question', 'where', i], 'condition'))
  const span = spanOf(question, problems)
  if (problems.length > 0) throw new ProblemError(problems)
  return {
    keys: question.keys,
    parts: parts as BoundAggregate[],
    fields: question.fields,
    where: where as Bound[],
    ...(span && { span }),
  }
}

function partOf(
  { statistic: name, share, of: text, where: condition }: WirePart,
  path: Path,
  bound: (text: string, path: Path, kind?: Type['kind']) => Bound | undefined,
  problems: Problem[],
): BoundAggregate | undefined {
  const statistic = name as Statistic
  const of = text === undefined ? undefined : bound(text, [...path, 'of'])
  const where = condition === undefined ? undefined : bound(condition, [...path, 'where'], 'condition')
  const counts = statistic === 'count' || statistic === 'countDistinct'
  const isNumber = of !== undefined && (of.type.kind === 'number' || of.type.kind === 'blank')
  if (text === undefined && statistic !== 'count')
    problems.push(problem('http-request', { detail: `${statistic} has nothing to read` }, { path }))
  else if (of !== undefined && !counts && !isNumber)
    problems.push(problem('http-request', { detail: `${statistic} of what is no number` }, { path }))
  return {
    op: 'aggregate',
    statistic,
    share,
    key: JSON.stringify([name, share, text, condition]),
    type: { kind: 'number', unit: { is: 'none' } },
    ...(of && { of }),
    ...(where && { where }),
  }
}

function spanOf({ span }: WireQuestion, problems: Problem[]): Question['span'] {
  if (span === undefined) return undefined
  const [from, to] = span
  const isDay = (day: number): boolean => Number.isInteger(day) && Math.abs(day) <= LAST_DAY
  if (isDay(from ?? 0) && isDay(to)) return { from: from ?? Number.NEGATIVE_INFINITY, to }
  problems.push(problem('http-request', { detail: 'a span of days that no calendar has' }, { path: ['question'] }))
  return undefined
}
