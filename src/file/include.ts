import { nearest } from '../problem/nearest.js'
import { inFileOrder } from '../problem/order.js'
import { type Problem, problem } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'
import type { ReportFile } from './report-file.js'
import { shapeReport } from './shape.js'
import { readYaml } from './yaml.js'

/** The parts of a report that a rule set may hold. */
const SHARED = ['statuses', 'parameters', 'pigments', 'icons'] as const
const KEYS: readonly string[] = ['title', 'note', ...SHARED, 'rules']

interface RuleSet {
  file: string
  spec: ReportSpec | undefined
  problems: Problem[]
  place(problem: Problem): Problem
}

/**
 * A report with the rule sets that it includes: their statuses, parameters, pigments and icons
 * where the report has none of that name, and their rules after its own. `read` returns the text of
 * a rule set by its name, undefined if it does not exist.
 */
export function withIncluded(report: ReportFile, read: (name: string) => string | undefined): ReportFile {
  const { spec } = report
  const names = spec?.include ?? []
  if (spec === undefined || names.length === 0) return report
  const problems: Problem[] = [...report.problems]
  const sets = names.flatMap((name, i): RuleSet[] => {
    const text = read(name)
    if (text !== undefined) return [readRuleSet(text, name)]
    problems.push(report.place(problem('include-missing', { file: name }, { path: ['include', i] })))
    return []
  })
  for (const set of sets) problems.push(...set.problems)
  const merged: ReportSpec = { ...spec }
  /** The rule set of each name that the report does not define itself. */
  const owner = new Map<string, RuleSet>()
  for (const key of SHARED) {
    const all: Record<string, unknown> = {}
    const put = (name: string, value: unknown): void => {
      Object.defineProperty(all, name, { value, enumerable: true, configurable: true })
    }
    for (const set of sets)
      for (const [name, value] of Object.entries(set.spec?.[key] ?? {})) {
        put(name, value)
        owner.set(`${key} ${name}`, set)
      }
    for (const [name, value] of Object.entries(spec[key] ?? {})) {
      put(name, value)
      owner.delete(`${key} ${name}`)
    }
    if (Object.keys(all).length > 0) Object.assign(merged, { [key]: all })
  }
  const ownRules = spec.rules ?? []
  const taken = new Set(ownRules.map((rule) => rule?.name))
  const behind = sets.flatMap((set) =>
    (set.spec?.rules ?? []).flatMap((rule, index) => {
      if (rule === null || (rule.name !== undefined && taken.has(rule.name))) return []
      taken.add(rule.name)
      return [{ rule, set, index }]
    }),
  )
  if (ownRules.length + behind.length > 0) merged.rules = [...ownRules, ...behind.map(({ rule }) => rule)]
  return {
    file: report.file,
    spec: merged,
    problems: inFileOrder(problems),
    sharedRules: behind.map(({ set }, k) => ({ index: ownRules.length + k, file: set.file })),
    place(p) {
      const [root, name, ...rest] = p.place.path ?? []
      if (root === 'rules' && typeof name === 'number' && name >= ownRules.length) {
        const place = behind[name - ownRules.length]
        if (place !== undefined)
          return place.set.place({ ...p, place: { ...p.place, path: ['rules', place.index, ...rest] } })
      }
      return (owner.get(`${root} ${name}`) ?? report).place(p)
    },
  }
}

function readRuleSet(text: string, file: string): RuleSet {
  const read = readYaml(text, file)
  const { place } = read
  if (typeof read.tree !== 'object' || read.tree === null || Array.isArray(read.tree)) {
    const problems = read.problems.length > 0 ? read.problems : [problem('file-empty', {}, { file })]
    return { file, spec: undefined, problems: [...problems], place }
  }
  const problems: Problem[] = [...read.problems]
  const kept: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(read.tree)) {
    if (KEYS.includes(key)) Object.defineProperty(kept, key, { value, enumerable: true })
    else if (key === 'include') problems.push(place(problem('include-nested', {}, { path: [key] })))
    else
      problems.push(place(problem('unknown-key', { key, nearest: nearest(key, KEYS), known: KEYS }, { path: [key] })))
  }
  // The other parts of a report are filled in, so that one schema reads both.
  const shaped = shapeReport({ title: file, sources: {}, exhibits: [], ...kept })
  return { file, spec: shaped.spec, problems: [...problems, ...shaped.problems.map(place)], place }
}
