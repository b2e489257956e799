import { numberPrinter, PLAIN_FORMAT } from '../format/format.js'
import type { Path } from '../problem/problem.js'
import type { RuleSpec } from '../spec/rules.js'
import type { Draft } from './draft.js'
import type { Edit } from './edits.js'
import { sentenceOf } from './sentence.js'
import { isPlainMap, valueAt } from './text/plain.js'
import { inlineValue } from './text/print.js'

/** What the sections of a report hold, one by one. */
const THINGS: Readonly<Record<string, string>> = {
  sources: 'source',
  fields: 'fields of',
  measures: 'measure',
  parameters: 'parameter',
  statuses: 'status',
  pigments: 'pigment',
  icons: 'icon',
  rules: 'rule',
  exhibits: 'exhibit',
}

/** The longest value that is printed. */
const LONGEST = 60

/** An edit in a few words, for a list of what was done: `Shop target 60,000 → 70,000`. */
export function editInWords(edit: Edit, before: Draft, after: Draft): string {
  switch (edit.do) {
    case 'set':
      return setInWords(edit.path, before, after)
    case 'unset':
      return `${subject(edit.path, before)} back to its default`
    case 'insert': {
      const holder = valueAt(before.spec, edit.path)
      const at = 'key' in edit ? edit.key : (edit.at ?? (Array.isArray(holder) ? holder.length : 0))
      return `New ${subject([...edit.path, at], after, false)}`
    }
    case 'move':
      return `${subject(edit.path, before)} moved to place ${edit.to + 1}`
    case 'remove':
      return `${subject(edit.path, before)} removed`
    case 'duplicate':
      return `${subject(edit.path, before)} copied${edit.name === undefined ? '' : ` as ${edit.name}`}`
    case 'rename':
      return `${capital(edit.kind)} ${edit.from} renamed ${edit.to}`
    case 'copyRule': {
      const name = typeof edit.rule === 'number' ? subject(['rules', edit.rule], before) : `Rule ${edit.rule}`
      return `${name} copied for ${edit.measure}`
    }
    case 'extract':
      return `${shown(valueAt(before.spec, edit.path))} named ${edit.name}`
  }
}

function setInWords(path: Path, before: Draft, after: Draft): string {
  const [old, now] = [valueAt(before.spec, path), valueAt(after.spec, path)]
  const isNew = valueAt(before.spec, path.slice(0, 2)) === undefined && path.length >= 2
  if (isNew) return `New ${subject(path, after, false)}`
  const isPrinted = isShort(old) && isShort(now)
  const name = subject(path, isPrinted || path.length > 2 ? after : before)
  if (!isPrinted) return changeInWords(name, old, now)
  if (now === true) return name
  return old === undefined ? `${name} ${shown(now)}` : `${name} ${shown(old)} → ${shown(now)}`
}

function changeInWords(name: string, old: unknown, now: unknown): string {
  const [before, after] = [old, now].map((value) => (value === undefined ? '' : inlineValue(value, SPELLING)))
  if (before.length + after.length > 2 * LONGEST) return `${name} changed`
  return before === '' ? `${name} ${after}` : `${name} ${before} → ${after}`
}

/** How values are written in words. */
const SPELLING = { isJson: false, quote: "'", newline: '\n' } as const

function isShort(value: unknown): boolean {
  return value === undefined || typeof value !== 'object' || value === null
}

function shown(value: unknown): string {
  if (typeof value === 'number') return numberPrinter(PLAIN_FORMAT, 'en')(value)
  if (typeof value === 'string') return value.length > LONGEST ? `${value.slice(0, LONGEST)}…` : value
  if (isPlainMap(value)) return 'style'
  return String(value)
}

/** What a path is about: the label or name of the thing, and the part of it. */
function subject(path: Path, { spec }: Draft, isFirst = true): string {
  const [section, step, ...rest] = path
  const what = THINGS[String(section)]
  if (what === undefined || step === undefined)
    return isFirst ? capital(spaced(String(section))) : spaced(String(section))
  const thing = valueAt(spec, [section, step])
  const name = nameOf(thing, step)
  // The value of a parameter is the parameter.
  const parts = rest
    .filter((part) => !(section === 'parameters' && part === 'value'))
    .map((part) => (typeof part === 'number' ? String(part + 1) : spaced(part)))
  const whole = section === 'parameters' && typeof thing === 'object' ? name : `${what} ${name}`
  const text = parts.length === 0 ? whole : `${whole}: ${parts.join(' ')}`
  return isFirst ? capital(text) : text
}

function nameOf(thing: unknown, step: string | number): string {
  if (isPlainMap(thing)) {
    for (const key of ['label', 'title', 'name']) if (typeof thing[key] === 'string') return thing[key]
    if (typeof step === 'number' && 'paint' in thing)
      return (sentenceOf(thing as unknown as RuleSpec) ?? '').slice(0, LONGEST)
  }
  if (typeof step === 'string') return step
  return typeof thing === 'string' ? thing.slice(0, LONGEST) : String(step + 1)
}

/** `atLeast` as words. */
function spaced(key: string): string {
  return key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
