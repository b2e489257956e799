import type { PackedColor } from '../color/color.js'
import type { CellStyle } from './cell-style.js'

/** What one rule does to one measure, for readers: every limit as a number. */
export interface Legend {
  /** The rule's name. */
  rule: string
  title: string
  measure: string
  measureLabel: string
  /** With whom a cell is compared; empty where limits do not depend on others. */
  population: string
  entries: LegendEntry[]
  /** A gradient's colours, low to high, and what its places stand for. */
  ramp?: LegendRamp
}

export interface LegendEntry {
  style: CellStyle
  /** The status, or empty for a bare style. */
  label: string
  /** The limit in words and numbers. */
  limit: string
  /**
   * Detail cells to which this rule gave it; null where each cell stands for itself, and a count
   * says nothing.
   */
  count: number | null
}

export interface LegendRamp {
  colors: PackedColor[]
  /** Whether text is coloured, not the ground behind it. */
  ink: boolean
  /** `at` runs from 0 (low) to 1 (high). */
  marks: { at: number; text: string; what: string }[]
}
