import { nearest } from '../problem/nearest.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { Draft } from './draft.js'
import { duplicateParts, type Part } from './duplicate.js'
import type { Edit } from './edits.js'
import { changesOf } from './naming/references.js'
import { nothingAt } from './nothing.js'
import { isPlainMap, valueAt } from './text/plain.js'

/** A copy of a rule for another measure: where it names the old one, the copy names the new one. */
export function copyRuleParts(draft: Draft, { rule, measure, name }: Extract<Edit, { do: 'copyRule' }>): Part[] {
  const index = ruleIndex(draft, rule)
  const path = ['rules', index]
  const own = valueAt(draft.spec, path)
  if (!isPlainMap(own)) throw new ProblemError([nothingAt(path)])
  const [painted] = [own.paint].flat()
  const copy = [...path.slice(0, 1), index + 1]
  const parts = duplicateParts(draft, { do: 'duplicate', path, name: name ?? copyName(draft, own, measure) }, false)
  const old = typeof painted === 'string' ? painted : ''
  // What is painted is the measure alone, though the old rule may paint several.
  const { paint: _, ...rest } = own
  const rename = { kind: 'measure', from: old, to: measure, source: undefined, isHome: false, columns: [] } as const
  const changes = changesOf(rest, rename, copy)
  return [
    ...parts,
    { do: 'set', path: [...copy, 'paint'], value: measure },
    ...changes.map(({ path: place, value }): Part => ({ do: 'set', path: place, value })),
  ]
}

function ruleIndex({ spec }: Draft, rule: string | number): number {
  const rules = Array.isArray(spec.rules) ? spec.rules : []
  const names = rules.map((one) => (isPlainMap(one) && typeof one.name === 'string' ? one.name : undefined))
  const index = typeof rule === 'number' ? rule : names.indexOf(rule)
  if (index >= 0 && index < rules.length) return index
  const known = names.filter((name) => name !== undefined)
  if (typeof rule === 'number') throw new ProblemError([nothingAt(['rules', rule])])
  throw new ProblemError([problem('edit-unknown', { what: 'rule', name: rule, nearest: nearest(rule, known), known })])
}

/** The name of a copy: that of the rule with the measure behind it; none for a rule without. */
function copyName({ spec }: Draft, { name }: Record<string, unknown>, measure: string): string | undefined {
  if (typeof name !== 'string') return undefined
  const rules = Array.isArray(spec.rules) ? spec.rules : []
  const taken = rules.map((one) => (isPlainMap(one) ? one.name : undefined))
  const base = `${name}${measure.charAt(0).toUpperCase()}${measure.slice(1)}`
  let made = base
  for (let i = 2; taken.includes(made); i++) made = `${base}${i}`
  return made
}
