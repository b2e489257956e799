import type { Problem } from './problem.js'

/** Problems in the order of the file, none told twice; what has no line comes last, in the order it was found. */
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
