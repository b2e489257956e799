import type { Draft } from '../edit/draft.js'
import type { Path, Problem } from '../problem/problem.js'
import type { PlacedFinding } from '../proof/report.js'
import type { Comparison } from '../report/inspect/compare.js'
import type { RuleTold } from '../report/inspect/rules.js'

/** What a workbench knows of its report, as data: everything that its page shows. */
export interface WorkbenchState {
  /** The name of the report file. */
  name: string
  draft: Draft
  /** What can be undone and done again, in words. */
  entries: readonly string[]
  undone: readonly string[]
  /** Whether the text is that of the file. */
  isSaved: boolean
  /** Whether the page shows this text; else it shows the last one that could be answered. */
  isShown: boolean
  /** What keeps the text from being shown, with line and column. */
  problems: readonly Problem[]
  /** Files that the report names and that were not given. */
  missing: readonly string[]
  sources: readonly SourceView[]
  rules: readonly RuleTold[]
}

/** A source with its columns. */
export interface SourceView {
  name: string
  rows: number
  columns: readonly ColumnView[]
}

/** A column of a source, with how its values are spread. */
export interface ColumnView {
  name: string
  label: string
  type: 'number' | 'text' | 'date' | 'condition'
  /** Rows without a value. */
  missing: number
  /** Different values; null for numbers and dates. */
  distinct: number | null
  /** The least and greatest number or day; null for others. */
  range: readonly [number, number] | null
  /** How many rows fall into each of some equal parts of the range, or have each frequent value. */
  shape: readonly number[]
}

/** A rule tried before it is part of the file. */
export interface Preview {
  /** The rule as it would be written. */
  sentence: string
  told: RuleTold | null
  comparison: Comparison
}

/** The judged values of a rule, for a plot of them on their scale. */
export interface PopulationPlot {
  exhibit: string
  measure: string
  /** Each value that is judged, without the missing ones. */
  values: readonly number[]
  /** The look of each value: an index into `looks`; -1 is none. */
  classes: readonly number[]
  looks: readonly PlotLook[]
  missing: number
  handles: readonly PlotHandle[]
  /** Values as text: a format of the report. */
  format: string | null
  locale: string
}

/** A look that judged values of a plot have, with its words for a legend. */
export interface PlotLook {
  /** A CSS colour; null where the look has none. */
  color: string | null
  label: string
}

/** A limit on the scale of a plot. */
export interface PlotHandle {
  value: number
  /** `At least, Shop target`. */
  label: string
  /** What moves with it: the place of a number; null for one that follows another limit. */
  path: Path | null
  /** Whether that place holds a percent, as text. */
  isPercent: boolean
  /** Why it does not move alone: what it follows. */
  follows: string | null
}

export type { PlacedFinding, RuleTold }
