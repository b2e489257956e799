import { type Path, type Problem, problem } from '../problem/problem.js'

/** The problem of an edit whose place the report does not have. */
export function nothingAt(path: Path): Problem {
  return problem('edit-nothing', {}, { path })
}
