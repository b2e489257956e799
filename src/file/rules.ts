import type { NamedThing, SentenceNames } from '../rule/grammar/names.js'
import { type SaidRules, saidRules } from '../rule/written/said.js'
import type { RuleSpec } from '../spec/rules.js'
import type { KeyedReport } from './report-file.js'

/** A report whose rules are all in keys. */
export interface KeyedTree extends Omit<SaidRules, 'rules' | 'again'> {
  tree: unknown
  /** A sentence read again with the columns of the data; undefined for a rule in keys. */
  again(index: number, columns: readonly string[]): RuleSpec | undefined
}

/**
 * Turns the rules of a report that are sentences into rules in keys.
 *
 * @param own the names that sentences may use; default: those of the report itself.
 */
export function withKeyedRules(tree: unknown, own?: SentenceNames): KeyedTree {
  const isReport = isMap(tree) && Array.isArray(tree.rules)
  const names = own ?? (isReport ? namesOfReport(tree) : NO)
  const { rules, again, ...said } = saidRules(isReport ? tree.rules : undefined, names, ['rules'])
  let known: { columns: readonly string[]; names: SentenceNames } | undefined
  return {
    ...said,
    tree: isReport ? { ...tree, rules } : tree,
    again(index, columns) {
      if (!isReport) return undefined
      if (known?.columns !== columns) known = { columns, names: namesOfReport(tree, columns) }
      return again(index, known.names)
    },
  }
}

const NO: SentenceNames = { values: [], statuses: [], exhibits: [], pigments: [] }

/**
 * The names that a report has in its file; those of columns stand in the data.
 *
 * @param columns the columns that are known to be keys.
 */
export function namesOfReport(tree: Record<string, unknown>, columns: readonly string[] = []): SentenceNames {
  const labels = isMap(tree.labels) ? tree.labels : {}
  const sources = Object.values(isMap(tree.sources) ? tree.sources : {})
  const ofSources = sources.flatMap((source) => (isMap(source) && isMap(source.labels) ? [source.labels] : []))
  const keys = Object.assign({}, ...ofSources, labels) as Record<string, unknown>
  return {
    values: [
      ...things(tree.measures).map((one): NamedThing => ({ ...one, is: 'measure', ...shareOf(tree.measures, one.id) })),
      ...things(tree.parameters).map((one): NamedThing => ({ ...one, is: 'parameter' })),
      ...keysOf(tree, { ...Object.fromEntries(columns.map((name) => [name, name])), ...keys }),
    ],
    statuses: things(tree.statuses).map((one) => ({ ...one, ...verdictOf(tree.statuses, one.id) })),
    exhibits: (Array.isArray(tree.exhibits) ? tree.exhibits : []).flatMap((exhibit: unknown) =>
      isMap(exhibit) && typeof exhibit.name === 'string'
        ? [{ ...thing(exhibit.name, exhibit.title), shows: shownBy(exhibit) }]
        : [],
    ),
    pigments: isMap(tree.pigments) ? Object.keys(tree.pigments) : [],
  }
}

/** The keys that have labels, and those that exhibits are split by. */
function keysOf({ exhibits }: Record<string, unknown>, labels: Record<string, unknown>): NamedThing[] {
  const names = new Map(Object.entries(labels))
  for (const exhibit of Array.isArray(exhibits) ? exhibits : [])
    for (const part of isMap(exhibit) ? Object.values(exhibit) : [])
      for (const name of isMap(part) ? [part.rows, part.columns, part.along].flat() : [])
        if (typeof name === 'string' && !names.has(name)) names.set(name, name)
  return [...names].map(([id, label]): NamedThing => ({ ...thing(id, label), is: 'key' }))
}

/** The measures and fields that an exhibit shows. */
function shownBy(exhibit: Record<string, unknown>): string[] {
  return Object.values(exhibit)
    .flatMap((part) => (isMap(part) ? [part.show].flat() : []))
    .flatMap((one) =>
      typeof one === 'string' ? [one] : isMap(one) && typeof one.measure === 'string' ? [one.measure] : [],
    )
}

function shareOf(measures: unknown, id: string): Pick<NamedThing, 'isShare'> {
  const measure = isMap(measures) ? measures[id] : undefined
  const format = isMap(measure) ? measure.format : undefined
  return typeof format === 'string' && format.startsWith('percent') ? { isShare: true } : {}
}

function verdictOf(statuses: unknown, id: string): Pick<NamedThing, 'verdict'> {
  const status = isMap(statuses) ? statuses[id] : undefined
  const verdict = isMap(status) ? status.verdict : undefined
  return verdict === 'good' || verdict === 'fair' || verdict === 'bad' ? { verdict } : {}
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

/** The rules of a report with the columns of its data known; invalid ones stay null. */
export function rulesWith(
  spec: KeyedReport | undefined,
  { again }: Pick<KeyedTree, 'again'>,
): (columns: readonly string[]) => readonly RuleSpec[] {
  return (columns) => (spec?.rules ?? []).map((rule, i) => (rule === null ? rule : (again(i, columns) ?? rule)))
}
