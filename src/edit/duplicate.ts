import { ProblemError, problem } from '../problem/problem.js'
import type { Draft } from './draft.js'
import type { Edit } from './edits.js'
import { nothingAt } from './nothing.js'
import type { Step } from './steps.js'
import { isPlainMap, valueAt } from './text/plain.js'

/** A part of a larger edit: an edit, or a copy of an entry with its lines. */
export type Part = Edit | Extract<Step, { do: 'copy' }>

/** A copy of an entry, then its name. */
export function duplicateParts({ spec }: Draft, edit: Extract<Edit, { do: 'duplicate' }>, isSaid: boolean): Part[] {
  const { path, name } = edit
  const parent = path.slice(0, -1)
  const holder = valueAt(spec, parent)
  const own = path[path.length - 1]
  const entry = valueAt(spec, path)
  if (entry === undefined) throw new ProblemError([nothingAt(path)])
  const isTaken = Array.isArray(holder)
    ? name !== undefined && holder.some((one) => isPlainMap(one) && one.name === name)
    : name !== undefined && isPlainMap(holder) && Object.hasOwn(holder, name)
  if (isTaken) throw new ProblemError([problem('two-of-a-name', { name: name ?? '', what: String(parent.at(-1)) })])
  if (!Array.isArray(holder)) {
    if (name === undefined) throw new ProblemError([problem('missing-key', { key: 'name' }, { path: ['name'] })])
    const at = Object.keys(holder as object).indexOf(String(own)) + 1
    return isSaid ? [{ do: 'insert', path: parent, key: name, value: entry, at }] : [{ do: 'copy', path, key: name }]
  }
  const at = Number(own) + 1
  // Inside a sentence there are no lines to copy.
  const copy: Part = isSaid ? { do: 'insert', path: parent, value: entry, at } : { do: 'copy', path }
  const place = [...parent, at, 'name']
  // Two entries of one name are a mistake: without a new one the copy has none.
  if (name !== undefined) return isPlainMap(entry) ? [copy, { do: 'set', path: place, value: name }] : [copy]
  return isPlainMap(entry) && 'name' in entry ? [copy, { do: 'unset', path: place }] : [copy]
}
