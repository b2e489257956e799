import type { Strip, StripPart } from '../../page/page.js'
import { createPhrases } from '../../rule/explain/phrases.js'
import type { RuleResult } from '../../rule/model.js'
import { applyStyle, type CellStyle, finished, PLAIN_STYLE } from '../../style/cell-style.js'
import { styleOf as cellStyle, countStatuses, type Painting } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import { phraseContextOf } from '../answer/facts.js'
import type { AnsweredExhibit } from '../model/answered.js'
import type { BoundReport, StripSource } from '../model/bound.js'

/** Kinds whose first measure with statuses makes the strip of a report that names none. */
const KINDS = ['table', 'heatmap', 'chart', 'list']

/**
 * The strip of a decided report: of the exhibit and measure that it names, else of its first table,
 * heatmap, chart or list with a measure that has statuses.
 *
 * @returns null if it has no such cells, or wants no strip.
 */
export function stripOf(report: BoundReport, exhibits: readonly AnsweredExhibit[]): Strip | null {
  const { strip } = report
  if (strip === 'none') return null
  const source = strip ?? defaultSource(exhibits)
  const answered = exhibits.find(({ exhibit }) => exhibit.name === source?.exhibit)
  return source === undefined || answered === undefined ? null : countedStrip(report, answered, source)
}

function defaultSource(exhibits: readonly AnsweredExhibit[]): StripSource | undefined {
  for (const answered of exhibits) {
    const { exhibit } = answered
    if (!KINDS.includes(exhibit.kind)) continue
    const measure = exhibit.show.find((name) => statusResults(answered, name).length > 0)
    if (measure !== undefined) return { exhibit: exhibit.name, measure }
  }
  return undefined
}

function detailsOf({ levels }: AnsweredExhibit) {
  return levels.decided().filter(({ cells }) => cells.level === 'detail' && cells.part !== 'headings')
}

/** The results of the rules that may give a measure a status, those of whole rows included. */
function statusResults(answered: AnsweredExhibit, measure: string): RuleResult[] {
  return detailsOf(answered).flatMap(({ result }) =>
    result.results.filter(
      ({ measure: own, rule, effects }) =>
        (own === measure || rule.target === 'row') && effects.some(({ status }) => status !== null),
    ),
  )
}

function countedStrip(report: BoundReport, answered: AnsweredExhibit, { exhibit, measure }: StripSource): Strip | null {
  const statuses = new Map<string, number>()
  let [count, missing, withStatus] = [0, 0, 0]
  for (const { cells, result } of detailsOf(answered)) {
    const column = cells.table.columns.get(measure)?.column
    if (column?.kind !== 'number') continue
    const { painting } = result
    count += column.values.length
    missing += countMissing(column.values, painting, measure)
    for (const [status, n] of countStatuses(painting, measure) ?? []) {
      statuses.set(status, (statuses.get(status) ?? 0) + n)
      withStatus += n
    }
  }
  if (count === 0) return null
  const facts = phraseContextOf(report)
  const results = statusResults(answered, measure)
  const parts: StripPart[] = Object.keys(report.statuses).flatMap((status): StripPart[] => {
    const own = results.filter(({ effects }) => effects.some((effect) => effect.status === status))
    if (own.length === 0) return []
    const label = statusLabel(report.statuses, status)
    const limits = [...new Set(own.map((result) => limitOf(result, status, facts)))]
    return [
      {
        kind: 'status',
        status,
        label,
        limit: limits.length === 1 ? limits[0] : '',
        count: statuses.get(status) ?? 0,
        style: styleOf(own[0], status),
      },
    ]
  })
  const rest: [StripPart['kind'], string, number][] = [
    ['noStatus', 'no status', count - missing - withStatus],
    ['missing', 'no value', missing],
  ]
  for (const [kind, label, n] of rest)
    parts.push({ kind, status: null, label, limit: '', count: n, style: PLAIN_STYLE })
  const { title } = answered.head
  return { exhibit, exhibitTitle: title, measure, measureLabel: facts.label(measure), count, parts }
}

/** Missing values may have a status of their own, and are counted with it. */
function countMissing(values: Float64Array, painting: Painting, measure: string): number {
  let count = 0
  for (let i = 0; i < values.length; i++)
    if (Number.isNaN(values[i]) && cellStyle(painting, measure, i).status === null) count++
  return count
}

function limitOf(
  { rule, fit, judged, effects }: RuleResult,
  status: string,
  facts: ReturnType<typeof phraseContextOf>,
): string {
  const { limits } = rule.kind.legend(rule.plan, fit, judged, createPhrases(rule, { ...facts, brief: true }))
  const written = rule.effects.length === 0 ? effects : rule.effects
  return limits[written.findIndex((effect) => effect.status === status)] ?? ''
}

/** The style that the rule gives its cells, as in its legend. */
function styleOf({ rule, effects }: RuleResult, status: string): CellStyle {
  const effect = effects.find((each) => each.status === status)
  return effect === undefined ? PLAIN_STYLE : finished(applyStyle(PLAIN_STYLE, effect, rule.name, false))
}
