import { inFileOrder } from '../problem/order.js'
import { type Problem, problem } from '../problem/problem.js'
import { withIncluded } from './include.js'
import type { ReportFile } from './report-file.js'
import { rulesWith, withKeyedRules } from './rules.js'
import { shapeReport } from './shape.js'
import { readYaml } from './yaml.js'

/**
 * Reads a report from YAML or JSON text, or takes a plain object. Never throws for its contents.
 *
 * @param shared the files that it includes, by the names that `include` gives them.
 */
export function readReport(
  source: string | object,
  file?: string,
  shared: Readonly<Record<string, string>> | ((name: string) => string | undefined) = {},
): ReportFile {
  const read =
    typeof shared === 'function' ? shared : (name: string) => (Object.hasOwn(shared, name) ? shared[name] : undefined)
  return withIncluded(readAlone(source, file), read)
}

function readAlone(source: string | object, file?: string): ReportFile {
  if (typeof source !== 'string') {
    const keyed = withKeyedRules(source)
    const { spec, problems } = shapeReport(withSources(keyed.tree))
    return {
      file,
      spec,
      problems: [...keyed.problems, ...problems.filter((p) => !keyed.isTold(p))],
      place: keyed.place,
    }
  }
  const read = readYaml(source, file)
  if (read.tree === undefined) {
    const problems =
      read.problems.length > 0 ? read.problems : [problem('file-empty', {}, file === undefined ? {} : { file })]
    return { file, spec: undefined, problems, place: read.place }
  }
  const keyed = withKeyedRules(read.tree)
  const place = (p: Problem): Problem => keyed.place(p, read.place)
  const shaped = shapeReport(withSources(keyed.tree))
  const lines = new Set(read.problems.map((p) => p.place.line))
  // Where YAML misread a line, that problem explains it; the wrong shape is only the consequence.
  const rest = [...keyed.problems, ...shaped.problems.filter((p) => !keyed.isTold(p))]
    .map(place)
    .filter((p) => !lines.has(p.place.line))
  const problems = inFileOrder([...read.problems, ...rest])
  return { file, spec: shaped.spec, problems, rulesWith: rulesWith(shaped.spec, keyed), place }
}

/** A report that includes others may have its sources from them alone. */
function withSources(tree: unknown): unknown {
  const isIncluding = typeof tree === 'object' && tree !== null && 'include' in tree && !('sources' in tree)
  return isIncluding ? { ...tree, sources: {} } : tree
}
