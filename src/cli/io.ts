/** What the tool touches of the world; tests pass their own. */
export interface Io {
  cwd: string
  /** Results. */
  out(text: string): void
  /** Problems and progress. */
  err(text: string): void
  /** Whole days since 1970-01-01, in the local zone. */
  today(): number
  /** Whether someone watches the problems and progress. */
  terminal: boolean
  /** Milliseconds from any start, for progress alone. */
  clock(): number
}
