import { type CommonCode, type Path, type Place, type Problem, type ProblemParams, problem } from './problem.js'

/** Where problems are reported: a place in what is checked, and the list that they go to. */
export class Diagnostics {
  constructor(
    readonly problems: Problem[],
    readonly path: Path = [],
  ) {}

  /** The same list, further in: `diagnostics.at('rules', 2)`. */
  at(...keys: Path): Diagnostics {
    return keys.length === 0 ? this : new Diagnostics(this.problems, [...this.path, ...keys])
  }

  /** The same list, at another key of the same map. */
  beside(key: string): Diagnostics {
    return new Diagnostics(this.problems, [...this.path.slice(0, -1), key])
  }

  /** Adds a problem here; `place` is where in a text that stands here. */
  report<C extends CommonCode>(code: C, params: ProblemParams<C>, place: Place = {}): void {
    this.problems.push(problem(code, params, { ...place, path: this.path }))
  }

  /** Adds problems that were found in a text that stands here. */
  take(problems: readonly Problem[]): void {
    for (const problem of problems) this.problems.push({ ...problem, place: { ...problem.place, path: this.path } })
  }
}
