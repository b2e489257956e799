import { quantileSorted } from '../column/quantile.js'
import { readReport } from '../file/report.js'
import { cellsOf, type Page } from '../page/page.js'
import { nearest } from '../problem/nearest.js'
import { ProblemError, problem } from '../problem/problem.js'
import { type PlacedFinding, proofReport } from '../proof/report.js'
import { decideFrom } from '../report/open.js'
import { checkShape } from '../shape/shape.js'
import { type Plan, planOf, type SketchAnswers, type SketchSource } from './plan.js'
import { type Tuning, writeReport } from './write.js'

export type { SketchAnswers, SketchSource } from './plan.js'

/** How a starter is written. */
export interface SketchOptions {
  /** Leaves out the comments. Default: false. */
  brief?: boolean
  /** Answers in place of the guesses. */
  answers?: SketchAnswers
}

/**
 * Writes a starter report: the columns with their roles, measures, statuses with a target that a
 * third of the cells reach, a table, a heatmap, a list of exceptions and sentences, each explained
 * in a comment. The report is answered and proofed before it is returned: it can be painted at
 * once, and `proof` finds nothing in it.
 *
 * @param data the files as the report names them, with their rows; the first is home.
 * @throws ProblemError for data of another shape, and for an unknown answer.
 */
export async function sketch(data: readonly SketchSource[], options: SketchOptions = {}): Promise<string> {
  checkShape({ list: { keys: { file: 'text', source: 'anything' } }, min: 1 }, data, ['data'])
  checkShape(OPTIONS, options, ['options'])
  const answers = options.answers ?? {}
  const plan = planOf(data, answers)
  checkAnswers(plan, answers)
  return writeReport(plan, await tuned(plan), options.brief === true)
}

const OPTIONS = {
  keys: {
    'brief?': 'truth',
    'answers?': {
      keys: { 'main?': 'text', 'date?': 'text', 'rows?': 'text', 'better?': { oneOf: ['higher', 'lower', 'neither'] } },
    },
  },
} as const

/** An answer names a column of the first source. */
function checkAnswers({ sources: [home] }: Plan, answers: SketchAnswers): void {
  const known = home.facts.map(({ name }) => name)
  const wanted = (['main', 'date', 'rows'] as const).flatMap((key) => {
    const name = answers[key]
    return name === undefined || known.includes(name) || (key === 'date' && name === 'none') ? [] : [{ key, name }]
  })
  const problems = wanted.map(({ key, name }) =>
    problem('unknown-column', { name, nearest: nearest(name, known), known }, { path: ['options', 'answers', key] }),
  )
  if (problems.length > 0) throw new ProblemError(problems)
}

const FIRST: Tuning = { target: 1, near: 0.8, slack: 0.05, without: new Set(), ignored: [] }

/**
 * Answers and proofs the report until nothing is wrong with it. Each round leaves out a part or
 * ignores a finding, so it ends.
 */
async function tuned(plan: Plan): Promise<Tuning> {
  let tuning = withoutUnused(plan, FIRST)
  let isTuned = false
  for (;;) {
    const result = await attemptOf(plan, tuning)
    if ('failed' in result) {
      tuning = without(tuning, result.failed)
      continue
    }
    if (!isTuned) {
      tuning = byCells(plan, tuning, result.page)
      isTuned = true
      continue
    }
    const next = result.findings.reduce(handled, tuning)
    if (next === tuning) return tuning
    tuning = next
  }
}

type Attempt = { page: Page; findings: readonly PlacedFinding[] } | { failed: readonly string[] }

async function attemptOf(plan: Plan, tuning: Tuning): Promise<Attempt> {
  const file = readReport(writeReport(plan, tuning, true))
  const sources = new Map(plan.sources.map(({ name, source }) => [name, source]))
  try {
    const decided = await decideFrom(file, sources, file.problems, {})
    const findings = await proofReport(decided, file)
    return { page: decided.page, findings: findings.filter(({ ignored }) => ignored === null) }
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    const names = error.problems.map(({ place: { path = [] } }) => {
      const list = path[0] === 'rules' ? file.spec?.rules : path[0] === 'exhibits' ? file.spec?.exhibits : undefined
      return list?.[Number(path[1])]?.name
    })
    const failed = names.flatMap((name) => (name === undefined ? [] : partOf(name)))
    // What belongs to no part is a fault of the sketch, and is reported as such.
    if (failed.every((part) => tuning.without.has(part))) throw error
    return { failed }
  }
}

/** The parts that are left out if something is wrong with a rule or exhibit. */
function partOf(name: string): string[] {
  const parts: Readonly<Record<string, string[]>> = {
    againstTarget: ['bands', 'list'],
    againstPlan: ['bands', 'list'],
    exceptions: ['marks'],
    shade: ['shade'],
    size: ['bar'],
    colours: ['colors'],
    headline: ['cards'],
    heat: ['heat'],
    toActOn: ['list'],
    inWords: ['reading'],
    records: ['records', 'colors'],
  }
  return parts[name] ?? []
}

function without(tuning: Tuning, parts: readonly string[]): Tuning {
  return { ...tuning, without: new Set([...tuning.without, ...parts]) }
}

/** Rows that are counted have no target; a mean has no arrows without a comparison. */
function withoutUnused({ measures: { main, isMean }, keys, sources: [home] }: Plan, tuning: Tuning): Tuning {
  const neutral = main.better === 'neither' && (isMean || main.formula === 'count()')
  const isEmpty = home.source.table.length === 0
  return without(tuning, [
    ...(neutral || keys.rows.length === 0 ? ['bands', 'list'] : []),
    // There is nothing to measure in rows that are counted, nor without rows.
    ...(isEmpty || (keys.rows.length === 0 && main.formula === 'count()') ? ['bar'] : []),
  ])
}

/** Chooses the limits by the cells, so that statuses differ. */
function byCells({ measures: { main, plan, gap, growth } }: Plan, tuning: Tuning, page: Page): Tuning {
  const overview = page.exhibits.find(({ name }) => name === 'overview')
  const details = (measure: string): Float64Array => {
    const cells = overview === undefined ? [] : cellsOf(overview)
    const values = cells.flatMap(({ measure: of, level, value }) =>
      of === measure && level.row === 'detail' && typeof value === 'number' ? [value] : [],
    )
    return Float64Array.from(values).sort()
  }
  const values = details(main.name)
  const lower = main.better === 'lower'
  const upper = quantileSorted(values, lower ? 1 / 3 : 2 / 3)
  const target = nice(upper)
  // Without several positive values a share of a target says nothing.
  if (plan === undefined && (values.length < 2 || !(target > 0) || values[0] === values[values.length - 1]))
    return without(tuning, ['bands', 'list'])
  const third = quantileSorted(values, lower ? 2 / 3 : 1 / 3)
  const near = plan === undefined ? third / target : 0.9
  const compared = gap ?? growth
  const changes = compared === undefined ? values : details(compared.name).map(Math.abs).sort()
  const slack = compared === undefined ? tuning.slack : quantileSorted(changes, 1 / 2)
  return {
    ...(compared !== undefined && changes.length === 0 ? without(tuning, ['marks']) : tuning),
    target,
    near: lower ? clamp(roundTo(near, 0.05), 1.05, 2) : clamp(roundTo(near, 0.05), 0.5, 0.95),
    slack: clamp(roundTo(slack, 0.01), 0.02, 0.5),
  }
}

/** Two digits, so that a reader remembers it. */
function nice(value: number): number {
  return Number.isFinite(value) ? Number(value.toPrecision(2)) : 0
}

function roundTo(value: number, step: number): number {
  return Number.isFinite(value) ? Math.round(value / step) * step : step
}

function clamp(value: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, value))
}

/** What is wrong with a rule leaves it out; what is so with the data is kept as an exception. */
function handled(tuning: Tuning, { code, at, message }: PlacedFinding): Tuning {
  const [name] = at.split('.')
  if (code === 'crowded' && !tuning.without.has('closeFill'))
    return without(tuning, [tuning.without.has('aheadFill') ? 'closeFill' : 'aheadFill'])
  const parts = partOf(name).filter((part) => !tuning.without.has(part))
  if (parts.length > 0) return without(tuning, parts)
  if (tuning.ignored.some((each) => each.code === code && each.at === at)) return tuning
  return {
    ...tuning,
    ignored: [...tuning.ignored, { code, at, because: `in the data when this was made, ${message}` }],
  }
}
