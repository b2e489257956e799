/** The part of AbortSignal that is used. */
export interface StopSignal {
  readonly aborted: boolean
  readonly reason?: unknown
}

/** @throws the reason of an aborted signal. */
export function stopIf(signal: StopSignal | undefined): void {
  if (signal?.aborted === true) throw signal.reason ?? new Error('the work was stopped')
}
