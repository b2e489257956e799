/** A question with its choices; the guess is selected at first. */
export interface Question {
  message: string
  choices: readonly { value: string; label: string }[]
  guess: string
}

/** The tool's access to its environment; tests pass their own. */
export interface Io {
  cwd: string
  /** Writes results to standard output; bytes are a picture or PDF. */
  out(content: string | Uint8Array): void
  /** Writes problems and progress to standard error. */
  err(text: string): void
  /**
   * Bits of colour for results: as requested, none, or undefined for what standard output supports.
   */
  colors(asked: boolean | undefined): 1 | 4 | 8 | 24
  /** Whether the terminal supports more than ASCII. */
  unicode(): boolean
  /** Columns of the terminal. */
  width(): number
  /** The current day in the local zone, as whole days since 1970-01-01. */
  today(): number
  /** Whether standard output is a terminal. */
  isTerminal: boolean
  /** Whether standard error is a terminal. */
  terminal: boolean
  /** Asks for one of several choices; left out where there is no terminal to ask at. */
  ask?: (question: Question) => Promise<string>
  /** A clock in milliseconds from any start; used for progress alone. */
  clock(): number
}
