import { type Path, ProblemError, problem } from '../problem/problem.js'
import { isZone } from './zone.js'

/** @throws ProblemError for a text that is no time zone of the IANA database. */
export function mustBeZone(zone: string | undefined, path: Path): void {
  if (zone !== undefined && !isZone(zone)) throw new ProblemError([problem('bad-zone', { text: zone }, { path })])
}
