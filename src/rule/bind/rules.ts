import { bindAs, bindExpression, type Found, type Names, type Setting } from '../../expression/bind.js'
import { type Bound, referencesOf, type Type, walk } from '../../expression/bound.js'
import { meet, unitText } from '../../expression/unit.js'
import { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, problem } from '../../problem/problem.js'
import type { LevelName, RuleSpec } from '../../spec/rules.js'
import type { Effect } from '../../style/cell-style.js'
import type { Better } from '../../table/table.js'
import { CHECKS } from '../kinds/checks.js'
import { KINDS } from '../kinds/registry.js'
import { LEVELS } from '../levels.js'
import type { BoundRule, BoundText } from '../model.js'
import { ROW } from '../row.js'
import { writeSentence } from '../sentence/parse.js'
import { keep, RuleChecker } from './checker.js'
import type { Vocabulary } from './vocabulary.js'

/**
 * Checks and binds rules. A rule with problems is left out of the result, and all its problems are
 * reported.
 */
export function bindRules(
  specs: readonly (RuleSpec | null)[],
  vocabulary: Vocabulary,
  at: Path,
): { rules: BoundRule[]; problems: Problem[]; notes: Problem[] } {
  const problems: Problem[] = []
  const diagnostics = new Diagnostics(problems, at)
  const notes: Problem[] = []
  const rules: BoundRule[] = []
  const names = ruleNames(specs, diagnostics)
  const settings = createSettings(vocabulary)
  specs.forEach((spec, i) => {
    // Invalid rules were reported when the file was read.
    if (spec === null) return
    const here = diagnostics.at(i)
    const before = problems.length
    const kind = ruleKindOf(spec, here)
    checkOnly(spec, vocabulary, here)
    if (spec.among?.trim() === 'everything')
      here.at('among').report('renamed', { old: 'among: everything', now: 'among: unfiltered' })
    const boundRules: BoundRule[] = []
    const painted = paintedNames(spec, vocabulary, here)
    const together = spec.oneScale === true ? checkTogether(painted, spec, vocabulary, here) : []
    for (const target of painted) {
      const ruleProblems: Problem[] = []
      const inner = new Diagnostics(ruleProblems, here.path)
      const rule = bindOne(spec, { index: i, name: names[i], target, together, kind, vocabulary, settings, at: inner })
      // Every painted measure shows the same mistake; it is reported once.
      for (const p of ruleProblems) if (!problems.some((q) => sameProblem(p, q))) problems.push(p)
      if (rule !== undefined) boundRules.push(rule)
    }
    const file = vocabulary.shared?.(i)
    const ruleProblems = problems.slice(before)
    // A shared rule may name what this report does not have: it is skipped, with a message.
    if (file !== undefined && ruleProblems.length > 0 && ruleProblems.every((p) => ABSENT.has(p.code))) {
      problems.length = before
      const [{ params }] = ruleProblems
      notes.push(
        problem('note-shared-skips', { rule: names[i], file, name: 'name' in params ? String(params.name) : '' }),
      )
      return
    }
    if (problems.length === before) rules.push(...boundRules)
  })
  return { rules, problems, notes }
}

/** Problems of names that do not exist. */
const ABSENT: ReadonlySet<string> = new Set(['unknown-name', 'unknown-measure', 'unknown-dimension', 'unknown-exhibit'])

function sameProblem(a: Problem, b: Problem): boolean {
  return a.message === b.message && JSON.stringify(a.place) === JSON.stringify(b.place)
}

/** The name of each rule: written, else a slug of its title, else its kind and number. */
export function ruleNames(specs: readonly (RuleSpec | null)[], at: Diagnostics): string[] {
  const taken = new Set<string>()
  specs.forEach((spec, i) => {
    if (spec?.name === undefined) return
    if (taken.has(spec.name)) at.at(i, 'name').report('two-of-a-name', { name: spec.name, what: 'rules' })
    taken.add(spec.name)
  })
  return specs.map((spec, i) => {
    if (spec === null) return ''
    if (spec.name !== undefined) return spec.name
    const slug = (spec.title ?? '')
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-+|-+$/g, '')
    const base = slug === '' ? `${KINDS.find((k) => spec[k.key] !== undefined)?.key ?? 'rule'}-${i + 1}` : slug
    let name = base
    for (let k = 2; taken.has(name); k++) name = `${base}-${k}`
    taken.add(name)
    return name
  })
}

function ruleKindOf(spec: RuleSpec, at: Diagnostics): (typeof KINDS)[number] | undefined {
  const kinds = KINDS.filter((kind) => spec[kind.key] !== undefined)
  if (kinds.length === 1) return kinds[0]
  at.report('one-kind', { found: kinds.map((k) => k.key), known: KINDS.map((k) => k.key) })
  return undefined
}

function checkOnly(spec: RuleSpec, { exhibits }: Vocabulary, at: Diagnostics): void {
  if (exhibits === undefined) return
  spec.only?.forEach((name, i) => {
    if (!exhibits.includes(name))
      at.at('only', i).report('unknown-exhibit', { name, nearest: nearest(name, exhibits), known: exhibits })
  })
}

interface Target {
  name: string
  is: BoundRule['target']
}

/**
 * The targets of a rule: measures, then fields and row headings by name; `row` is whole rows, `all`
 * every measure.
 */
function paintedNames(spec: RuleSpec, vocabulary: Vocabulary, at: Diagnostics): Target[] {
  const { measures, fields } = vocabulary
  // A column without values has no kind yet; it is painted only if it is named.
  if (spec.paint === 'all')
    return [...measures].flatMap(([name, { type }]): Target[] =>
      type.kind === 'blank' ? [] : [{ name, is: 'measure' }],
    )
  const list = typeof spec.paint === 'string' ? [spec.paint] : [...spec.paint]
  if (list.length === 0) at.at('paint').report('nothing-painted', {})
  return list.flatMap((name, i): Target[] => {
    const path = typeof spec.paint === 'string' ? at.at('paint') : at.at('paint', i)
    if (measures.has(name)) return [{ name, is: 'measure' }]
    if (name === 'row') {
      // `fromColumn` needs no value; all other kinds must know which value of the row decides.
      if (spec.judge === undefined && spec.fromColumn === undefined) path.report('row-needs-judge', {})
      return [{ name: ROW, is: 'row' }]
    }
    if (fields.find(name) !== undefined) return [{ name, is: 'field' }]
    const candidates = [...measures.keys()]
    const all = [...candidates, ...fields.all()]
    path.report('unknown-measure', { name, nearest: nearest(name, all), known: candidates })
    // The rest of the rule is checked all the same.
    return [{ name, is: 'measure' }]
  })
}

/**
 * Measures, or columns of numbers in records, on one scale are compared with each other, so they
 * must have one unit.
 */
function checkTogether(
  painted: readonly Target[],
  spec: RuleSpec,
  { measures, fields }: Vocabulary,
  at: Diagnostics,
): readonly string[] {
  const path = at.at('oneScale')
  const names = painted.map(({ name }) => name)
  const types = painted.map(({ name, is }) => (is === 'field' ? fields.find(name) : measures.get(name))?.type)
  const isOther = (i: number): boolean => painted[i].is === 'field' && types[i]?.kind !== 'number'
  if (painted.length < 2 || painted.some(({ is }, i) => is === 'row' || isOther(i))) {
    path.report('one-scale-two', {})
    return []
  }
  const units = types.filter((type) => type?.kind === 'number')
  for (const type of units)
    if (spec.judge === undefined && units[0] !== undefined && meet(units[0].unit, type.unit) === undefined)
      path.report('unlike-units', { left: unitText(units[0].unit), right: unitText(type.unit), verb: 'compared' })
  return names
}

/** The levels of a rule. */
function levelsOf(levels: RuleSpec['levels'] = 'detail'): readonly LevelName[] {
  if (levels === 'all') return LEVELS
  return typeof levels === 'string' ? [levels] : levels
}

function asNames(names: string | readonly string[] | undefined): readonly string[] {
  return names === undefined ? [] : typeof names === 'string' ? [names] : names
}

interface One {
  index: number
  name: string
  target: Target
  together: readonly string[]
  kind: (typeof KINDS)[number] | undefined
  vocabulary: Vocabulary
  settings: (judged: Type) => Setting
  /** Where the rule stands; problems of this target alone go there. */
  at: Diagnostics
}

/** The population without the reader's filters. */
const UNFILTERED = 'unfiltered'

function bindOne(
  spec: RuleSpec,
  { index, name, target, together, kind, vocabulary, settings, at }: One,
): BoundRule | undefined {
  const measure = target.name
  const painted = paintedType(target, vocabulary)
  const setting = settings(painted)
  const judge = spec.judge === undefined ? undefined : keep(bindExpression(spec.judge, setting), at.at('judge'))
  const judged: Type = spec.judge === undefined ? painted : (judge?.bound.type ?? { kind: 'unknown' })
  const inner = settings(judged)
  const condition = (text: string, path: Diagnostics): BoundText | undefined =>
    keep(bindAs(text, inner, 'condition', 'a condition'), path)
  const where = spec.where === undefined ? undefined : condition(spec.where, at.at('where'))
  const population = spec.among?.trim()
  const isNamed = population === undefined || population === UNFILTERED || population === 'everything'
  const among = isNamed ? undefined : condition(population, at.at('among'))
  const within = checkNames(asNames(spec.within), at.at('within'), vocabulary.fields)
  const grain = checkNames(asNames(spec.grain), at.at('grain'), vocabulary.fields)
  const givens: Effect[] = []
  const better = betterOf(judge?.bound, measure, vocabulary)
  const flagged: string[] = []
  const checker = new RuleChecker({
    judged,
    better,
    measure,
    givens,
    statuses: vocabulary.statuses,
    palette: vocabulary.palette,
    within,
    vocabulary,
    flagged,
    setting: inner,
    diagnostics: at,
    hide: spec.hide,
    icon: spec.icon,
  })
  const plan = kind && CHECKS[kind.key].check(spec, checker, at)
  if (at.problems.length > 0 || kind === undefined || plan === undefined) return undefined
  const expressions: Bound[] = [...kind.expressions(plan)]
  for (const part of [judge, where, among]) if (part !== undefined) expressions.push(part.bound)
  const needs = needsOf(expressions)
  const levels = levelsOf(spec.levels)
  const rule: BoundRule = {
    name,
    title: spec.title ?? name,
    index,
    text: '',
    measure,
    target: target.is,
    oneScale: together,
    paused: spec.paused ?? false,
    levels,
    grain,
    within,
    judged,
    final: spec.final ?? false,
    skipsUnfinished: spec.unfinished === 'unpainted',
    kind,
    plan,
    effects: givens,
    fields: eachOnce(target.is === 'field' ? [measure] : [], needs.fields, within),
    measures: eachOnce(
      target.is === 'measure' ? [measure] : [],
      together,
      needs.measures,
      flagged.filter((name) => vocabulary.measures.has(name)),
    ),
    parameters: needs.parameters,
    readsPopulation: needs.aggregates || kind.readsPopulation(plan),
  }
  if (judge !== undefined) rule.judge = judge
  if (where !== undefined) rule.where = where
  if (among !== undefined) rule.among = among
  if (population === UNFILTERED) rule.amongUnfiltered = true
  takeOptions(rule, spec)
  return withSentence(rule, spec)
}

/** The sentence is written on demand, as most rules are run without being read. */
function withSentence(rule: BoundRule, spec: RuleSpec): BoundRule {
  let text: string | undefined
  return Object.defineProperty(rule, 'text', {
    enumerable: true,
    get() {
      text ??= writeSentence(spec)
      return text
    },
  })
}

/** The keys that need no binding, where they are written. */
function takeOptions(rule: BoundRule, { only, hide, icon }: RuleSpec): void {
  if (only !== undefined) rule.only = only
  if (hide !== undefined) rule.hide = hide
  if (icon === 'after') rule.iconAfter = true
}

/** For such short lists a Set is slower. */
function eachOnce(...lists: readonly (readonly string[])[]): string[] {
  const out: string[] = []
  for (const list of lists) for (const name of list) if (!out.includes(name)) out.push(name)
  return out
}

function paintedType({ name, is }: Target, { measures, fields }: Vocabulary): Type {
  if (is === 'measure') return measures.get(name)?.type ?? { kind: 'unknown' }
  // A row has no single value except that of `judge`.
  return (is === 'field' ? fields.find(name)?.type : undefined) ?? { kind: 'unknown' }
}

function checkNames(names: readonly string[], at: Diagnostics, fields: Names): readonly string[] {
  for (const name of names)
    if (fields.find(name) === undefined) {
      const candidates = fields.all()
      at.report('unknown-dimension', { name, nearest: nearest(name, candidates), known: candidates })
    }
  return names
}

/** The setting of each judged type, cached: most rules judge one of a few measures. */
function createSettings(vocabulary: Vocabulary): (judged: Type) => Setting {
  const settings = new Map<Type, Setting>()
  return (judged) => {
    const setting = settings.get(judged) ?? ruleSetting(vocabulary, judged)
    settings.set(judged, setting)
    return setting
  }
}

/** Names in a rule: `value`, measures, parameters, then keys and uniform fields. */
export function ruleSetting({ measures, parameters, fields }: Vocabulary, judged: Type): Setting {
  const find = (name: string, source?: string): Found | undefined => {
    if (source !== undefined) return fields.find(name, source)
    if (name === 'value') return { ref: { kind: 'value', name }, type: judged }
    const measure = measures.get(name)
    if (measure !== undefined) return { ref: { kind: 'measure', name }, type: measure.type }
    const parameter = parameters.get(name)
    if (parameter !== undefined)
      return { ref: { kind: 'parameter', name }, type: { kind: 'number', unit: parameter.unit, zero: false } }
    return fields.find(name)
  }
  const names: Names = {
    find,
    all: () => [...new Set(['value', ...measures.keys(), ...parameters.keys(), ...fields.all()])],
  }
  return { what: 'a rule', names, inside: names, cells: true, groups: (name) => fields.find(name) !== undefined }
}

/** A judged measure has its own direction; any other expression has none. */
function betterOf(judge: Bound | undefined, measure: string, { measures }: Vocabulary): Better | undefined {
  if (judge === undefined) return measures.get(measure)?.better
  if (judge.op !== 'name') return undefined
  if (judge.ref.kind === 'value') return measures.get(measure)?.better
  return judge.ref.kind === 'measure' ? measures.get(judge.ref.name)?.better : undefined
}

function needsOf(expressions: readonly Bound[]): {
  fields: string[]
  measures: string[]
  parameters: string[]
  aggregates: boolean
} {
  const fields: string[] = []
  const parameters: string[] = []
  const measures: string[] = []
  let aggregates = false
  for (const bound of expressions) {
    for (const ref of referencesOf(bound)) {
      if (ref.kind === 'field' || ref.kind === 'key') fields.push(ref.name)
      if (ref.kind === 'measure') measures.push(ref.name)
      if (ref.kind === 'parameter') parameters.push(ref.name)
      if (ref.kind === 'value' && ref.name !== 'value') aggregates = true
    }
    walk(bound, (part) => {
      if (part.op !== 'aggregate' && part.op !== 'beside') return
      aggregates = true
      if (part.within !== undefined) fields.push(...part.within)
    })
  }
  return { fields, measures, parameters, aggregates }
}
