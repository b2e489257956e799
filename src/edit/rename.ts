import { wordsOf } from '../file/asked.js'
import { readYaml } from '../file/yaml.js'
import { nearest } from '../problem/nearest.js'
import { type Path, ProblemError, problem } from '../problem/problem.js'
import type { NamedThing, SentenceNames } from '../rule/grammar/names.js'
import type { RuleSpec } from '../spec/rules.js'
import type { Draft, Inside } from './draft.js'
import type { Edit, NamedKind } from './edits.js'
import { type Change, changesOf, type Rename } from './naming/references.js'
import { isPlainName } from './naming/rename-in-text.js'
import { ruleForm, sentenceStep } from './rule-forms.js'
import { editedSentence } from './sentence.js'
import type { Step } from './steps.js'
import { isPlainMap, valueAt, withValue } from './text/plain.js'

/** The section of a report that has the names of a kind. */
const SECTIONS: Readonly<Record<NamedKind, string>> = {
  source: 'sources',
  field: 'fields',
  measure: 'measures',
  parameter: 'parameters',
  status: 'statuses',
  pigment: 'pigments',
  icon: 'icons',
  rule: 'rules',
  exhibit: 'exhibits',
}

/** The steps of a rename: the name itself, and every text that refers to it. */
export function renameSteps(draft: Draft, inside: Inside, edit: Extract<Edit, { do: 'rename' }>): Step[] {
  const { kind, from, to } = edit
  if (from === to) return []
  const raw = inside.raw ?? {}
  const rename: Rename = { kind, from, to, ...sourceOf(raw, edit), columns: inside.context.columns ?? [] }
  const place = placeOf(draft, raw, rename)
  checkName(draft, rename)
  checkIncluded(raw, inside, rename)
  const steps: Step[] = []
  // Texts first: a path through a renamed key would not be found any more.
  const { rules: _, ...rest } = raw
  for (const { path, value } of changesOf(rest, rename)) steps.push({ do: 'splice', path, value })
  steps.push(...ruleSteps(draft, inside, rename))
  const labels = labelPlaces(raw, rename)
  for (const path of labels) steps.push({ do: 'rekey', path, key: to })
  if (kind === 'source' && valueAt(raw, ['fields', from]) !== undefined)
    steps.push({ do: 'rekey', path: ['fields', from], key: to })
  steps.push(...place)
  return steps
}

function sourceOf(raw: unknown, edit: Extract<Edit, { do: 'rename' }>): Pick<Rename, 'source' | 'isHome'> {
  const fields = valueAt(raw, ['fields'])
  const holders = isPlainMap(fields)
    ? Object.entries(fields).flatMap(([name, part]) =>
        isPlainMap(part) && Object.hasOwn(part, edit.from) ? [name] : [],
      )
    : []
  const source = edit.kind === 'field' ? (edit.in ?? holders[0]) : undefined
  const sources = valueAt(raw, ['sources'])
  const [home] = isPlainMap(sources) ? Object.keys(sources) : []
  return { source, isHome: source === home }
}

/** The steps that change the name where it is given. */
function placeOf({ spec }: Draft, raw: unknown, { kind, from, to, source }: Rename): Step[] {
  const section = SECTIONS[kind]
  const listed = kind === 'rule' || kind === 'exhibit'
  const path = kind === 'field' ? [section, source ?? '', from] : [section, from]
  if (!listed) {
    if (valueAt(raw, path) === undefined) throw new ProblemError([unknown(spec, kind, from)])
    return [{ do: 'rekey', path, key: to }]
  }
  const list = valueAt(spec, [section])
  const index = Array.isArray(list) ? list.findIndex((one) => isPlainMap(one) && one.name === from) : -1
  if (index < 0) throw new ProblemError([unknown(spec, kind, from)])
  return [{ do: 'splice', path: [section, index, 'name'], value: to }]
}

function unknown(spec: Draft['spec'], kind: NamedKind, name: string): ReturnType<typeof problem> {
  const known = namesOf(spec, kind)
  return problem('edit-unknown', { what: kind, name, nearest: nearest(name, known), known })
}

/** The names of a kind that a report gives. */
function namesOf(spec: Draft['spec'], kind: NamedKind): string[] {
  const section = spec[SECTIONS[kind]]
  if (kind === 'field')
    return isPlainMap(section)
      ? Object.values(section).flatMap((part) => (isPlainMap(part) ? Object.keys(part) : []))
      : []
  if (isPlainMap(section)) return Object.keys(section)
  if (!Array.isArray(section)) return []
  return section.flatMap((one) => (isPlainMap(one) && typeof one.name === 'string' ? [one.name] : []))
}

/** Kinds that share one set of names, as expressions do not tell them apart. */
const TOGETHER: readonly NamedKind[] = ['measure', 'parameter', 'field']

function checkName({ spec }: Draft, { kind, to }: Rename): void {
  const kinds = TOGETHER.includes(kind) ? TOGETHER : [kind]
  for (const other of kinds)
    if (namesOf(spec, other).includes(to))
      throw new ProblemError([
        other === kind
          ? problem('two-of-a-name', { name: to, what: SECTIONS[kind] })
          : problem('name-taken', { name: to, by: other }),
      ])
  const isUsed = TOGETHER.includes(kind) || kind === 'source'
  if ((isUsed && (!isPlainName(to) || ['value', 'all', 'row'].includes(to))) || to.trim() === '')
    throw new ProblemError([problem('bad-name', { name: to })])
}

/** A file that is included cannot be edited from here: it must not need the old name. */
function checkIncluded(raw: unknown, { context: { included = {} } }: Inside, { from, to }: Rename): void {
  const names = valueAt(raw, ['include'])
  for (const file of Array.isArray(names) ? names : []) {
    const text = typeof file === 'string' && Object.hasOwn(included, file) ? included[file] : undefined
    if (text !== undefined && wordsOf(readYaml(text, undefined).tree).has(from))
      throw new ProblemError([problem('edit-included', { file: String(file), from, to })])
  }
}

/** Labels of a renamed field, under its name. */
function labelPlaces(raw: unknown, { kind, from, source }: Rename): Path[] {
  if (kind !== 'field') return []
  const places: Path[] = [
    ['labels', from],
    ['sources', source ?? '', 'labels', from],
  ]
  return places.filter((path) => valueAt(raw, path) !== undefined)
}

/** Changes inside rules: in their keys, or in the words of their sentences. */
function ruleSteps(draft: Draft, inside: Inside, rename: Rename): Step[] {
  const { rules } = draft.spec
  if (!Array.isArray(rules)) return []
  const after = renamedNames(inside.names, rename)
  return rules.flatMap((rule: unknown, i): Step[] => {
    const raw = valueAt(inside.raw, ['rules', i])
    const form = ruleForm(raw, isPlainMap(rule))
    const changes = changesOf(rule, rename, ['rules', i])
    if (form.is === 'keys') return changes.map(({ path, value }) => ({ do: 'splice', path, value }))
    if (!isPlainMap(rule) || changes.length === 0) return []
    const sentence = renamedSentence(form.sentence, rule, changes, { after, before: inside.names, from: rename.from })
    if (sentence === undefined) throw new ProblemError([problem('edit-refused', {})])
    return sentence === form.sentence ? [] : [sentenceStep(i, form.is, sentence)]
  })
}

function renamedSentence(
  sentence: string,
  rule: Record<string, unknown>,
  changes: readonly Change[],
  { after, before, from }: { after: SentenceNames; before: SentenceNames; from: string },
): string | undefined {
  let next: unknown = rule
  for (const { path, value } of changes) next = withValue(next, path.slice(2), value)
  const { name: _name, title: _title, ...said } = next as Record<string, unknown>
  // A label that is written in place of the name stays, also where it has the name as a word.
  const label = [...before.values, ...before.statuses, ...before.exhibits].find(({ id }) => id === from)?.label
  const isKept = (written: string): boolean => {
    const rest = label === undefined || label === from ? written : written.replaceAll(label, '')
    return !wordsOf(rest).has(from)
  }
  return editedSentence(sentence, said as unknown as RuleSpec, before, { names: after, isKept })
}

/** The names that sentences may use after the rename. */
function renamedNames(names: SentenceNames, { kind, from, to }: Rename): SentenceNames {
  const renamed = (things: readonly NamedThing[]): NamedThing[] =>
    things.map((thing) =>
      thing.id === from ? { ...thing, id: to, label: thing.label === from ? to : thing.label } : thing,
    )
  if (kind === 'status') return { ...names, statuses: renamed(names.statuses) }
  if (kind === 'exhibit') return { ...names, exhibits: renamed(names.exhibits) }
  if (kind === 'pigment') return { ...names, pigments: names.pigments.map((name) => (name === from ? to : name)) }
  return kind === 'measure' || kind === 'parameter' || kind === 'field'
    ? { ...names, values: renamed(names.values) }
    : names
}
