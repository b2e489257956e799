import type { NamedThing, SentenceNames } from '../rule/grammar/names.js'
import { type SaidRules, saidRules } from '../rule/sentence/said.js'

/** A report whose rules are all in keys. */
export interface KeyedTree extends Omit<SaidRules, 'rules'> {
  tree: unknown
}

/** Turns the rules of a report that are sentences into rules in keys. */
export function withKeyedRules(tree: unknown): KeyedTree {
  const isReport = isMap(tree) && Array.isArray(tree.rules)
  const { rules, ...said } = saidRules(isReport ? tree.rules : undefined, isReport ? namesOf(tree) : NO, ['rules'])
  return { ...said, tree: isReport ? { ...tree, rules } : tree }
}

const NO: SentenceNames = { values: [], statuses: [], exhibits: [], pigments: [] }

/** The names that the file itself has; those of columns stand in the data. */
function namesOf(tree: Record<string, unknown>): SentenceNames {
  const labels = isMap(tree.labels) ? tree.labels : {}
  const sources = Object.values(isMap(tree.sources) ? tree.sources : {})
  const ofSources = sources.flatMap((source) => (isMap(source) && isMap(source.labels) ? [source.labels] : []))
  const keys = Object.assign({}, ...ofSources, labels) as Record<string, unknown>
  return {
    values: [
      ...things(tree.measures),
      ...things(tree.parameters),
      ...Object.entries(keys).map(([id, label]) => thing(id, label)),
    ],
    statuses: things(tree.statuses),
    exhibits: (Array.isArray(tree.exhibits) ? tree.exhibits : []).flatMap((exhibit: unknown) =>
      isMap(exhibit) && typeof exhibit.name === 'string' ? [thing(exhibit.name, exhibit.title)] : [],
    ),
    pigments: isMap(tree.pigments) ? Object.keys(tree.pigments) : [],
  }
}

function things(named: unknown): NamedThing[] {
  return isMap(named) ? Object.entries(named).map(([id, part]) => thing(id, isMap(part) ? part.label : undefined)) : []
}

function thing(id: string, label: unknown): NamedThing {
  return { id, label: typeof label === 'string' ? label : id }
}

function isMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
