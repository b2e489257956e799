import { CATALOGUE, type FindingCode } from '../problem/catalogue/findings.js'
import type { Path } from '../problem/problem.js'

/** Something wrong or risky, with the numbers behind it and the way out. */
export interface ProofFinding {
  code: FindingCode
  /** What it is about: `shops.revenue`, a rule, a status, a parameter. */
  at: string
  /** What was found, with its numbers. */
  message: string
  out: string
  numbers: Readonly<Record<string, number>>
  /** Where it is written in the report tree. */
  path?: Path
  /** The reason for which it is silenced; null while it is not. */
  silenced: string | null
}

export interface Told {
  at: string
  message: string
  numbers?: Record<string, number>
  path?: Path
  /** The way out for this very finding; default: that of its kind. */
  out?: string
}

export function finding(
  code: FindingCode,
  { at, message, numbers = {}, path, out = CATALOGUE[code].out }: Told,
): ProofFinding {
  const made: ProofFinding = { code, at, message, out, numbers, silenced: null }
  return path === undefined ? made : { ...made, path }
}

/** A finding that its writer wants to hear no more of, and why. */
export interface Ignored {
  finding: string
  /** A rule, an exhibit, `exhibit.measure`, a status or a parameter; left out: everywhere. */
  at?: string
  because: string
}

/** Marks findings that are ignored; `at` may name the whole place, or its first part. */
export function silence(findings: readonly ProofFinding[], ignored: readonly Ignored[]): ProofFinding[] {
  return findings.map((own) => {
    const found = ignored.find(
      ({ finding: code, at }) =>
        code === own.code && (at === undefined || own.at.split(/[.,\s]+/).includes(at) || own.at === at),
    )
    return found === undefined ? own : { ...own, silenced: found.because }
  })
}
