import { applyEdit } from '../edit/apply.js'
import type { Draft } from '../edit/draft.js'
import type { Edit } from '../edit/edits.js'
import { readReport } from '../file/report.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { compareReports } from '../report/inspect/compare.js'
import { tellRules } from '../report/inspect/rules.js'
import { sentenceNames } from '../report/inspect/sentence-names.js'
import { decideReport } from '../report/layout/decide.js'
import { readLoosely } from '../rule/loose/read.js'
import { type Completion, completeSentence } from '../rule/sentence/complete.js'
import { readSentence, writeSentence } from '../rule/sentence/parse.js'
import { withOffers } from '../rule/written/said.js'
import type { Answerer, Shown } from './answerer.js'
import { includedBy } from './files.js'
import type { Preview } from './model.js'

/** What may stand next in a sentence, with the names of the report that is shown. */
export function completed({ decided }: Shown, text: string, cursor: number): Completion[] {
  return completeSentence(text, cursor, sentenceNames(decided))
}

/** The problems of the text that an edit would give, without making it. */
export async function problemsAfter(
  { name, read, bind, files, served }: Answerer,
  draft: Draft,
  edit: Edit,
): Promise<readonly Problem[]> {
  const next = applyEdit(draft, edit)
  if (next.refused !== undefined) return next.refused
  const file = readReport(next.text, name, includedBy(next.text, files))
  const { tables, missing, problems } = await read(file, files, served)
  if (file.problems.length > 0 || problems.length > 0) return [...file.problems, ...problems]
  // Without its data nothing more can be told.
  if (missing.length > 0) return []
  try {
    bind(file, tables)
    return []
  } catch (error) {
    if (error instanceof ProblemError) return error.problems
    throw error
  }
}

/** A rule that is tried: what it would say, count and change. */
export async function previewed(
  { now, read, bind, files, served }: Answerer,
  draft: Draft,
  sentence: string,
  at: number,
): Promise<Preview> {
  const before = now().decided
  const names = sentenceNames(before)
  const found = readSentence(sentence, names)
  const loose = 'code' in found ? readLoosely(sentence, names) : undefined
  if ('code' in found && loose === undefined) throw new ProblemError([withOffers(found, sentence, names) ?? found])
  const said = 'code' in found ? (loose?.sentence ?? sentence) : writeSentence(found.spec)
  const next = applyEdit(draft, { do: 'insert', path: ['rules'], value: said, at })
  if (next.refused !== undefined) throw new ProblemError(next.refused)
  const file = readReport(next.text, undefined, includedBy(next.text, files))
  const { tables, problems } = await read(file, files, served)
  if (problems.length > 0 || file.problems.length > 0) throw new ProblemError([...file.problems, ...problems])
  const decided = await decideReport(bind(file, tables), { again: true })
  const rule = decided.report.rules.find(({ index }) => index === at)?.name
  const told = tellRules(decided).find((one) => one.rule === rule) ?? null
  return { sentence: said, told, comparison: compareReports(before, decided) }
}
