import { namesOfReport, withKeyedRules } from '../file/rules.js'
import { shapeReport } from '../file/shape.js'
import { readYaml } from '../file/yaml.js'
import { inFileOrder } from '../problem/order.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { SentenceNames } from '../rule/grammar/names.js'
import { isPlainMap } from './text/plain.js'

/** A report file while it is edited. It may have mistakes. */
export interface Draft {
  /** The text of the file, byte for byte. */
  readonly text: string
  /**
   * What the file says, without what it includes: rules that are sentences are in keys, except
   * those that cannot be read, which stay texts. Empty while the text is no YAML or JSON.
   */
  readonly spec: Readonly<Record<string, unknown>>
  /** What is wrong with the text, with line and column; empty if nothing is. */
  readonly problems: readonly Problem[]
  /** Why the last edit was not made; left out if it was. */
  readonly refused?: readonly Problem[]
}

/** What is known beside the text of a draft. */
export interface DraftContext {
  /** The texts of included files, by their path as it is written; default: none. */
  included?: Readonly<Record<string, string>>
  /** The columns of the data, which sentences may name; default: those that the file names. */
  columns?: readonly string[]
}

/** What edits need to know of a draft. */
export interface Inside {
  /** The file's own tree; undefined while it is broken. */
  raw: Readonly<Record<string, unknown>> | undefined
  names: SentenceNames
  context: DraftContext
}

const INSIDES = new WeakMap<Draft, Inside>()

/**
 * Opens the text of a report file for edits.
 *
 * @param text YAML or JSON; a text with mistakes is a draft, too.
 * @throws ProblemError if an argument is not what it is said to be.
 */
export function openDraft(text: string, context: DraftContext = {}): Draft {
  const written: unknown = text
  const { included = {}, columns = [] } = context as Readonly<Record<keyof DraftContext, unknown>>
  if (typeof written !== 'string') throw wrong('a text', 'text')
  if (!isPlainMap(included) || Object.values(included).some((one) => typeof one !== 'string'))
    throw wrong('a map of texts', 'included')
  if (!Array.isArray(columns) || columns.some((one) => typeof one !== 'string'))
    throw wrong('a list of texts', 'columns')
  return draftOf(text, context)
}

function wrong(expected: string, key: string): ProblemError {
  return new ProblemError([problem('wrong-shape', { expected, found: 'something else' }, { path: [key] })])
}

export function draftOf(text: string, context: DraftContext): Draft {
  const file = readYaml(text, undefined)
  const raw = isPlainMap(file.tree) ? file.tree : undefined
  const names = namesFor(raw ?? {}, context)
  const keyed = withKeyedRules(raw ?? {}, names)
  const shaped = raw === undefined ? [] : shapeReport(keyed.tree).problems.filter((p) => !keyed.isTold(p))
  const found = [...keyed.problems, ...shaped].map((p) => keyed.place(p, file.place))
  const draft: Draft = { text, spec: specOf(raw, keyed.tree), problems: inFileOrder([...file.problems, ...found]) }
  INSIDES.set(draft, { raw, names, context })
  return draft
}

/** What is known of a draft; one that was put together by hand is opened. */
export function insideOf(draft: Draft): Inside {
  return INSIDES.get(draft) ?? (INSIDES.get(openDraft(draft.text)) as Inside)
}

/** The same draft with the reasons for which an edit was not made. */
export function refusedDraft({ text, spec, problems }: Draft, inside: Inside, refused: readonly Problem[]): Draft {
  const draft: Draft = { text, spec, problems, refused }
  INSIDES.set(draft, inside)
  return draft
}

/** The names that sentences may use: those of the file, of what it includes, and the columns. */
function namesFor(
  raw: Readonly<Record<string, unknown>>,
  { included = {}, columns = [] }: DraftContext,
): SentenceNames {
  const own = namesOfReport(raw, columns)
  const list = Array.isArray(raw.include) ? raw.include : []
  const sets = list.flatMap((name) => {
    const text = typeof name === 'string' && Object.hasOwn(included, name) ? included[name] : undefined
    const tree = text === undefined ? undefined : readYaml(text, undefined).tree
    return isPlainMap(tree) ? [namesOfReport(tree)] : []
  })
  if (sets.length === 0) return own
  const merged = <T extends { id: string }>(pick: (names: SentenceNames) => readonly T[]): T[] => {
    const all = new Map<string, T>()
    // The file's own names replace those that it includes.
    for (const names of [...sets, own]) for (const thing of pick(names)) all.set(thing.id, thing)
    return [...all.values()]
  }
  return {
    values: merged((names) => names.values),
    statuses: merged((names) => names.statuses),
    exhibits: own.exhibits,
    pigments: [...new Set([own, ...sets].flatMap(({ pigments }) => pigments))],
  }
}

/** Rules in keys, and as they are written where they cannot be read. */
function specOf(raw: Readonly<Record<string, unknown>> | undefined, keyed: unknown): Draft['spec'] {
  if (raw === undefined || !isPlainMap(keyed)) return {}
  const { rules } = keyed
  if (!Array.isArray(rules)) return keyed
  const written = raw.rules as readonly unknown[]
  return { ...keyed, rules: rules.map((rule, i) => rule ?? written[i]) }
}
