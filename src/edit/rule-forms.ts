import type { Step } from './steps.js'
import { isPlainMap } from './text/plain.js'

/** How a rule is written: in keys, or as a sentence in one of three ways. */
export type RuleForm =
  | { is: 'keys' }
  /** A text in the list. */
  | { is: 'text'; sentence: string }
  /** A text under `say`, with a name or a title. */
  | { is: 'say'; sentence: string }
  /** Without quotes: for YAML a map of one entry. */
  | { is: 'entry'; sentence: string; key: string }

/**
 * The form of a rule of the file's own tree.
 *
 * @param isRead whether the rule was understood: an entry that is no sentence is a mistake in keys.
 */
export function ruleForm(raw: unknown, isRead: boolean): RuleForm {
  if (typeof raw === 'string') return { is: 'text', sentence: raw }
  if (!isPlainMap(raw)) return { is: 'keys' }
  if (typeof raw.say === 'string') return { is: 'say', sentence: raw.say }
  const [[key, value] = [], ...more] = Object.entries(raw)
  if (isRead && more.length === 0 && key !== undefined && typeof value === 'string' && key !== 'paint')
    return { is: 'entry', sentence: `${key}: ${value}`, key }
  return { is: 'keys' }
}

/** The step that writes another sentence in the form that a rule has. */
export function sentenceStep(index: number, is: 'text' | 'say' | 'entry', sentence: string): Step {
  const path = ['rules', index]
  if (is === 'entry') return { do: 'entry', path, value: sentence }
  return { do: 'splice', path: is === 'say' ? [...path, 'say'] : path, value: sentence }
}

/** A rule that is a sentence. */
export type Said = Exclude<RuleForm, { is: 'keys' }>
