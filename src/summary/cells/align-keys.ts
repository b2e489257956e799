import { createRecoder, translateCodes } from '../../column/recode.js'
import type { Domain, GroupedAnswer, Keyed } from '../contract.js'

/**
 * One key in several answers: codes of a common domain for each, undefined for an answer that is
 * not split by it.
 */
export interface SharedKey {
  name: string
  domain: Domain
  codes: readonly (Int32Array | undefined)[]
}

/**
 * Brings the keys of several answers to one domain each: the same shop has the same code, whichever
 * source it came from.
 */
export function shareKeys(names: readonly string[], grains: readonly GroupedAnswer[]): SharedKey[] {
  return names.map((name) => {
    const keys = grains.map((grain) => grain.keys.find((key) => key.name === name))
    const first = keys.find((key) => key !== undefined)
    if (first === undefined) return { name, domain: { kind: 'text', words: [] }, codes: grains.map(() => undefined) }
    const { domain, recode } = first.domain.kind === 'time' ? shareTime(keys, first.domain) : alignTexts(keys)
    return { name, domain, codes: keys.map((key) => key && recode(key)) }
  })
}

interface Sharing {
  domain: Domain
  recode(key: Keyed): Int32Array
}

function alignTexts(keys: readonly (Keyed | undefined)[]): Sharing {
  const texts = keys.filter((key) => key?.domain.kind === 'text')
  // The words of a single answer are those of all.
  if (texts.length === 1 && texts[0] !== undefined) return { domain: texts[0].domain, recode: ({ codes }) => codes }
  const words: string[] = []
  const codeOf = createRecoder(words)
  const meant = new Map<Keyed, number[]>()
  for (const key of keys) if (key?.domain.kind === 'text') meant.set(key, key.domain.words.map(codeOf))
  return { domain: { kind: 'text', words }, recode: (key) => translateCodes(key.codes, meant.get(key) ?? []) }
}

function shareTime(keys: readonly (Keyed | undefined)[], first: Domain & { kind: 'time' }): Sharing {
  const periods: number[] = []
  const codeOf = createRecoder(periods)
  const meant = new Map<Keyed, number[]>()
  for (const key of keys) if (key?.domain.kind === 'time') meant.set(key, key.domain.periods.map(codeOf))
  return { domain: { ...first, periods }, recode: (key) => translateCodes(key.codes, meant.get(key) ?? []) }
}
