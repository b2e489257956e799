import type { BoundAggregate } from '../expression/bound.js'
import type { Engine, Question } from './contract.js'

/** The size of the cache in numbers, some 30 MB. */
const MAX_CACHED_NUMBERS = 4_000_000

interface CachedAnswer {
  answer: Promise<unknown>
  /** The size of the answer in numbers; 0 while it is pending. */
  size: number
}

/**
 * An engine with a cache: exhibits with the same question share one scan of the rows. The least
 * recently used answers are dropped first. Answers are never changed.
 */
export function cachedAnswers(engine: Engine): Engine {
  const kept = new Map<string, CachedAnswer>()
  let total = 0
  const drop = (key: string): void => {
    total -= kept.get(key)?.size ?? 0
    kept.delete(key)
  }
  const once = <T>(key: string, ask: () => Promise<T>, sizeOf: (answer: T) => number): Promise<T> => {
    const cached = kept.get(key)
    if (cached !== undefined) {
      // The most recently used entry is the last to be dropped.
      kept.delete(key)
      kept.set(key, cached)
      return cached.answer as Promise<T>
    }
    const entry: CachedAnswer = { answer: ask(), size: 0 }
    kept.set(key, entry)
    entry.answer.then(
      (answer) => {
        if (kept.get(key) !== entry) return
        entry.size = sizeOf(answer as T)
        total += entry.size
        for (const old of kept.keys()) {
          if (total <= MAX_CACHED_NUMBERS) break
          drop(old)
        }
      },
      () => drop(key),
    )
    return entry.answer as Promise<T>
  }
  return {
    ...engine,
    ask: (question) =>
      once(
        questionKey('ask', question),
        () => engine.ask(question),
        ({ groups }) => groups * (1 + question.keys.length + question.fields.length + 2 * question.parts.length),
      ),
    askWhole: (question, part) =>
      once(
        questionKey('whole', { ...question, parts: [part] }),
        () => engine.askWhole(question, part),
        ({ values }) => values.length * (1 + question.keys.length),
      ),
    stats: () =>
      once(
        'survey',
        () => engine.stats(),
        () => 0,
      ),
    withColumns: (more) => cachedAnswers(engine.withColumns(more)),
  }
}

/** The key of a question; a span without an end differs from one without a start. */
function questionKey(kind: string, { keys, parts, fields, where, span }: Question): string {
  const aggregates = parts.map(({ statistic, of, where, share }: BoundAggregate) => [statistic, of, where, share])
  return JSON.stringify([kind, keys, aggregates, fields, where, span], (_, value: unknown) =>
    typeof value === 'number' && !Number.isFinite(value) ? String(value) : value,
  )
}
