/** An AbortSignal, as far as it is asked. */
export interface StopSignal {
  readonly aborted: boolean
  readonly reason?: unknown
}

/** @throws the reason of a signal that is aborted. */
export function stopIf(signal: StopSignal | undefined): void {
  if (signal?.aborted === true) throw signal.reason ?? new Error('the work was stopped')
}
