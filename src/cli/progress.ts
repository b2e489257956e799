import { harmless } from '../problem/print.js'
import type { Io } from './io.js'

/** Work shorter than this shows no progress, in milliseconds. */
const FIRST_LINE_MS = 1000
/** The least time between two updates, in milliseconds; more often it would flicker. */
const INTERVAL_MS = 100

/** One line on a terminal that shows the progress and is erased at the end. */
export interface Progress {
  say(text: string): void
  done(): void
}

/** Without a terminal, or with --quiet, nothing is shown. */
export function createProgress(io: Io, quiet: boolean): Progress {
  if (!io.terminal || quiet) return { say: () => undefined, done: () => undefined }
  const start = io.clock()
  let last = Number.NEGATIVE_INFINITY
  let shown = false
  return {
    say(text) {
      const now = io.clock()
      if (now - start < FIRST_LINE_MS || now - last < INTERVAL_MS) return
      last = now
      shown = true
      // Returns to the start of the line and erases it.
      io.err(`\r\u001b[2K${harmless(text)}`)
    },
    done() {
      if (shown) io.err('\r\u001b[2K')
    },
  }
}
