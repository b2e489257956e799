import type { PackedColor } from '../color/color.js'
import type { CellStyle } from './cell-style.js'

/** The legend of one rule and one measure, with every limit as a number. */
export interface Legend {
  /** The rule's name. */
  rule: string
  title: string
  measure: string
  measureLabel: string
  /** The cells that a cell is compared with; empty if limits do not depend on others. */
  population: string
  entries: LegendEntry[]
  /** The colours of a gradient, low to high, with the values at its marks. */
  ramp?: LegendRamp
}

export interface LegendEntry {
  style: CellStyle
  /** The status; empty for a style without one. */
  label: string
  /** The limit in words and numbers. */
  limit: string
  /** Detail cells with this style of the rule; null where a count says nothing. */
  count: number | null
  /** The same for readers, as 50,087; empty where a count says nothing. */
  countText: string
}

export interface LegendRamp {
  colors: PackedColor[]
  /** Whether it colours text instead of fills. */
  ink: boolean
  /** `at` runs from 0 (low) to 1 (high). */
  marks: { at: number; text: string; what: string }[]
}
