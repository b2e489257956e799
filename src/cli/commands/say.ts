import { resolve } from 'node:path'
import { applyEdit } from '../../edit/apply.js'
import { openDraft } from '../../edit/draft.js'
import { writeFiles } from '../../node/files.js'
import { readReportText } from '../../node/report-text.js'
import { nearest } from '../../problem/nearest.js'
import { harmless } from '../../problem/print.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import { phraseContextOf } from '../../report/answer/facts.js'
import { type Comparison, compareReports } from '../../report/inspect/compare.js'
import { type RuleTold, tellRules } from '../../report/inspect/rules.js'
import { sentenceNames } from '../../report/inspect/sentence-names.js'
import type { DecidedReport } from '../../report/model/answered.js'
import type { SentenceNames } from '../../rule/grammar/names.js'
import { readLoosely } from '../../rule/loose/read.js'
import { readSentence, writeSentence } from '../../rule/sentence/parse.js'
import { withOffers } from '../../rule/written/said.js'
import type { RuleSpec } from '../../spec/rules.js'
import { createInk } from '../../view/terminal/ink.js'
import { type AskOptions, decideAnd, printJson } from '../ask.js'
import type { Io } from '../io.js'
import { restyledData, restyledLines } from './restyled-lines.js'
import { ruleLines } from './rules.js'
import { movedLines } from './tally.js'

interface SayOptions extends AskOptions {
  write?: boolean
  before?: string
  after?: string
  name?: string
}

/**
 * `acuarela say REPORT SENTENCE`: reads a rule as a sentence, says it back, and tells which cells
 * it would change. With `--write` it is added to the file.
 */
export async function sayCommand(report: string, sentence: string, options: SayOptions, io: Io): Promise<void> {
  if (options.before !== undefined && options.after !== undefined)
    throw new ProblemError([problem('before-or-after', {})])
  if (options.write === true && report === '-') throw new ProblemError([problem('write-to-stdin', {})])
  const path = resolve(io.cwd, report)
  const text = await readReportText(path, report)
  const before = await decideAnd(report, options, io, async (decided) => decided, text)
  const spec = ruleSaid(sentence, sentenceNames(before))
  const at = placeOf(before, options)
  const said = writeSentence(spec)
  const value = options.name === undefined ? said : { name: options.name, say: said }
  const { text: next, refused } = applyEdit(openDraft(text), { do: 'insert', path: ['rules'], value, at })
  if (refused !== undefined) throw new ProblemError(refused)
  const after = await decideAnd(report, options, io, async (decided) => decided, next).catch((error: unknown) => {
    throw error instanceof ProblemError ? new ProblemError(error.problems.map((p) => ofSentence(p, at))) : error
  })
  const name = after.report.rules.find(({ index }) => index === at)?.name ?? ''
  const [told] = tellRules(after).filter(({ rule }) => rule === name)
  const comparison = compareReports(before, after)
  if (options.write === true) await writeFiles([{ path, shown: report, text: next }])
  if (options.json === true) {
    const facts = phraseContextOf(after.report)
    const restyled = comparison.restyled.map((cell) => restyledData(cell, facts))
    printJson({ ...told, index: at, ...comparison, restyled, written: options.write === true }, io)
    return
  }
  io.out(`${linesOf(told, at, { after, comparison, report }, options, io).join('\n')}\n`)
}

/** The rule of a sentence, or of a text that says it in other words. */
function ruleSaid(text: string, names: SentenceNames): RuleSpec {
  const read = readSentence(text, names)
  if (!('code' in read)) return read.spec
  const loose = readLoosely(text, names)
  if (loose === undefined) throw new ProblemError([withOffers(read, text, names) ?? read])
  return loose.spec
}

/** A problem of the new rule stands in its sentence: the file does not have it. */
function ofSentence(p: Problem, at: number): Problem {
  const { path = [], text, from, to } = p.place
  if (path[0] !== 'rules' || path[1] !== at) return p
  return {
    ...p,
    place: {
      ...(text !== undefined && { text }),
      ...(from !== undefined && { from }),
      ...(to !== undefined && { to }),
    },
  }
}

/** The index of the new rule: first, or beside another rule of the file. */
function placeOf({ report }: DecidedReport, { before, after, name: own }: SayOptions): number {
  const known = [...new Set(report.rules.map((rule) => rule.name))]
  if (own !== undefined && known.includes(own))
    throw new ProblemError([problem('two-of-a-name', { name: own, what: 'rules' })])
  const name = before ?? after
  if (name === undefined) return 0
  const found = report.rules.find((rule) => rule.name === name)
  if (found === undefined)
    throw new ProblemError([problem('rule-for-place', { name, nearest: nearest(name, known), known })])
  return before === undefined ? found.index + 1 : found.index
}

function linesOf(
  told: RuleTold | undefined,
  at: number,
  { after, comparison, report }: { after: DecidedReport; comparison: Comparison; report: string },
  { write, color }: SayOptions,
  io: Io,
): string[] {
  const ink = createInk(io.colors(color))
  const facts = phraseContextOf(after.report)
  const place = at === 0 ? 'the first rule' : `rule ${at + 1}`
  const written =
    write === true ? `Written to ${report} as ${place}.` : `Not written; with --write it becomes ${place}.`
  return [
    ...(told === undefined ? [] : ruleLines(told, at, ink, io.width())),
    '',
    ...movedLines(comparison.cells, ink),
    ...restyledLines(comparison.restyled, facts, ink),
    '',
    harmless(written),
  ]
}
