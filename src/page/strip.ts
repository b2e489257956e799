import type { CellStyle } from '../style/cell-style.js'

/** The detail cells of one measure of one exhibit, counted by status: the band under the title. */
export interface Strip {
  exhibit: string
  exhibitTitle: string
  measure: string
  measureLabel: string
  /** Detail cells, with and without a value. */
  count: number
  /** Statuses in the order of the report, then cells without a status, then missing values. */
  parts: readonly StripPart[]
}

/** The cells of a strip with one status, without a status, or without a value. */
export interface StripPart {
  kind: 'status' | 'noStatus' | 'missing'
  /** The name of the status; null for the other kinds. */
  status: string | null
  /** The status for readers; `no status`, `no value`. */
  label: string
  /** The limit of the status; empty where it has none, or several. */
  limit: string
  count: number
  style: CellStyle
}
