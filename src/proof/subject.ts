import type { MeasureFacts } from '../rule/bind/vocabulary.js'
import type { PhraseContext } from '../rule/explain/phrases.js'
import type { BoundRule, Cells, RuleResult } from '../rule/model.js'
import type { PaintResult } from '../rule/run/paint.js'
import type { ExhibitKindKey } from '../spec/exhibits.js'
import type { Palette } from '../style/palette.js'

/** What is proofed: rules, and what they did to cells. The same for a plain table and a report. */
export interface Subject {
  facts: PhraseContext
  palette: Palette
  measures: ReadonlyMap<string, MeasureFacts>
  /** Paused ones among them. */
  rules: readonly BoundRule[]
  levels: readonly ProofedLevel[]
}

/** The cells of one pair of levels, decided. */
export interface ProofedLevel {
  exhibit: string | null
  kind: ExhibitKindKey
  cells: Cells
  result: PaintResult
  /** Measures that are shown there. */
  show: readonly string[]
  /** Whether the exhibit hides its numbers. */
  hidden: boolean
}

/** `shops.revenue`; of a plain table the column alone. */
export function levelText(level: Pick<ProofedLevel, 'exhibit'>, measure: string): string {
  const name = measure === '(row)' ? 'row' : measure
  return level.exhibit === null ? name : `${level.exhibit}.${name}`
}

/** Every rule with everything it was run over. */
export function runsOf({ levels }: Subject): { level: ProofedLevel; result: RuleResult }[] {
  return levels.flatMap((level) => level.result.results.map((result) => ({ level, result })))
}

/** What a class of a result says of its cell: good, fair, bad, or nothing. */
export function meaningOf(
  result: RuleResult,
  c: number,
  { statuses }: PhraseContext,
): 'good' | 'fair' | 'bad' | undefined {
  const status = c < 0 ? null : result.effects[c]?.status
  return status == null || !Object.hasOwn(statuses, status) ? undefined : statuses[status].verdict
}
