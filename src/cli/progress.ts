import { harmless } from '../problem/print.js'
import type { Io } from './io.js'

/** Work shorter than this shows nothing, in milliseconds. */
const FIRST_LINE_MS = 1000
/** Between two lines, in milliseconds: more would only flicker. */
const INTERVAL_MS = 100

/** One line on a terminal that says what is going on, taken off when it is done. */
export interface Progress {
  say(text: string): void
  done(): void
}

/** Nothing is said where nobody watches: no terminal, or --quiet. */
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
      // Back to the start of the line, and what stood there is taken off.
      io.err(`\r\u001b[2K${harmless(text)}`)
    },
    done() {
      if (shown) io.err('\r\u001b[2K')
    },
  }
}
