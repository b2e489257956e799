import { nearest } from '../problem/nearest.js'
import { inFileOrder } from '../problem/order.js'
import { type Problem, problem } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'
import { askedOf, wordsOf } from './asked.js'
import type { KeyedReport, ReportFile } from './report-file.js'
import { type KeyedTree, withKeyedRules } from './rules.js'
import { shapeReport } from './shape.js'
import { readYaml } from './yaml.js'

/** The parts of a report that are shared by name. */
const SHARED = ['statuses', 'parameters', 'pigments', 'icons', 'sources', 'measures', 'labels'] as const
const KEYS: readonly string[] = ['title', 'note', 'calendar', ...SHARED, 'fields', 'rules']

interface SharedFile {
  file: string
  spec: KeyedReport | undefined
  problems: Problem[]
  again: KeyedTree['again']
  place(problem: Problem): Problem
}

/** Parts by name, and the shared file of each that the report does not define itself. */
interface Merged {
  all: Record<string, unknown>
  owners: Map<string, SharedFile>
}

/**
 * A report with the files that it includes. Of what is shared by name the report's own wins; shared
 * rules come after its own. Shared measures and fields that it does not ask for are left out, and
 * so are sources without `lookup`. `read` returns the text of a file by its name, undefined if it
 * does not exist.
 */
export function withIncluded(report: ReportFile, read: (name: string) => string | undefined): ReportFile {
  const { spec } = report
  const names = spec?.include ?? []
  if (spec === undefined || names.length === 0) return report
  const problems: Problem[] = [...report.problems]
  const sets = names.flatMap((name, i): SharedFile[] => {
    const text = read(name)
    if (text !== undefined) return [readShared(text, name)]
    problems.push(report.place(problem('include-missing', { file: name }, { path: ['include', i] })))
    return []
  })
  for (const set of sets) problems.push(...set.problems)
  const merged: KeyedReport = { ...spec }
  const owner = new Map<string, SharedFile>()
  for (const key of SHARED) {
    const { all, owners } = mergedBy(
      sets.map((set) => ({ set, parts: set.spec?.[key] ?? {} })),
      spec[key] ?? {},
    )
    for (const [name, set] of owners) owner.set(`${key} ${name}`, set)
    if (Object.keys(all).length > 0) Object.assign(merged, { [key]: all })
  }
  for (const [name, set] of mergeFields(spec, sets, merged)) owner.set(`fields ${name}`, set)
  for (const set of sets)
    if (set.spec?.calendar !== undefined) merged.calendar = { ...set.spec.calendar, ...spec.calendar }
  merged.sources = inOrder(spec.sources, merged.sources)
  const ownRules = spec.rules ?? []
  const behind = appliedRules(rulesBehind(ownRules, sets), spec, merged)
  if (ownRules.length + behind.length > 0) merged.rules = [...ownRules, ...behind.map(({ rule }) => rule)]
  leaveOut(merged, { ...spec, rules: merged.rules }, owner)
  return {
    file: report.file,
    spec: merged,
    problems: inFileOrder(problems),
    rulesWith: (columns) => [
      ...(report.rulesWith?.(columns) ?? ownRules),
      ...behind.map(({ rule, set, index }) => set.again(index, columns) ?? rule),
    ],
    sharedRules: behind.map(({ set }, k) => ({ index: ownRules.length + k, file: set.file })),
    place(p) {
      const [root, name, ...rest] = p.place.path ?? []
      if (root === 'rules' && typeof name === 'number' && name >= ownRules.length) {
        const place = behind[name - ownRules.length]
        if (place !== undefined)
          return place.set.place({ ...p, place: { ...p.place, path: ['rules', place.index, ...rest] } })
      }
      const id = root === 'fields' ? `${root} ${name} ${rest[0]}` : `${root} ${name}`
      return (owner.get(id) ?? report).place(p)
    },
  }
}

/** Later files replace earlier ones, and the report's own parts replace all. */
function mergedBy(
  shared: readonly { set: SharedFile; parts: Readonly<Record<string, unknown>> }[],
  own: Readonly<Record<string, unknown>>,
): Merged {
  const all: Record<string, unknown> = {}
  const owners = new Map<string, SharedFile>()
  const put = (name: string, value: unknown): void => {
    Object.defineProperty(all, name, { value, enumerable: true, configurable: true })
  }
  for (const { set, parts } of shared)
    for (const [name, value] of Object.entries(parts)) {
      put(name, value)
      owners.set(name, set)
    }
  for (const [name, value] of Object.entries(own)) {
    put(name, value)
    owners.delete(name)
  }
  return { all, owners }
}

/** Fields are shared one by one, by source and name. */
function mergeFields(spec: KeyedReport, sets: readonly SharedFile[], merged: KeyedReport): Map<string, SharedFile> {
  const owner = new Map<string, SharedFile>()
  const bySource: Record<string, Record<string, string>> = {}
  const sources = [...sets.map((set) => set.spec), spec].flatMap((one) => Object.keys(one?.fields ?? {}))
  for (const source of new Set(sources)) {
    const { all, owners } = mergedBy(
      sets.map((set) => ({ set, parts: set.spec?.fields?.[source] ?? {} })),
      spec.fields?.[source] ?? {},
    )
    for (const [name, set] of owners) owner.set(`${source} ${name}`, set)
    Object.defineProperty(bySource, source, { value: all, enumerable: true, configurable: true })
  }
  if (sources.length > 0) merged.fields = bySource
  return owner
}

/**
 * The report's own sources come first, unless they are further tables alone: with `match` or
 * `lookup`. The first of all is home.
 */
function inOrder(own: ReportSpec['sources'], all: ReportSpec['sources']): ReportSpec['sources'] {
  const names = Object.keys(own)
  const isFurther = names.every((name) => own[name].match !== undefined || own[name].lookup !== undefined)
  const shared = Object.keys(all).filter((name) => !names.includes(name))
  const order = isFurther ? [...shared, ...names] : [...names, ...shared]
  return Object.fromEntries(order.map((name) => [name, all[name]]))
}

interface SharedRule {
  rule: NonNullable<KeyedReport['rules']>[number]
  set: SharedFile
  index: number
}

function rulesBehind(own: NonNullable<KeyedReport['rules']>, sets: readonly SharedFile[]): SharedRule[] {
  const taken = new Set(own.map((rule) => rule?.name))
  return sets.flatMap((set) =>
    (set.spec?.rules ?? []).flatMap((rule, index) => {
      if (rule === null || (rule.name !== undefined && taken.has(rule.name))) return []
      taken.add(rule.name)
      return [{ rule, set, index }]
    }),
  )
}

/** Without the shared rules that paint shared measures alone which the report does not show. */
function appliedRules(rules: readonly SharedRule[], own: KeyedReport, { measures = {} }: KeyedReport): SharedRule[] {
  const words = wordsOf(own)
  return rules.filter(({ rule }) => {
    const painted = rule === null ? [] : typeof rule.paint === 'string' ? [rule.paint] : rule.paint
    return painted.length === 0 || painted.some((name) => words.has(name) || !Object.hasOwn(measures, name))
  })
}

/** Leaves out what is shared and nothing asks for. Home and lookup tables stay. */
function leaveOut(merged: KeyedReport, own: KeyedReport, owner: ReadonlyMap<string, SharedFile>): void {
  // Names of files and titles ask for nothing.
  const { title: _title, note: _note, sources, ...texts } = own
  const asked = askedOf([texts, Object.values(sources).map(({ match }) => match)], merged)
  const keep = <T>(
    parts: Readonly<Record<string, T>>,
    kept: (name: string, part: T, i: number) => boolean,
  ): Record<string, T> => Object.fromEntries(Object.entries(parts).filter(([name, part], i) => kept(name, part, i)))
  if (merged.measures !== undefined)
    merged.measures = keep(merged.measures, (name) => !owner.has(`measures ${name}`) || asked.measures.has(name))
  merged.sources = keep(
    merged.sources,
    (name, { lookup }, i) =>
      i === 0 || (lookup ?? false) !== false || !owner.has(`sources ${name}`) || asked.sources.has(name),
  )
  if (merged.fields === undefined) return
  const fields = Object.entries(merged.fields).filter(
    ([source]) => Object.hasOwn(merged.sources, source) || Object.hasOwn(own.fields ?? {}, source),
  )
  merged.fields = Object.fromEntries(
    fields.map(([source, parts]) => [
      source,
      keep(parts, (name) => !owner.has(`fields ${source} ${name}`) || asked.fields.has(name)),
    ]),
  )
}

/** Files of shared sources are found from the folder of the shared file. */
function readShared(text: string, file: string): SharedFile {
  const read = readYaml(text, file)
  const keyed = withKeyedRules(read.tree)
  const place = (p: Problem): Problem => keyed.place(p, read.place)
  if (typeof read.tree !== 'object' || read.tree === null || Array.isArray(read.tree)) {
    const problems = read.problems.length > 0 ? read.problems : [problem('file-empty', {}, { file })]
    return { file, spec: undefined, problems: [...problems], again: keyed.again, place }
  }
  const problems: Problem[] = [...read.problems, ...keyed.problems.map(place)]
  const kept: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(keyed.tree as object)) {
    if (KEYS.includes(key)) Object.defineProperty(kept, key, { value, enumerable: true })
    else if (key === 'include') problems.push(place(problem('include-nested', {}, { path: [key] })))
    else
      problems.push(place(problem('unknown-key', { key, nearest: nearest(key, KEYS), known: KEYS }, { path: [key] })))
  }
  // The other parts of a report are filled in, so that one schema reads both.
  const shaped = shapeReport({ title: file, sources: {}, exhibits: [], ...kept })
  const spec = shaped.spec && { ...shaped.spec, sources: fromFolder(shaped.spec.sources, file) }
  return {
    file,
    spec,
    problems: [...problems, ...shaped.problems.filter((p) => !keyed.isTold(p)).map(place)],
    again: keyed.again,
    place,
  }
}

function fromFolder(sources: ReportSpec['sources'], file: string): ReportSpec['sources'] {
  const folder = file.slice(0, Math.max(file.lastIndexOf('/'), file.lastIndexOf('\\')) + 1)
  const isWhole = (name: string): boolean => name === 'stdin' || /^([a-z]:)?[\\/]/i.test(name)
  return Object.fromEntries(
    Object.entries(sources).map(([name, source]) => [
      name,
      source.file === undefined || isWhole(source.file) ? source : { ...source, file: `${folder}${source.file}` },
    ]),
  )
}
