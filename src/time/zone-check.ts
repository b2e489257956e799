import { type Path, ProblemError, problem } from '../problem/problem.js'
import { isZone } from './zone.js'

/** @throws ProblemError for an unknown time zone. */
export function mustBeZone(zone: string | undefined, path: Path): void {
  if (zone !== undefined && !isZone(zone)) throw new ProblemError([problem('bad-zone', { text: zone }, { path })])
}
