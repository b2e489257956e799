import type { Path, Problem } from './problem-error.js'

/**
 * Problems in the order of the file, without duplicates; those without a line come last, in the
 * order of discovery.
 */
export function inFileOrder(problems: readonly Problem[]): Problem[] {
  const seen = new Set<string>()
  const once = problems.filter((p) => {
    const key = `${p.message} ${JSON.stringify(p.place)}`
    return seen.has(key) ? false : seen.add(key)
  })
  const last = Number.MAX_SAFE_INTEGER
  return once.sort(
    (a, b) => (a.place.line ?? last) - (b.place.line ?? last) || (a.place.column ?? 0) - (b.place.column ?? 0),
  )
}

/**
 * Problems that only follow from another one: of a name with an invalid value, or of a misspelt
 * rule kind.
 */
export function withoutFollowUps(problems: readonly Problem[]): Problem[] {
  const isAt = (p: Problem, path: Path): boolean =>
    p.place.path !== undefined && path.every((step, i) => p.place.path?.[i] === step)
  const broken = (name: string): boolean =>
    problems.some((p) => isAt(p, ['parameters', name]) || isAt(p, ['measures', name]))
  return problems.filter((p) => {
    const { path = [] } = p.place
    if (p.code === 'unknown-name') return !broken(String(p.params.name))
    // A rule with an invalid kind, or a band with an unknown key, gets no further problem of a
    // missing part.
    if (p.code === 'one-kind' && (p.params.found as string[]).length > 0) return true
    const lacks = p.code === 'one-kind' || p.code === 'no-look' || p.code === 'empty-band'
    if (!lacks) return !isBesideRenamed(p, problems)
    return !problems.some(
      (q) => q !== p && isAt(q, path) && (q.place.path?.length ?? 0) > path.length && SHAPES.has(q.code),
    )
  })
}

const SHAPES: ReadonlySet<string> = new Set(['unknown-key', 'wrong-shape', 'not-one-of', 'missing-key', 'renamed'])

/** A missing key of an exhibit or split that only follows from a renamed key. */
function isBesideRenamed({ code, place: { path = [] } }: Problem, problems: readonly Problem[]): boolean {
  if (code !== 'wrong-shape' && code !== 'count-or-share') return false
  const around = code === 'count-or-share' ? path.slice(0, -1) : path
  return problems.some(
    (q) =>
      q.code === 'renamed' &&
      q.place.path?.length === around.length + 1 &&
      around.every((s, i) => q.place.path?.[i] === s),
  )
}
