import type { SENTENCES } from '../problem/catalogue/sentences.js'
import type { Path, Place, Problem, ProblemCode } from '../problem/problem.js'
import { problem } from '../problem/problem.js'

/** Adds a problem at a place in the report tree. */
export type Tell = <C extends ProblemCode>(
  code: C,
  params: Parameters<(typeof SENTENCES)[C]>[0],
  at: Path,
  place?: Place,
) => void

export function createTell(problems: Problem[]): Tell {
  return (code, params, at, place = {}) => {
    problems.push(problem(code, params, { ...place, path: at }))
  }
}
