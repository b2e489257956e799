import type { Edit } from 'acuarela/edit'
import { useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'

type Finding = Awaited<ReturnType<typeof calls.findings>>[number]

/** What proof finds, each with its fix as a button where it needs no decision. */
export function Findings({ bench: { state, edit } }: { bench: Bench }) {
  const [findings, setFindings] = useState<readonly Finding[]>([])
  useEffect(() => {
    let isOld = false
    // Not at each step of a drag.
    const wait = setTimeout(() => {
      if (state?.isShown === true)
        calls.findings().then(
          (next) => {
            if (!isOld) setFindings(next.filter(({ ignored }) => ignored === null))
          },
          () => undefined,
        )
    }, 400)
    return () => {
      isOld = true
      clearTimeout(wait)
    }
  }, [state])
  const fix = async (edits: readonly Edit[]): Promise<void> => {
    for (const one of edits) await edit(one)
  }
  return (
    <section aria-label="Findings" className="findings">
      <h2>
        Findings <small>{findings.length === 0 ? 'none' : findings.length}</small>
      </h2>
      <ul>
        {findings.map((finding) => (
          <li key={`${finding.code} ${finding.at} ${finding.message}`}>
            <b>{finding.code}</b> <span>{finding.at}</span>
            <p>{finding.message}</p>
            <p className="quiet">{finding.fix}</p>
            {finding.edits !== undefined && (
              <button type="button" onClick={() => void fix(finding.edits ?? [])}>
                Fix
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
