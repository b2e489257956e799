import { CATALOGUE, type FindingCode } from '../problem/catalogue/findings.js'
import type { Path } from '../problem/problem.js'

/** Something wrong or risky, with numbers and a fix. */
export interface ProofFinding {
  code: FindingCode
  /** Its subject: `shops.revenue`, a rule, a status, a parameter. */
  at: string
  /** The finding with its numbers. */
  message: string
  fix: string
  numbers: Readonly<Record<string, number>>
  /** Its path in the report. */
  path?: Path
  /** The reason for ignoring it; null if it is not ignored. */
  ignored: string | null
}

export interface FindingInput {
  at: string
  message: string
  numbers?: Record<string, number>
  path?: Path
  /** The fix of this finding; default: the fix of its code. */
  fix?: string
}

export function finding(
  code: FindingCode,
  { at, message, numbers = {}, path, fix = CATALOGUE[code].fix }: FindingInput,
): ProofFinding {
  const draft: ProofFinding = { code, at, message, fix, numbers, ignored: null }
  return path === undefined ? draft : { ...draft, path }
}

/** A finding to ignore, and why. */
export interface Ignored {
  code: string
  /** A rule, an exhibit, `exhibit.measure`, a status or a parameter; default: everywhere. */
  at?: string | undefined
  because: string
}

/** Marks findings that are ignored; `at` is the whole subject, or its first part. */
export function markIgnored(findings: readonly ProofFinding[], ignored: readonly Ignored[]): ProofFinding[] {
  return findings.map((finding) => {
    const entry = ignored.find(
      ({ code, at }) =>
        code === finding.code && (at === undefined || finding.at.split(/[.,\s]+/).includes(at) || finding.at === at),
    )
    return entry === undefined ? finding : { ...finding, ignored: entry.because }
  })
}
