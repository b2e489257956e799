import { CATALOGUE, type FindingCode } from '../problem/catalogue/findings.js'
import type { Path } from '../problem/problem.js'

/** Something wrong or risky, with the numbers behind it and the way out. */
export interface ProofFinding {
  code: FindingCode
  /** What it is about: `shops.revenue`, a rule, a status, a parameter. */
  at: string
  /** What was found, with its numbers. */
  message: string
  fix: string
  numbers: Readonly<Record<string, number>>
  /** Where it is written in the report tree. */
  path?: Path
  /** The reason for which it is silenced; null while it is not. */
  ignored: string | null
}

export interface Told {
  at: string
  message: string
  numbers?: Record<string, number>
  path?: Path
  /** The way out for this very finding; default: that of its kind. */
  fix?: string
}

export function finding(
  code: FindingCode,
  { at, message, numbers = {}, path, fix = CATALOGUE[code].fix }: Told,
): ProofFinding {
  const made: ProofFinding = { code, at, message, fix, numbers, ignored: null }
  return path === undefined ? made : { ...made, path }
}

/** A finding that its writer wants to hear no more of, and why. */
export interface Ignored {
  code: string
  /** A rule, an exhibit, `exhibit.measure`, a status or a parameter; left out: everywhere. */
  at?: string | undefined
  because: string
}

/** Marks findings that are ignored; `at` may name the whole place, or its first part. */
export function markIgnored(findings: readonly ProofFinding[], ignored: readonly Ignored[]): ProofFinding[] {
  return findings.map((own) => {
    const found = ignored.find(
      ({ code, at }) =>
        code === own.code && (at === undefined || own.at.split(/[.,\s]+/).includes(at) || own.at === at),
    )
    return found === undefined ? own : { ...own, ignored: found.because }
  })
}
