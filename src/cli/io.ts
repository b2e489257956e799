/** What the tool touches of the world; tests pass their own. */
export interface Io {
  cwd: string
  /** Results; bytes are a picture or a print. */
  out(content: string | Uint8Array): void
  /** Problems and progress. */
  err(text: string): void
  /**
   * Bits of colour that results may have: asked for, refused, or undefined for what standard output
   * can show.
   */
  colors(asked: boolean | undefined): 1 | 4 | 8 | 24
  /** Whether the terminal shows more than ASCII. */
  unicode(): boolean
  /** Places in a line of results. */
  width(): number
  /** Whole days since 1970-01-01, in the local zone. */
  today(): number
  /** Whether results are shown by a terminal. */
  isTerminal: boolean
  /** Whether someone watches the problems and progress. */
  terminal: boolean
  /** Milliseconds from any start, for progress alone. */
  clock(): number
}
