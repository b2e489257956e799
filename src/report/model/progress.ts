import { type StopSignal, stopIf } from '../../problem/stop.js'

/** What is going on: rows of a source read so far, or the how-manieth question to it. */
export type ProgressEvent = { source: string; rows: number } | { source: string; question: number }

/** What whoever waits can give to be told, and to stop it. */
export interface Following {
  /** Called while rows are read and sources are asked. Nothing depends on it. */
  onProgress?: (event: ProgressEvent) => void
  /**
   * An AbortSignal: between steps the work stops, and the call is rejected with the signal's
   * reason.
   */
  signal?: StopSignal
}

/** Tells a step, and stops where that is wanted. */
export function follow({ onProgress, signal }: Following): (event: ProgressEvent) => void {
  return (event) => {
    stopIf(signal)
    onProgress?.(event)
  }
}
