import { type StopSignal, stopIf } from '../../problem/stop.js'

/** A step of the work: rows read so far, or the number of a question. */
export type ProgressEvent = { source: string; rows: number } | { source: string; question: number }

/** Callbacks of long work. */
export interface Following {
  /** Called while rows are read and sources are queried. It changes no result. */
  onProgress?: (event: ProgressEvent) => void
  /**
   * An AbortSignal: the work stops between steps, and the call is rejected with the signal's
   * reason.
   */
  signal?: StopSignal
}

/** Reports a step, and stops if that is requested. */
export function follow({ onProgress, signal }: Following): (event: ProgressEvent) => void {
  return (event) => {
    stopIf(signal)
    onProgress?.(event)
  }
}
