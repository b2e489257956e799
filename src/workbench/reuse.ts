import type { ReportFile } from '../file/report-file.js'
import { readersOf } from '../report/layout/redecide.js'
import type { BuiltExhibit, DecidedReport } from '../report/model/answered.js'
import type { BoundExhibit } from '../report/model/bound.js'
import type { ReportSpec } from '../spec/report.js'

/** What is compared part by part; any other difference builds everything again. */
const PARTS: readonly string[] = ['rules', 'parameters', 'exhibits', 'proof']

/**
 * The exhibits of a report that another version of it shows the same: their own keys, the rules
 * that may paint them and the parameters that they read are what they were. Rules keep their
 * places, as what was decided names them by these.
 */
export function reusable(
  { file, decided }: { file: ReportFile; decided: DecidedReport },
  next: ReportFile,
): ((exhibit: BoundExhibit) => BuiltExhibit | undefined) | undefined {
  const [was, is] = [file.spec, next.spec]
  if (was === undefined || is === undefined || rest(was) !== rest(is)) return undefined
  const moved = movedParameters(was, is)
  if (moved === undefined) return undefined
  const readers = readersOf(decided, moved)
  if (readers.summed) return undefined
  const [old, now] = [was.rules ?? [], is.rules ?? []]
  if (old.length !== now.length) return undefined
  const changed = new Set(now.flatMap((rule, i) => (JSON.stringify(rule) === JSON.stringify(old[i]) ? [] : [i])))
  const oldExhibits = new Map(decided.built.map((built) => [built.answered.exhibit.name, built]))
  return (exhibit) => {
    const built = oldExhibits.get(exhibit.name)
    if (built === undefined) return undefined
    const [before, after] = [decided.bound.exhibits, is.exhibits]
    const index = before.findIndex(({ name }) => name === exhibit.name)
    if (JSON.stringify(was.exhibits[index]) !== JSON.stringify(after[index])) return undefined
    // A rule that is another one now may have painted it, or may paint it.
    const isPainted = [...changed].some((i) => mayPaint(old[i], exhibit.name) || mayPaint(now[i], exhibit.name))
    return isPainted || readers.shown(built.answered) ? undefined : built
  }
}

type Rule = NonNullable<ReportSpec['rules']>[number]

function mayPaint(rule: Rule, exhibit: string): boolean {
  return typeof rule === 'string' || !('only' in rule) || rule.only === undefined || rule.only.includes(exhibit)
}

function rest(spec: ReportSpec): string {
  return JSON.stringify(Object.entries(spec).filter(([key]) => !PARTS.includes(key)))
}

/** The parameters with another value; undefined where anything else about them differs. */
function movedParameters(was: ReportSpec, is: ReportSpec): Set<string> | undefined {
  const [old, now] = [was.parameters ?? {}, is.parameters ?? {}]
  const names = Object.keys(now)
  if (JSON.stringify(names) !== JSON.stringify(Object.keys(old))) return undefined
  const moved = new Set<string>()
  for (const name of names) {
    const [a, b] = [parts(old[name]), parts(now[name])]
    if (JSON.stringify({ ...a, value: 0 }) !== JSON.stringify({ ...b, value: 0 })) return undefined
    if (a.value !== b.value) moved.add(name)
  }
  return moved
}

function parts(parameter: NonNullable<ReportSpec['parameters']>[string]): { value?: unknown } {
  return typeof parameter === 'object' ? parameter : { value: parameter }
}
