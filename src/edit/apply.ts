import { type Path, type Problem, ProblemError, problem } from '../problem/problem.js'
import type { RuleSpec } from '../spec/rules.js'
import { checkEdit } from './check.js'
import { copyRuleParts } from './copy-rule.js'
import { type Draft, draftOf, type Inside, insideOf, refusedDraft } from './draft.js'
import { duplicateParts, type Part } from './duplicate.js'
import type { Edit } from './edits.js'
import { extractParts } from './extract.js'
import { nothingAt } from './nothing.js'
import { renameSteps } from './rename.js'
import { ruleForm, type Said, sentenceStep } from './rule-forms.js'
import { editedSentence, isSameRule } from './sentence.js'
import { type Step, stepped, steppedText } from './steps.js'
import { isPlainMap, isSame, valueAt, withEntry, withMoved, withoutValue, withValue } from './text/plain.js'
import { plainTree } from './text/source.js'

/** Parts that may be written short: the value of the map that they stand for. */
const SHORT: Readonly<Record<string, string>> = { parameters: 'value', measures: 'formula' }

/**
 * Makes an edit of the text of a report file. Only the lines change that have to: comments, order,
 * line ends and spelling of everything else stay the same bytes. After an edit the text is read
 * again; if it says anything else than the edit, the edit is refused.
 *
 * @returns the next draft; or the same one, with the reasons in `refused`.
 */
export function applyEdit(draft: Draft, edit: Edit): Draft {
  const inside = insideOf(draft)
  const refuse = (...problems: Problem[]): Draft => refusedDraft(draft, inside, problems)
  const wrong = checkEdit(edit)
  if (wrong.length > 0) return refuse(...wrong)
  if (inside.raw === undefined) return refuse(problem('edit-unreadable', {}))
  try {
    return madeOf(draft, inside, edit)
  } catch (error) {
    if (error instanceof ProblemError) return refuse(...error.problems)
    throw error
  }
}

function madeOf(draft: Draft, inside: Inside, written: Edit): Draft {
  const edit = ruleKeySet(written)
  if (edit.do === 'copyRule') return each(draft, copyRuleParts(draft, edit))
  if (edit.do === 'extract') return each(draft, extractParts(draft, edit))
  if (edit.do === 'duplicate') return each(draft, duplicateParts(draft, edit, isInSentence(draft, inside, edit.path)))
  const unquoted = edit.do === 'insert' ? unquotedSteps(inside, edit) : undefined
  const made = unquoted === undefined ? undefined : attempted(() => walked(draft, inside, unquoted))
  if (made !== undefined) return made
  const steps = edit.do === 'rename' ? renameSteps(draft, inside, edit) : stepsOf(draft, inside, edit)
  return walked(draft, inside, steps, edit.do === 'rename' ? undefined : expectedOf(draft, edit))
}

/** A new key of a rule is set: where the rule is a sentence, it is a part of that. */
function ruleKeySet(edit: Edit): Edit {
  if (edit.do !== 'insert' || !('key' in edit) || edit.path.length !== 2 || edit.path[0] !== 'rules') return edit
  return { do: 'set', path: [...edit.path, edit.key], value: edit.value }
}

/** A new rule as a sentence stands without quotes, where the list and the sentence allow it. */
function unquotedSteps({ raw }: Inside, edit: Extract<Edit, { do: 'insert' }>): Step[] | undefined {
  const { path, value } = edit
  if (path.length !== 1 || path[0] !== 'rules' || typeof value !== 'string' || !Array.isArray(valueAt(raw, path)))
    return undefined
  return [{ do: 'insertEntry', path, value, at: placeOf(raw, edit) }]
}

function attempted(make: () => Draft): Draft | undefined {
  try {
    return make()
  } catch (error) {
    if (error instanceof ProblemError) return undefined
    throw error
  }
}

/** Several edits as one: all of them are made, or none. */
function each(draft: Draft, parts: readonly Part[]): Draft {
  let now = draft
  for (const part of parts) {
    const next = part.do === 'copy' ? walked(now, insideOf(now), [part]) : applyEdit(now, part)
    if (next.refused !== undefined) throw new ProblemError(next.refused)
    now = next
  }
  return now
}

/**
 * Makes the steps over the text and over the plain tree side by side; both must come to the same.
 *
 * @param expected what the report must say afterwards, where the steps go through a sentence.
 */
function walked(draft: Draft, inside: Inside, steps: readonly Step[], expected?: unknown): Draft {
  let text: string | undefined = draft.text
  let tree: unknown = inside.raw
  for (const step of steps) {
    text = text === undefined ? undefined : steppedText(text, step)
    tree = stepped(tree, step)
  }
  if (text === undefined || !isSame(plainTree(text), tree)) throw new ProblemError([problem('edit-refused', {})])
  const next = draftOf(text, inside.context)
  if (expected !== undefined && !saysSame(next.spec, expected)) throw new ProblemError([problem('edit-refused', {})])
  return next
}

/** Whether a report says what it should; two sentences of one rule say the same. */
function saysSame(spec: unknown, expected: unknown): boolean {
  if (isSame(spec, expected)) return true
  if (!isPlainMap(spec) || !isPlainMap(expected)) return false
  const [own, other] = [spec.rules, expected.rules]
  if (!Array.isArray(own) || !Array.isArray(other) || own.length !== other.length) return false
  const { rules: _a, ...rest } = spec
  const { rules: _b, ...others } = expected
  return isSame(rest, others) && own.every((rule, i) => isSame(rule, other[i]) || isRuleSaid(rule, other[i]))
}

function isRuleSaid(rule: unknown, other: unknown): boolean {
  if (!isPlainMap(rule) || !isPlainMap(other)) return false
  const { name, title, ...own } = rule
  const { name: otherName, title: otherTitle, ...rest } = other
  return (
    name === otherName && title === otherTitle && isSameRule(own as unknown as RuleSpec, rest as unknown as RuleSpec)
  )
}

type PlainEdit = Exclude<Edit, { do: 'rename' | 'copyRule' | 'extract' | 'duplicate' }>

/** What the report says after a plain edit; undefined where a text stands for a rule. */
function expectedOf({ spec }: Draft, edit: PlainEdit): unknown {
  const { path } = edit
  const isRule = path[0] === 'rules' && (path.length < 3 || path[2] === 'say')
  if (isRule && (edit.do === 'set' || edit.do === 'insert')) return undefined
  const short = SHORT[String(path[0])]
  const held = valueAt(spec, path.slice(0, 2))
  const isShort = edit.do === 'set' && path.length === 3 && path[2] === short && isLeafValue(held)
  if (isShort) return withValue(spec, path.slice(0, 2), edit.value)
  return edited(longForm(spec, edit), edit)
}

function isLeafValue(value: unknown): boolean {
  return value !== undefined && (typeof value !== 'object' || value === null)
}

/** The tree after an edit of plain values. */
function edited(tree: unknown, edit: PlainEdit): unknown {
  switch (edit.do) {
    case 'set':
      return withValue(tree, edit.path, edit.value)
    case 'unset':
    case 'remove':
      return withoutValue(tree, edit.path)
    case 'move':
      return withMoved(tree, edit.path, edit.to)
    case 'insert': {
      const held = valueAt(tree, edit.path)
      const key = 'key' in edit ? edit.key : undefined
      // One name stands for a list of it.
      const list = key === undefined && held !== undefined && !Array.isArray(held) && !isPlainMap(held)
      const base = list ? withValue(tree, edit.path, [held]) : tree
      return withEntry(base, edit.path, { ...(key !== undefined && { key }), value: edit.value }, placeOf(base, edit))
    }
  }
}

function placeOf(tree: unknown, { path, at }: Extract<PlainEdit, { do: 'insert' }>): number {
  const held = valueAt(tree, path)
  const length = Array.isArray(held) ? held.length : isPlainMap(held) ? Object.keys(held).length : 0
  if (at !== undefined && at > length) throw new ProblemError([nothingAt([...path, at])])
  return at ?? length
}

/** The tree with a short form written out, where an edit goes into it: `slack: 15%`. */
function longForm(tree: unknown, { path }: PlainEdit): unknown {
  const key = SHORT[String(path[0])]
  const held = path.length > 2 && key !== undefined ? valueAt(tree, path.slice(0, 2)) : undefined
  if (held === undefined || typeof held === 'object') return tree
  return withValue(tree, path.slice(0, 2), { [key]: held })
}

/** The steps over the file's own tree that an edit comes to. */
function stepsOf(draft: Draft, inside: Inside, edit: PlainEdit): Step[] {
  const inSentence = sentenceSteps(draft, inside, edit)
  if (inSentence !== undefined) return inSentence
  const raw = longForm(inside.raw, edit)
  const { path } = edit
  const short = raw === inside.raw ? [] : shortSteps(inside.raw, raw, edit)
  // The value of a short form is written in its place.
  if (short.length > 0 && edit.do === 'set' && path.length === 3 && path[2] === SHORT[String(path[0])])
    return [{ do: 'set', path: path.slice(0, 2), value: edit.value }]
  return [...short, ...plainSteps(raw, edit)]
}

function shortSteps(before: unknown, after: unknown, { path }: PlainEdit): Step[] {
  const own = path.slice(0, 2)
  return before === after ? [] : [{ do: 'set', path: own, value: valueAt(after, own) }]
}

function plainSteps(raw: unknown, edit: PlainEdit): Step[] {
  const { path } = edit
  const held = valueAt(raw, path)
  switch (edit.do) {
    case 'set':
      needParent(raw, path)
      return [{ do: 'set', path, value: edit.value }]
    case 'unset':
      return held === undefined ? [] : [{ do: 'remove', path }]
    case 'remove':
      if (held === undefined) throw new ProblemError([nothingAt(path)])
      return [{ do: 'remove', path }]
    case 'move': {
      const holder = valueAt(raw, path.slice(0, -1))
      const length = Array.isArray(holder) ? holder.length : Object.keys((holder ?? {}) as object).length
      if (held === undefined || edit.to >= length)
        throw new ProblemError([nothingAt(held === undefined ? path : [...path.slice(0, -1), edit.to])])
      return [{ do: 'move', path, to: edit.to }]
    }
    case 'insert': {
      const key = 'key' in edit ? edit.key : undefined
      if (key !== undefined && isPlainMap(held) && Object.hasOwn(held, key))
        throw new ProblemError([problem('two-of-a-name', { name: key, what: String(path[path.length - 1] ?? 'keys') })])
      if (held === undefined)
        return [{ do: 'set', path, value: key === undefined ? [edit.value] : { [key]: edit.value } }]
      if (key === undefined && !Array.isArray(held) && !isPlainMap(held) && held !== null)
        return [{ do: 'set', path, value: valueAt(edited(raw, edit), path) }]
      return [{ do: 'insert', path, ...(key !== undefined && { key }), value: edit.value, at: placeOf(raw, edit) }]
    }
  }
}

/** A value can be set in a list only at a place that it has, or at its end. */
function needParent(raw: unknown, path: Path): void {
  const step = path[path.length - 1]
  if (typeof step !== 'number') return
  const holder = valueAt(raw, path.slice(0, -1))
  if (!Array.isArray(holder) || step > holder.length) throw new ProblemError([nothingAt(path)])
}

/** Whether a path leads into the sentence of a rule. */
function isInSentence({ spec }: Draft, { raw }: Inside, [root, index, ...rest]: Path): boolean {
  if (root !== 'rules' || rest.length === 0) return false
  return ruleForm(valueAt(raw, ['rules', index]), isPlainMap(valueAt(spec, ['rules', index]))).is !== 'keys'
}

/** The steps of an edit inside a rule that is a sentence; undefined if it is in none. */
function sentenceSteps(draft: Draft, inside: Inside, edit: PlainEdit): Step[] | undefined {
  const [root, index, key] = edit.path
  if (root !== 'rules' || typeof index !== 'number' || edit.path.length < 3) return undefined
  const rule = valueAt(draft.spec, ['rules', index])
  const raw = valueAt(inside.raw, ['rules', index])
  if (key === 'say') return saidSteps(raw, rule, index, edit)
  const form = ruleForm(raw, isPlainMap(rule))
  if (form.is === 'keys' || !isPlainMap(rule)) return undefined
  const after = edited(draft.spec, edit)
  const { name, title, ...said } = valueAt(after, ['rules', index]) as Record<string, unknown>
  if (key === 'name' || key === 'title') return namedSteps(form, { name, title }, ['rules', index])
  const sentence = editedSentence(form.sentence, said as unknown as RuleSpec, inside.names)
  if (sentence === undefined) throw new ProblemError([problem('edit-no-sentence', {}, { path: edit.path })])
  return [sentenceStep(index, form.is, sentence)]
}

/** A name or a title beside a sentence. */
function namedSteps(form: Said, { name, title }: Record<string, unknown>, path: Path): Step[] {
  const value = { ...(name !== undefined && { name }), ...(title !== undefined && { title }), say: form.sentence }
  return [{ do: form.is === 'say' ? 'set' : 'replace', path, value }]
}

/** A rule as another sentence, whatever form it had; its name and title stay. */
function saidSteps(raw: unknown, rule: unknown, index: number, edit: PlainEdit): Step[] {
  if (edit.do !== 'set' || typeof edit.value !== 'string') throw new ProblemError([problem('edit-refused', {})])
  const form = ruleForm(raw, isPlainMap(rule))
  if (form.is !== 'keys') return [sentenceStep(index, form.is, edit.value)]
  const { name, title } = isPlainMap(raw) ? raw : {}
  const isNamed = name !== undefined || title !== undefined
  const value = isNamed
    ? { ...(name !== undefined && { name }), ...(title !== undefined && { title }), say: edit.value }
    : edit.value
  return [{ do: 'replace', path: ['rules', index], value }]
}
