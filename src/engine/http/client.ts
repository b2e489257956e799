import { parse } from 'devalue'
import type { Column } from '../../column/column.js'
import { merges } from '../../column/statistic.js'
import type { Bound } from '../../expression/bound.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import { checkShape } from '../../shape/shape.js'
import type {
  DerivedColumn,
  Engine,
  EngineOptions,
  GroupedAnswer,
  Question,
  RemoteTable,
  SourceStats,
  UnmergedAnswer,
} from '../../summary/contract.js'
import { type Better, createTable, type TableColumn } from '../../table/table.js'
import { CIVIL_CALENDAR } from '../../time/calendar.js'
import { rowText } from './row-text.js'
import { columnOf, typeOf, wireType, wireValues } from './types.js'
import { COLUMNS, type EngineRequest, type WireColumns, type WireDerived, type WireQuestion } from './wire.js'

/** How a server is asked. */
export interface HttpEngineOptions {
  /** Sends a request; default: the `fetch` of the platform. */
  fetch?: (url: string, request: RequestInit) => Promise<Response>
  /** More headers, such as an authorization. */
  headers?: Readonly<Record<string, string>>
}

/**
 * A source whose rows stay on a server: the other side of `engineHandler`. Give it to `openReport`
 * under the name of its source, as a table of a database; only groups and their statistics are
 * transferred.
 *
 * @param url where the handler answers.
 * @throws ProblemError where it does not, or is something else.
 */
export async function engineOverHttp(url: string, options: HttpEngineOptions = {}): Promise<RemoteTable> {
  checkShape('text', url, ['url'])
  checkShape({ keys: { 'fetch?': 'function', 'headers?': { each: 'text' } } }, options, ['options'])
  const ask = asker(url, options)
  const described = await ask<WireColumns>({ call: 'columns' })
  checkShape(COLUMNS, described, ['answer'])
  const columns = described.columns.map(
    ({ name, label, format, better, ...type }): TableColumn => ({
      name,
      label,
      column: columnOf(type.kind, []),
      type: typeOf(type),
      ...(format !== undefined && { format }),
      ...(better !== undefined && { better: better as Better }),
    }),
  )
  return {
    table: createTable(0, columns),
    nearly: new Map(),
    grains: new Map(described.grains),
    ...(described.currencies.length > 0 && { currencies: new Map(described.currencies) }),
    notes: [],
    connect: (fields, _types, engineOptions) => httpEngine(ask, fields, engineOptions, described.records),
  }
}

type Ask = <T>(request: EngineRequest) => Promise<T>

function asker(url: string, { fetch: own, headers = {} }: HttpEngineOptions): Ask {
  const send = own ?? ((to: string, request: RequestInit) => fetch(to, request))
  return async <T>(request: EngineRequest): Promise<T> => {
    let response: Response
    let text: string
    try {
      response = await send(url, {
        method: 'POST',
        body: JSON.stringify(request),
        headers: { 'content-type': 'application/json', ...headers },
      })
      text = await response.text()
    } catch (error) {
      const detail = error instanceof Error ? error.message : String(error)
      throw new ProblemError([problem('http-unreachable', { url, detail })])
    }
    try {
      if (response.ok) return parse(text) as T
      const { problems } = JSON.parse(text) as { problems: Problem[] }
      if (Array.isArray(problems) && problems.every(isProblem)) throw new ProblemError(problems)
    } catch (error) {
      if (error instanceof ProblemError) throw error
    }
    throw new ProblemError([problem('http-unreachable', { url, detail: `it answered with status ${response.status}` })])
  }
}

/** A problem of the server, with the place where it was found there left out. */
function isProblem(value: unknown): value is Problem {
  const { code, message, place } = (value ?? {}) as Partial<Problem>
  return typeof code === 'string' && typeof message === 'string' && typeof place === 'object' && place !== null
}

function httpEngine(
  ask: Ask,
  fields: ReadonlyMap<string, Bound>,
  { date, calendar = CIVIL_CALENDAR }: EngineOptions,
  records: boolean,
  derived: readonly WireDerived[] = [],
): Engine {
  const source = {
    ...(date !== undefined && { date }),
    ...(calendar.yearStarts !== 1 && { yearStarts: calendar.yearStarts }),
    ...(fields.size > 0 && { fields: [...fields].map(([name, bound]) => ({ name, text: rowText(bound) })) }),
    ...(derived.length > 0 && { derived }),
  }
  return {
    async ask(question) {
      const answer = await ask<GroupedAnswer>({ call: 'ask', ...source, question: wireQuestion(question) })
      return checkedGroups(answer, question)
    },
    async askWhole(question, part) {
      const one = { ...question, parts: [part] }
      const answer = await ask<UnmergedAnswer>({ call: 'askWhole', ...source, question: wireQuestion(one) })
      const { keys, values } = answer
      if (!(values instanceof Float64Array)) throw wrongAnswer()
      checkKeys(keys, question.keys, values.length)
      return answer
    },
    stats: () => ask<SourceStats>({ call: 'stats', ...source }),
    ...(records && {
      async records(question) {
        const all: Question = { keys: [], parts: [], fields: [], ...question }
        const answer = await ask<{ columns: WireRows; numbers: Float64Array }>({
          call: 'records',
          ...source,
          question: wireQuestion(all),
        })
        const columns = answer.columns.map(
          ({ name, label, values, decimals, ...type }): TableColumn => ({
            name,
            label,
            column: columnOf(type.kind, values),
            type: typeOf(type),
            ...(decimals !== undefined && { decimals }),
          }),
        )
        return { table: createTable(answer.numbers.length, columns), numbers: answer.numbers }
      },
    }),
    withColumns: (more) =>
      httpEngine(ask, fields, { calendar, ...(date !== undefined && { date }) }, records, [
        ...derived,
        ...more.map(wireDerived),
      ]),
  }
}

type WireRows = readonly (WireColumns['columns'][number] & { values: readonly unknown[]; decimals?: number | null })[]

function wireQuestion({ keys, parts, fields, where, span }: Question): WireQuestion {
  return {
    keys,
    parts: parts.map((part) => ({
      statistic: part.statistic,
      share: part.share,
      ...(part.of && { of: rowText(part.of) }),
      ...(part.where && { where: rowText(part.where) }),
    })),
    fields,
    where: where.map(rowText),
    ...(span && { span: [Number.isFinite(span.from) ? span.from : null, span.to] as const }),
  }
}

function wireDerived(column: DerivedColumn): WireDerived {
  if ('same' in column) return column
  const { name, by, rows, column: values, type, decimals } = column
  const { words, days } = rows
  return {
    name,
    by,
    words,
    ...(days && { days: Array.from(days.from, (from, i) => [from, days.to[i]] as const) }),
    ...wireType(type),
    values: wireValues(values as Column),
    ...(decimals !== undefined && { decimals }),
  }
}

function wrongAnswer(): ProblemError {
  return new ProblemError([problem('http-answer', {})])
}

/** Refuses an answer that is not one to this question: what it holds is used as an index. */
function checkedGroups(answer: GroupedAnswer, { keys, parts, fields }: Question): GroupedAnswer {
  const { groups } = answer
  const isWhole =
    Number.isInteger(groups) &&
    answer.rows instanceof Float64Array &&
    answer.rows.length === groups &&
    answer.parts?.length === parts.length &&
    answer.decimals?.length === parts.length &&
    parts.every((part, i) => !merges(part.statistic) || answer.parts[i]?.count?.length === groups)
  if (!isWhole) throw wrongAnswer()
  checkKeys(answer.keys, keys, groups)
  checkKeys(answer.fields, fields, groups)
  return answer
}

function checkKeys(found: GroupedAnswer['keys'], names: readonly string[], groups: number): void {
  if (found?.length !== names.length) throw wrongAnswer()
  found.forEach(({ name, codes, domain }, k) => {
    const size = domain?.kind === 'text' ? domain.words.length : domain?.kind === 'time' ? domain.periods.length : -1
    if (name !== names[k] || !(codes instanceof Int32Array) || codes.length !== groups) throw wrongAnswer()
    for (const code of codes) if (code >= size) throw wrongAnswer()
  })
}
