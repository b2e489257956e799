import type { Workbench } from 'acuarela/workbench'
import { useState } from 'react'
import type { Bench } from './bench.js'
import { isMap } from './values.js'

type Finding = Awaited<ReturnType<Workbench['findings']>>[number]

/** What proof finds: fixed where that needs no decision, or ignored for a reason. */
export function FindingLine({ finding, bench }: { finding: Finding; bench: Bench }) {
  const { state, edit } = bench
  const [reason, setReason] = useState<string | null>(null)
  const { code, at, message, fix, edits } = finding
  const makeEdits = async (): Promise<void> => {
    for (const one of edits ?? []) await edit(one)
  }
  const ignore = (): void => {
    const why = reason?.trim() ?? ''
    if (why === '') return
    setReason(null)
    const proof = state?.draft.spec.proof
    const entry = { code, ...(at !== '' && { at }), because: why }
    void edit(
      isMap(proof) && Array.isArray(proof.ignore) && proof.ignore.length > 0
        ? { do: 'insert', path: ['proof', 'ignore'], value: entry }
        : { do: 'set', path: ['proof', 'ignore'], value: [entry] },
    )
  }
  return (
    <div className="finding">
      <b>{code}</b> <span>{at}</span>
      <p>{message}</p>
      <p className="quiet">{fix}</p>
      <div className="acts">
        {edits !== undefined && (
          <button type="button" onClick={() => void makeEdits()}>
            Fix
          </button>
        )}
        <button type="button" aria-expanded={reason !== null} onClick={() => setReason(reason === null ? '' : null)}>
          Ignore…
        </button>
        {reason !== null && (
          <input
            aria-label="Why it is meant"
            placeholder="why it is meant"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') ignore()
            }}
          />
        )}
      </div>
    </div>
  )
}
