import type { MeasureFacts } from '../rule/bind/vocabulary.js'
import type { PhraseContext } from '../rule/explain/phrases.js'
import type { BoundRule, Cells, RuleResult } from '../rule/model.js'
import type { PaintResult } from '../rule/run/paint.js'
import type { ExhibitKindKey } from '../spec/exhibits.js'
import type { Palette } from '../style/palette.js'

/** The subject of a proof: rules and their results, for a plain table or a report. */
export interface Subject {
  facts: PhraseContext
  palette: Palette
  measures: ReadonlyMap<string, MeasureFacts>
  /** Paused ones included. */
  rules: readonly BoundRule[]
  levels: readonly ProofedLevel[]
}

/** The decided cells of one level. */
export interface ProofedLevel {
  exhibit: string | null
  kind: ExhibitKindKey
  cells: Cells
  result: PaintResult
  /** The measures that the exhibit shows. */
  show: readonly string[]
  /** Whether the exhibit hides its numbers. */
  hidden: boolean
}

/** `shops.revenue`; in a plain table the column. */
export function levelText(level: Pick<ProofedLevel, 'exhibit'>, measure: string): string {
  const name = measure === '(row)' ? 'row' : measure
  return level.exhibit === null ? name : `${level.exhibit}.${name}`
}

/** Every rule with all its results. */
export function runsOf({ levels }: Subject): { level: ProofedLevel; result: RuleResult }[] {
  return levels.flatMap((level) => level.result.results.map((result) => ({ level, result })))
}

/** The verdict of a class: good, fair, bad, or none. */
export function meaningOf(
  result: RuleResult,
  c: number,
  { statuses }: PhraseContext,
): 'good' | 'fair' | 'bad' | undefined {
  const status = c < 0 ? null : result.effects[c]?.status
  return status == null || !Object.hasOwn(statuses, status) ? undefined : statuses[status].verdict
}
