import type { Workbench, WorkbenchState } from 'acuarela/workbench'
import { memo, useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'
import { FindingLine } from './finding-line.js'

export type FindingList = Awaited<ReturnType<Workbench['findings']>>

/** A rest before proof runs, in milliseconds: not at each step of a drag. */
const REST_MS = 400

/** What proof finds in the report that is shown. */
export function useFindings(state: WorkbenchState | null): FindingList {
  const [findings, setFindings] = useState<FindingList>([])
  useEffect(() => {
    let isOld = false
    const wait = setTimeout(() => {
      if (state?.isShown === true)
        calls.findings().then(
          (next) => {
            if (!isOld) setFindings(next.filter(({ ignored }) => ignored === null))
          },
          () => undefined,
        )
    }, REST_MS)
    return () => {
      isOld = true
      clearTimeout(wait)
    }
  }, [state])
  return findings
}

/** What proof finds, each with its fix as a button where it needs no decision. */
export const Findings = memo(function Findings({ findings, bench }: { findings: FindingList; bench: Bench }) {
  return (
    <section aria-label="Findings" className="findings">
      <h2>
        Findings <small>{findings.length === 0 ? 'none' : findings.length}</small>
      </h2>
      <ul>
        {findings.map((finding) => (
          <li key={`${finding.code} ${finding.at} ${finding.message}`}>
            <FindingLine finding={finding} bench={bench} />
          </li>
        ))}
      </ul>
    </section>
  )
})
