import { resultInSentence, type WriteClauses, writtenResult } from '../sentence-parts.js'

const ENDS = ['top', 'bottom', 'best', 'worst'] as const

/** `best 3 → leading`, or `split 50% → ahead; next 20% → close; otherwise → behind`. */
export const writeClauses: WriteClauses = ({ rank = {} }) => {
  const end = ENDS.find((candidate) => rank[candidate] !== undefined)
  if (end !== undefined) return `${end} ${rank[end]} → ${writtenResult(rank)}`
  const parts = (rank.split ?? []).filter(({ share }) => share !== undefined)
  const of = rank.of === undefined ? '' : ` of ${rank.of}`
  const clauses = parts.map((part, i) => `${i === 0 ? 'split' : 'next'} ${part.share}${of} → ${writtenResult(part)}`)
  const otherwise = rank.split?.find((part) => part.otherwise !== undefined)?.otherwise
  if (otherwise !== undefined) clauses.push(`otherwise → ${resultInSentence(otherwise)}`)
  return clauses.join('; ')
}
