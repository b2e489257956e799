import { nearest } from '../../problem/nearest.js'
import { ProblemError, problem } from '../../problem/problem.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'
import { headingsFor, type Place, placesFor, placesOf } from './cells.js'

/** One exhibit of a decided report; throws for an unknown name. */
function exhibitNamed(decided: DecidedReport, name: string): AnsweredExhibit {
  const decidedExhibit = decided.exhibits.find(({ exhibit }) => exhibit.name === name)
  if (decidedExhibit !== undefined) return decidedExhibit
  const candidates = decided.exhibits.map(({ exhibit }) => exhibit.name)
  throw new ProblemError([problem('unknown-exhibit', { name, nearest: nearest(name, candidates), known: candidates })])
}

/**
 * The cells that match keys; keys that are left out are summed over. A row key in place of a
 * measure selects its headings.
 *
 * @throws ProblemError where the exhibit, the measure or a key is not there, or no cell fits.
 */
export function placeAsked(
  decided: DecidedReport,
  exhibitName: string,
  measure: string,
  keys: Readonly<Record<string, string>>,
): { answered: AnsweredExhibit; fitting: Place[]; one: Place | undefined } {
  const answered = exhibitNamed(decided, exhibitName)
  const { exhibit } = answered
  const heading = !exhibit.show.includes(measure) && exhibit.rows.includes(measure)
  if (!exhibit.show.includes(measure) && !heading)
    throw new ProblemError([
      problem('unknown-measure', { name: measure, nearest: nearest(measure, exhibit.show), known: exhibit.show }),
    ])
  const candidates = [...exhibit.rows, ...exhibit.columns]
  const strange = Object.keys(keys).filter((key) => !candidates.includes(key))
  if (strange.length > 0)
    throw new ProblemError(
      strange.map((name) =>
        problem('unknown-key-of', {
          name,
          exhibit: exhibitName,
          nearest: nearest(name, candidates),
          known: candidates,
        }),
      ),
    )
  if (heading) {
    if (answered.levels.headings(exhibit.rows.indexOf(measure) + 1) === undefined)
      throw new ProblemError([problem('heading-unpainted', { key: measure, exhibit: exhibitName })])
    const fitting = headingsFor(answered, measure, keys)
    if (fitting.length > 0) return { answered, fitting, one: fitting.length === 1 ? fitting[0] : undefined }
  }
  const places = placesFor(answered, keys)
  if (places.fitting.length > 0) return { answered, ...places }
  const [key, value] = Object.entries(keys)[0] ?? ['', '']
  const values = new Set(
    placesOf(answered).flatMap((p) => p.keys.filter((k) => k.name === key).map((k) => k.value ?? '')),
  )
  const place = Object.entries(keys).map(([k, v]) => `${k}=${v}`)
  throw new ProblemError([problem('unknown-cell', { place: place.join(' ') || value, known: [...values] })])
}
