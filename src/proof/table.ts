import type { TablePainting } from '../rule/painter.js'
import type { Ignored, ProofFinding } from './finding.js'
import { proofSubject } from './proof.js'

/** What is wrong or risky with the rules of a painted table, and what they did to it. */
export function proof(painting: TablePainting, options: { ignore?: readonly Ignored[] } = {}): ProofFinding[] {
  const { rules, cells, result, facts, palette, measures } = painting.decided
  const level = { exhibit: null, kind: 'table' as const, cells, result, show: [...measures.keys()], hidden: false }
  return proofSubject({ facts, palette, measures, rules, levels: [level] }, options.ignore)
}
