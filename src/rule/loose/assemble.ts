import type { BandSpec, Limit, RuleSpec, Style } from '../../spec/rules.js'
import type { SentenceNames } from '../grammar/names.js'
import type { Chunk } from './chunk.js'

/** A clause: what is tested, and its result. */
export interface Clause {
  test: Extract<Chunk, { is: 'test' | 'missing' | 'otherwise' | 'rank' }>
  result: { status?: string; style?: Style }
}

type Part = Record<string, unknown>

/**
 * A rule made of the parts of a text; undefined where they make none: a test without a result, two
 * subjects, two kinds.
 */
export function ruleOf(chunks: readonly Chunk[], names: SentenceNames): RuleSpec | undefined {
  const rule: Part = {}
  const clauses = clausesOf(chunks)
  if (clauses === undefined) return undefined
  for (const chunk of chunks) if (!takeScope(rule, chunk)) return undefined
  const kind = kindOf(chunks, clauses)
  const subject = subjectOf(chunks, rule, names, clauses)
  if (kind === undefined || subject === undefined) return undefined
  return { ...subject, ...rule, ...kind } as unknown as RuleSpec
}

/** Scopes and extras; each once. */
function takeScope(rule: Part, chunk: Chunk): boolean {
  const put = (key: string, value: unknown): boolean => {
    if (key in rule) return false
    rule[key] = value
    return true
  }
  const list = (ids: readonly string[]): unknown => (ids.length === 1 ? ids[0] : ids)
  switch (chunk.is) {
    case 'grain':
    case 'within':
      return put(chunk.is, list(chunk.ids))
    case 'judge':
      return chunk.ids.length === 1 && put('judge', chunk.ids[0])
    case 'only':
      return put('only', chunk.ids)
    case 'extra':
      return Object.entries(chunk.keys).every(([key, value]) =>
        put(key, value === 'totals' ? ['subtotal', 'total'] : value),
      )
    default:
      return true
  }
}

/**
 * Tests with their results: a test stands before its result, or behind it where that comes first.
 */
function clausesOf(chunks: readonly Chunk[]): Clause[] | undefined {
  const clauses: Clause[] = []
  let test: Clause['test'] | undefined
  let result: Clause['result'] | undefined
  let isJoined = false
  for (const chunk of chunks) {
    if (chunk.is === 'and') {
      isJoined = true
      continue
    }
    if (chunk.is === 'test' || chunk.is === 'missing' || chunk.is === 'otherwise' || chunk.is === 'rank') {
      if (result !== undefined && test === undefined) {
        clauses.push({ test: chunk, result })
        result = undefined
      } else if (test === undefined) test = chunk
      else if (test.is === 'test' && chunk.is === 'test' && isJoined)
        test = { ...test, test: { ...test.test, ...chunk.test } }
      else return undefined
    } else if (chunk.is === 'result') {
      const own = {
        ...(chunk.status !== undefined && { status: chunk.status }),
        ...(chunk.style && { style: chunk.style }),
      }
      const last = clauses.at(-1)
      if (test !== undefined) {
        clauses.push({ test, result: own })
        test = undefined
      } else if (isJoined && last !== undefined && own.style !== undefined)
        last.result = { ...last.result, style: { ...last.result.style, ...own.style } }
      else if (result === undefined) result = own
      else return undefined
    }
    isJoined = false
  }
  return test === undefined && result === undefined ? clauses : undefined
}

function kindOf(chunks: readonly Chunk[], clauses: readonly Clause[]): Part | undefined {
  const shade = chunks.find((chunk) => chunk.is === 'shade')
  const bar = chunks.find((chunk) => chunk.is === 'bar')
  const columns = chunks.filter((chunk) => chunk.is === 'column')
  const ranks = clauses.filter(({ test }) => test.is === 'rank')
  if ([shade, bar, columns[0], clauses[0]].filter((one) => one !== undefined).length !== 1) return undefined
  if (shade?.is === 'shade') {
    const { colors, is: _, ...rest } = shade
    return { gradient: { ramp: colors[0] === 'bad' ? 'badToGood' : colors, ...rest } }
  }
  if (bar?.is === 'bar') {
    const { is: _, ...rest } = bar
    return { bar: rest }
  }
  if (columns.length > 0)
    return {
      fromColumn: Object.fromEntries(columns.map((one) => (one.is === 'column' ? [one.channel, one.column] : []))),
    }
  return ranks.length > 0 ? rankOf(clauses) : { bands: clauses.flatMap(bandsOf) }
}

/** A ladder of ranks is a split: the best half, the next fifth, the rest. */
export function rankOf(clauses: readonly Clause[]): Part | undefined {
  const [first, ...others] = clauses
  if (first.test.is !== 'rank') return undefined
  const { end, size, of } = first.test
  if (others.length === 0 && end !== 'split' && end !== 'making' && end !== 'next')
    return { rank: { [end]: size, ...first.result } }
  const parts: Part[] = [{ share: size, ...first.result }]
  for (const { test, result } of others) {
    if (test.is === 'otherwise') parts.push({ otherwise: result.status ?? result.style })
    else if (test.is === 'rank' && test.end === 'next') parts.push({ share: test.size, ...result })
    else return undefined
  }
  return end === 'bottom' || end === 'worst' ? undefined : { rank: { split: parts, ...(of !== undefined && { of }) } }
}

export function bandsOf({ test, result }: Clause): BandSpec[] {
  if (test.is === 'missing' || test.is === 'otherwise') {
    const outcome = result.status ?? result.style
    return [{ [test.is]: outcome } as BandSpec]
  }
  if (test.is !== 'test') return []
  const band = { ...test.test, ...result } as BandSpec
  if (test.both !== true) return [band]
  // Beyond a limit either way: above it, and below minus it.
  const [[key, limit]] = Object.entries(test.test) as [string, Limit][]
  const other = typeof limit === 'number' ? -limit : limit.startsWith('-') ? limit.slice(1) : `-${limit}`
  return [band, { [key === 'above' ? 'below' : 'atMost']: other, ...result } as BandSpec]
}

/** What is painted, and what decides: the name before the tests, or a key judged by it. */
function subjectOf(
  chunks: readonly Chunk[],
  rule: Part,
  { values }: SentenceNames,
  clauses: readonly Clause[],
): Part | undefined {
  const named = chunks.filter((chunk) => chunk.is === 'name')
  const isRows = chunks.some(({ is }) => is === 'rows')
  const isEvery = chunks.some(({ is }) => is === 'every')
  const lists = named.map((chunk) => (chunk.is === 'name' ? chunk.ids : []))
  const [first, second, ...more] = lists
  if (more.length > 0 || (isRows && isEvery)) return undefined
  const asOne = (ids: readonly string[]): unknown => (ids.length === 1 ? ids[0] : ids)
  if (isRows || isEvery) {
    if (second !== undefined || (first !== undefined && 'judge' in rule)) return undefined
    if (isEvery) return first === undefined ? { paint: 'all' } : undefined
    return first === undefined
      ? 'judge' in rule
        ? { paint: 'row' }
        : undefined
      : { paint: 'row', judge: asOne(first) }
  }
  if (first === undefined) return undefined
  const making = clauses.find(({ test }) => test.is === 'rank' && test.end === 'making')?.test
  const isKey = (ids: readonly string[]): boolean =>
    ids.every((id) => values.find((one) => one.id === id)?.is === 'key')
  if (making?.is === 'rank' && isKey(first) && second === undefined && !('judge' in rule))
    return { paint: asOne(first), judge: making.of }
  if (second === undefined) {
    // A key has no value of its own, except a text.
    const isTested = clauses.some(({ test }) => test.is === 'rank' || (test.is === 'test' && !('equals' in test.test)))
    return isKey(first) && isTested && !('judge' in rule) ? undefined : { paint: asOne(first) }
  }
  // What decides stands in front of its test.
  const at = chunks.indexOf(named[1])
  const behind = chunks[at + 1]?.is
  const isTested = behind === 'test' || behind === 'rank' || behind === 'missing'
  if ('judge' in rule || second.length !== 1 || !isTested) return undefined
  // The same name twice is one; another one decides.
  return asOne(first) === second[0] ? { paint: asOne(first) } : { paint: asOne(first), judge: second[0] }
}
