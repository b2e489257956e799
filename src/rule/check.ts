import { bindAs, bindExpression, type Found, isBound, type Names, type Setting, typeText } from '../expression/bind.js'
import { type Bound, referencesOf, type Type, walk } from '../expression/bound.js'
import { printExpression } from '../expression/print.js'
import { meet, unitText } from '../expression/unit.js'
import { checkStyle, givenOf } from '../look/given.js'
import type { Given } from '../look/look.js'
import type { Status, Style } from '../look/style.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import type { Better } from '../table/table.js'
import type { BoundText, Checker, Kind } from './kind.js'
import { KINDS } from './kinds/index.js'
import type { Limit, Outcome, RuleSpec } from './spec.js'
import { createTell, type Tell } from './tell.js'
import type { Vocabulary } from './vocabulary.js'

/** A rule for one painted measure, checked, its expressions bound: ready to be run over any cells. */
export interface BoundRule {
  name: string
  title: string
  measure: string
  only?: readonly string[]
  levels: 'details' | 'totals' | 'all'
  grain: readonly string[]
  within: readonly string[]
  judge?: BoundText
  /** What the judged value is. */
  judged: Type
  where?: BoundText
  among?: BoundText
  seal: boolean
  // biome-ignore lint/suspicious/noExplicitAny: the plan is known to its kind alone
  kind: Kind<any>
  plan: unknown
  /** What each class gives. */
  givens: readonly Given[]
  /** Columns that must be answerable on the cells: keys and agreed fields. */
  fields: readonly string[]
  /** Measures read, the painted one included. */
  measures: readonly string[]
  /** Whether cells are compared with each other. */
  readsPopulation: boolean
}

/** Checks and binds rules. A rule with problems is left out of the result, and all its problems are told. */
export function bindRules(
  specs: readonly (RuleSpec | null)[],
  vocabulary: Vocabulary,
  at: Path,
): { rules: BoundRule[]; problems: Problem[] } {
  const problems: Problem[] = []
  const rules: BoundRule[] = []
  const names = ruleNames(specs, at, problems)
  specs.forEach((spec, i) => {
    // What the file layer could not read is told already.
    if (spec === null) return
    const path = [...at, i]
    const before = problems.length
    const tell = createTell(problems)
    const kind = kindOf(spec, tell, path)
    checkOnly(spec, vocabulary, tell, path)
    if (kind === undefined) return
    const found: BoundRule[] = []
    for (const measure of paintedMeasures(spec, vocabulary, tell, path)) {
      const own: Problem[] = []
      const rule = bindOne(spec, names[i], measure, kind, vocabulary, path, own)
      // The same mistake shows for each painted measure; it is told once.
      for (const p of own) if (!problems.some((q) => sameProblem(p, q))) problems.push(p)
      if (rule !== undefined) found.push(rule)
    }
    if (problems.length === before && spec.paused !== true) rules.push(...found)
  })
  return { rules, problems }
}

function sameProblem(a: Problem, b: Problem): boolean {
  return a.message === b.message && JSON.stringify(a.place) === JSON.stringify(b.place)
}

/** The name of each rule: its own, else a slug of its title, else its kind and number. */
function ruleNames(specs: readonly (RuleSpec | null)[], at: Path, problems: Problem[]): string[] {
  const taken = new Set<string>()
  specs.forEach((spec, i) => {
    if (spec?.name === undefined) return
    if (taken.has(spec.name))
      problems.push(problem('two-of-a-name', { name: spec.name, what: 'rules' }, { path: [...at, i, 'name'] }))
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

function kindOf(spec: RuleSpec, tell: Tell, at: Path): (typeof KINDS)[number] | undefined {
  const found = KINDS.filter((kind) => spec[kind.key] !== undefined)
  if (found.length === 1) return found[0]
  tell('one-kind', { found: found.map((k) => k.key), known: KINDS.map((k) => k.key) }, at)
  return undefined
}

function checkOnly(spec: RuleSpec, { exhibits }: Vocabulary, tell: Tell, at: Path): void {
  if (exhibits === undefined) return
  spec.only?.forEach((name, i) => {
    if (!exhibits.includes(name))
      tell('unknown-exhibit', { name, nearest: nearest(name, exhibits), known: exhibits }, [...at, 'only', i])
  })
}

function paintedMeasures(spec: RuleSpec, { measures }: Vocabulary, tell: Tell, at: Path): string[] {
  const known = [...measures.keys()]
  if (spec.paint === 'all') return known
  const list = typeof spec.paint === 'string' ? [spec.paint] : [...spec.paint]
  if (list.length === 0) tell('nothing-painted', {}, [...at, 'paint'])
  return list.filter((name, i) => {
    if (measures.has(name)) return true
    const path = typeof spec.paint === 'string' ? [...at, 'paint'] : [...at, 'paint', i]
    tell('unknown-measure', { name, nearest: nearest(name, known), known }, path)
    return false
  })
}

function listOf(names: string | readonly string[] | undefined): readonly string[] {
  return names === undefined ? [] : typeof names === 'string' ? [names] : names
}

function bindOne(
  spec: RuleSpec,
  name: string,
  measure: string,
  kind: (typeof KINDS)[number],
  vocabulary: Vocabulary,
  at: Path,
  problems: Problem[],
): BoundRule | undefined {
  const tell = createTell(problems)
  const facts = vocabulary.measures.get(measure)
  const painted: Type = facts?.type ?? { kind: 'unknown' }
  const setting = ruleSetting(vocabulary, painted)
  const bind = (text: string, path: Path, own: Setting): BoundText | undefined => {
    const result = bindExpression(text, own)
    return keep(result, path, problems)
  }
  const judge = spec.judge === undefined ? undefined : bind(spec.judge, [...at, 'judge'], setting)
  const judged: Type = spec.judge === undefined ? painted : (judge?.bound.type ?? { kind: 'unknown' })
  const inner = ruleSetting(vocabulary, judged)
  const condition = (text: string, path: Path): BoundText | undefined =>
    keep(bindAs(text, inner, 'condition', 'a condition'), path, problems)
  const where = spec.where === undefined ? undefined : condition(spec.where, [...at, 'where'])
  const among = spec.among === undefined ? undefined : condition(spec.among, [...at, 'among'])
  const within = checkNames(listOf(spec.within), [...at, 'within'], vocabulary.fields, tell)
  const grain = checkNames(listOf(spec.grain), [...at, 'grain'], vocabulary.fields, tell)
  const givens: Given[] = []
  const better = betterOf(judge?.bound, measure, vocabulary)
  const checker = createChecker({
    judged,
    better,
    measure,
    givens,
    statuses: vocabulary.statuses,
    within,
    setting: inner,
    condition,
    problems,
    hide: spec.hide,
  })
  const plan = kind.check(spec, checker, at)
  if (problems.length > 0 || plan === undefined) return undefined
  const expressions: Bound[] = [...kind.expressions(plan)]
  for (const part of [judge, where, among]) if (part !== undefined) expressions.push(part.bound)
  const needs = needsOf(expressions)
  const rule: BoundRule = {
    name,
    title: spec.title ?? name,
    measure,
    levels: spec.levels ?? 'details',
    grain,
    within,
    judged,
    seal: spec.seal ?? false,
    kind,
    plan,
    givens,
    fields: [...new Set([...needs.fields, ...within])],
    measures: [...new Set([measure, ...needs.measures])],
    readsPopulation: needs.aggregates || kind.readsPopulation(plan),
  }
  if (spec.only !== undefined) rule.only = spec.only
  if (judge !== undefined) rule.judge = judge
  if (where !== undefined) rule.where = where
  if (among !== undefined) rule.among = among
  return rule
}

function keep(result: ReturnType<typeof bindExpression>, path: Path, problems: Problem[]): BoundText | undefined {
  if (isBound(result)) return { bound: result.bound, text: printExpression(result.tree) }
  for (const p of result) problems.push({ ...p, place: { ...p.place, path } })
  return undefined
}

function checkNames(names: readonly string[], at: Path, fields: Names, tell: Tell): readonly string[] {
  for (const name of names)
    if (fields.find(name) === undefined) {
      const known = fields.all()
      tell('unknown-dimension', { name, nearest: nearest(name, known), known }, at)
    }
  return names
}

/** What stands in a rule: `value`, measures, parameters, then keys and agreed fields. */
function ruleSetting({ measures, parameters, fields }: Vocabulary, judged: Type): Setting {
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
  const names: Names = { find, all: () => ['value', ...measures.keys(), ...parameters.keys(), ...fields.all()] }
  return { what: 'a rule', names, inside: names, groups: (name) => fields.find(name) !== undefined }
}

/** A gradient's ends may also say lowest and highest, of the judged values. */
function extentSetting(setting: Setting, judged: Type): Setting {
  const find: Names['find'] = (name, source) =>
    source === undefined && (name === 'lowest' || name === 'highest')
      ? { ref: { kind: 'value', name }, type: judged }
      : setting.names.find(name, source)
  return { ...setting, names: { find, all: () => ['lowest', 'highest', ...setting.names.all()] } }
}

/** A judged measure brings its own direction; any other judge has none. */
function betterOf(judge: Bound | undefined, measure: string, { measures }: Vocabulary): Better | undefined {
  if (judge === undefined) return measures.get(measure)?.better
  if (judge.op !== 'name') return undefined
  if (judge.ref.kind === 'value') return measures.get(measure)?.better
  return judge.ref.kind === 'measure' ? measures.get(judge.ref.name)?.better : undefined
}

function needsOf(expressions: readonly Bound[]): { fields: string[]; measures: string[]; aggregates: boolean } {
  const fields: string[] = []
  const measures: string[] = []
  let aggregates = false
  for (const bound of expressions) {
    for (const ref of referencesOf(bound)) {
      if (ref.kind === 'field' || ref.kind === 'key') fields.push(ref.name)
      if (ref.kind === 'measure') measures.push(ref.name)
      if (ref.kind === 'value' && ref.name !== 'value') aggregates = true
    }
    walk(bound, (part) => {
      if (part.op !== 'aggregate') return
      aggregates = true
      if (part.within !== undefined) fields.push(...part.within)
    })
  }
  return { fields, measures, aggregates }
}

interface CheckerParts {
  judged: Type
  better: Better | undefined
  measure: string
  givens: Given[]
  statuses: Readonly<Record<string, Status>>
  within: readonly string[]
  setting: Setting
  condition(text: string, at: Path): BoundText | undefined
  problems: Problem[]
  hide: 'value' | 'icon' | undefined
}

function createChecker(parts: CheckerParts): Checker {
  const { judged, better, measure, givens, statuses, setting, condition, problems } = parts
  const tell = createTell(problems)
  const known = new Map<string, number>()
  const gives = (given: Given): number => {
    const hidden = parts.hide === undefined ? given : { ...given, hide: given.hide ?? parts.hide }
    // A smooth ramp repeats colours, and its classes must stay in step with its places: only statuses are shared.
    const shared = given.status === null ? undefined : known.get(given.status)
    if (shared !== undefined) return shared
    const made = givens.push(hidden) - 1
    if (given.status !== null) known.set(given.status, made)
    return made
  }
  return {
    judged,
    better,
    measure,
    tell,
    condition,
    gives,
    needNumber(what, at) {
      if (judged.kind === 'number' || judged.kind === 'unknown') return
      tell('wrong-type', { what, expected: 'a number to judge', found: typeText(judged) }, at)
    },
    limit(limit, at, extent = false) {
      const text = limitSource(limit)
      const bound = keep(bindExpression(text, extent ? extentSetting(setting, judged) : setting), at, problems)
      if (bound === undefined) return undefined
      if (!comparable(bound, text, judged, tell, at)) return undefined
      if (extent && !constantInGroup(bound.bound, parts.within)) {
        tell('constant-limit', { what: String(at.at(-1)) }, at, { text, from: 0, to: text.length })
        return undefined
      }
      return bound
    },
    outcome(outcome: Outcome | undefined, at, what) {
      if (outcome === undefined) {
        tell('no-look', { what }, at)
        return undefined
      }
      if (typeof outcome === 'string') return statusClass(outcome, statuses, gives, tell, at)
      const found = checkStyle(outcome, at)
      problems.push(...found)
      return found.length > 0 ? undefined : gives(givenOf(outcome as Style, null))
    },
  }
}

/** A typed number as the text of an expression: `-5` is a minus and a 5, and an exponent is written out. */
function limitSource(limit: Limit): string {
  return typeof limit === 'string' ? limit : String(limit).replace('e+', 'e')
}

function statusClass(
  name: string,
  statuses: Readonly<Record<string, Status>>,
  gives: (given: Given) => number,
  tell: Tell,
  at: Path,
): number | undefined {
  if (!Object.hasOwn(statuses, name)) {
    const known = Object.keys(statuses)
    tell('unknown-status', { name, nearest: nearest(name, known), known }, at)
    return undefined
  }
  return gives(givenOf(statuses[name], name))
}

function comparable({ bound }: BoundText, text: string, judged: Type, tell: Tell, at: Path): boolean {
  const place = { text, from: 0, to: text.length }
  const type = bound.type
  if (type.kind === 'unknown' || judged.kind === 'unknown') return true
  const ordered = (t: Type): boolean => t.kind === 'number' || t.kind === 'date'
  if (!ordered(type) || !ordered(judged) || type.kind !== judged.kind) {
    tell('unlike-types', { left: typeText(judged), right: typeText(type), verb: 'compared' }, at, place)
    return false
  }
  if (type.kind !== 'number' || judged.kind !== 'number' || type.zero) return true
  if (meet(judged.unit, type.unit) !== undefined) return true
  tell(
    'unlike-units',
    {
      left: unitText(judged.unit),
      right: unitText(type.unit),
      verb: 'compared',
      advice: unitAdvice(bound, judged, text),
    },
    at,
    place,
  )
  return false
}

/** The way out of a percent that is missing, or that does not say of what. */
function unitAdvice(bound: Bound, judged: Type, text: string): string | undefined {
  if (judged.kind === 'number' && judged.unit.is === 'percent' && bound.op === 'number')
    return `did you mean ${bound.value > 1 ? bound.value : Number((bound.value * 100).toPrecision(12))}%?`
  if (bound.type.kind === 'number' && bound.type.unit.is === 'percent') return `say of what, as in ${text} of target`
  return undefined
}

/** Outside aggregates nothing may differ from cell to cell, and aggregates keep to the rule's own groups. */
function constantInGroup(bound: Bound, within: readonly string[]): boolean {
  if (bound.op === 'aggregate') {
    const own = bound.within
    return own === undefined || own.length === 0 || own.every((name) => within.includes(name))
  }
  if (bound.op === 'name')
    return bound.ref.kind === 'parameter' || (bound.ref.kind === 'value' && bound.ref.name !== 'value')
  if (bound.op === 'call') return bound.args.every((b) => constantInGroup(b, within))
  if (bound.op === 'arithmetic' || bound.op === 'compare' || bound.op === 'and' || bound.op === 'or')
    return constantInGroup(bound.left, within) && constantInGroup(bound.right, within)
  if (bound.op === 'negate' || bound.op === 'not') return constantInGroup(bound.of, within)
  if (bound.op === 'if') return [bound.test, bound.yes, bound.no].every((b) => constantInGroup(b, within))
  return bound.op === 'number'
}
