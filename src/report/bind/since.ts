import type { Diagnostics } from '../../problem/diagnostics.js'
import type { Path } from '../../problem/problem.js'
import type { ReportSpec } from '../../spec/report.js'
import { earlierDay } from '../../time/earlier-day.js'
import type { BoundExhibit, Settings } from '../model/bound.js'

/**
 * The exhibits with the earlier date that each is compared with: that of the settings, its own, or
 * that of the report. Lists repeat cells of others and are not compared. Whether a date is inside
 * the data is known when the report is answered.
 */
export function bindSince(
  exhibits: readonly BoundExhibit[],
  spec: ReportSpec,
  settings: Settings,
  hasDates: boolean,
  diagnostics: Diagnostics,
): readonly BoundExhibit[] {
  const checked = (text: string | undefined, path: Path): { text: string; path: Path } | undefined => {
    if (text === undefined) return undefined
    const at = diagnostics.at(...path)
    // Any day will do to check the text.
    if (earlierDay(text, 0) === undefined) at.report('bad-since', { text })
    if (!hasDates) at.report('no-date', { name: 'since' })
    return { text, path }
  }
  const all = checked(settings.since, ['settings', 'since'])
  const ofReport = checked(spec.since, ['since'])
  const own = spec.exhibits.map((exhibit, i) => checked(exhibit?.since, ['exhibits', i, 'since']))
  return exhibits.map((exhibit) => {
    const since = exhibit.kind === 'list' ? undefined : (all ?? own[exhibit.index] ?? ofReport)
    if (since === undefined && exhibit.kind === 'moves')
      diagnostics.at('exhibits', exhibit.index).report('moves-since', { name: exhibit.name })
    return since === undefined ? exhibit : { ...exhibit, since }
  })
}
