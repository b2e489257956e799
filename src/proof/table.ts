import type { TablePainting } from '../paint/painter.js'
import { CATALOGUE } from '../problem/catalogue/findings.js'
import { ProblemError, problem } from '../problem/problem.js'
import { checkShape, type Shape } from '../shape/shape.js'
import type { Ignored, ProofFinding } from './finding.js'
import { proofSubject } from './proof.js'

const OPTIONS: Shape = {
  keys: {
    'ignore?': { list: { keys: { code: { oneOf: Object.keys(CATALOGUE) }, 'at?': 'text', because: 'text' } } },
  },
}

/**
 * Finds what is wrong or risky in the rules of a painted table and in their results.
 *
 * @throws ProblemError for what is no painting, and for options of another shape.
 */
export function proof(painting: TablePainting, options: { ignore?: readonly Ignored[] } = {}): ProofFinding[] {
  if (typeof painting?.decided?.cells !== 'object')
    throw new ProblemError([problem('no-painting', { found: typeof painting }, { path: ['painting'] })])
  checkShape(OPTIONS, options, ['options'])
  const { rules, cells, result, facts, palette, measures } = painting.decided
  const level = { exhibit: null, kind: 'table' as const, cells, result, show: [...measures.keys()], hidden: false }
  return proofSubject({ facts, palette, measures, rules, levels: [level] }, options.ignore)
}
