import { resolve } from 'node:path'
import { applyEdit } from '../../edit/apply.js'
import { diff } from '../../edit/diff.js'
import { type Draft, openDraft } from '../../edit/draft.js'
import { editInWords } from '../../edit/words.js'
import { writeFiles } from '../../node/files.js'
import { readIncluded } from '../../node/included.js'
import { readReportText } from '../../node/report-text.js'
import { harmless } from '../../problem/print.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { type PlacedFinding, proofReport } from '../../proof/report.js'
import type { Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decideAnd } from '../ask.js'
import type { Io } from '../io.js'

/** The most times that a report is proofed again after fixes: one fix may show the next finding. */
const MOST_ROUNDS = 8

/** A fix that was made. */
export interface Fix {
  code: string
  at: string
  /** What was done, in words. */
  done: readonly string[]
}

export interface Fixed {
  before: string
  after: string
  fixes: readonly Fix[]
  /** What is found after the fixes. */
  findings: readonly PlacedFinding[]
}

/**
 * Makes the fixes of all findings that have edits, round by round, and proofs the report again
 * after each: a fix may solve another finding, or show one.
 */
export async function fixReport(report: string, options: AskOptions, io: Io): Promise<Fixed> {
  if (report === '-') throw new ProblemError([problem('write-to-stdin', {})])
  const path = resolve(io.cwd, report)
  const before = await readReportText(path, report)
  const tried = new Set<string>()
  const fixes: Fix[] = []
  let text = before
  let findings = await proofed(report, options, io, text)
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const open = findings.filter((one) => one.ignored === null && one.edits !== undefined && !tried.has(keyOf(one)))
    if (open.length === 0) break
    const made: Fix[] = []
    let draft = openDraft(text, { included: Object.fromEntries(await readIncluded(text, path)) })
    for (const finding of inTurn(open)) {
      tried.add(keyOf(finding))
      const next = fixedDraft(draft, finding)
      if (next === undefined) continue
      draft = next.draft
      made.push({ code: finding.code, at: finding.at, done: next.done })
    }
    try {
      findings = await proofed(report, options, io, draft.text)
    } catch (error) {
      // A fix that makes the report unreadable is none; what was tried is not tried again.
      if (error instanceof ProblemError) continue
      throw error
    }
    text = draft.text
    fixes.push(...made)
  }
  return { before, after: text, fixes, findings }
}

function keyOf({ code, at, path }: PlacedFinding): string {
  return `${code} ${at} ${path?.slice(2).join('.') ?? ''}`
}

async function proofed(report: string, options: AskOptions, io: Io, text: string): Promise<readonly PlacedFinding[]> {
  return decideAnd(report, options, io, (decided, file) => proofReport(decided, file), text)
}

/** One finding of each rule or status in a round, removals first, from the bottom up. */
function inTurn(findings: readonly PlacedFinding[]): PlacedFinding[] {
  const isRemoval = ({ edits = [], path = [] }: PlacedFinding): boolean =>
    edits.some((edit) => edit.do === 'remove' && edit.path.length === 2 && path.length === 2)
  const chosen = new Map<string, PlacedFinding>()
  // A parameter whose number is typed somewhere will be read once that is fixed.
  const meant = findings
    .filter(({ code }) => code === 'typed-limit')
    .map(({ at }) => at.slice(at.lastIndexOf(', ') + 2))
  const settled = findings.filter(({ code, at }) => code !== 'unused-parameter' || !meant.includes(at))
  for (const finding of [...settled].sort((a, b) => Number(isRemoval(b)) - Number(isRemoval(a)))) {
    const thing = finding.path?.slice(0, 2).join('.') ?? ''
    if (!chosen.has(thing)) chosen.set(thing, finding)
  }
  const place = ({ path = [] }: PlacedFinding): number => (typeof path[1] === 'number' ? path[1] : -1)
  return [...chosen.values()].sort((a, b) => place(b) - place(a))
}

function fixedDraft(draft: Draft, { edits = [] }: PlacedFinding): { draft: Draft; done: string[] } | undefined {
  let now = draft
  const done: string[] = []
  for (const edit of edits) {
    const next = applyEdit(now, edit)
    if (next.refused !== undefined) return undefined
    done.push(editInWords(edit, now, next))
    now = next
  }
  return now.problems.length > draft.problems.length ? undefined : { draft: now, done }
}

export async function writeFixed(report: string, { after }: Fixed, io: Io): Promise<void> {
  await writeFiles([{ path: resolve(io.cwd, report), shown: report, text: after }])
}

/** The fixes by finding, each with what was done. */
export function fixLines(fixes: readonly Fix[], ink: Ink): string[] {
  return fixes.flatMap(({ code, at, done }) => [
    `${ink.strong(code)}  ${harmless(at)}`,
    ...done.map((words) => `    ${harmless(words)}`),
  ])
}

/** What a file changes, with a line of context around each part. */
export function diffLines({ before, after }: Fixed, ink: Ink): string[] {
  const lines = diff(before, after)
  const shown = lines.map((_, i) =>
    [lines[i - 1], lines[i], lines[i + 1]].some((one) => one !== undefined && one.is !== 'same'),
  )
  return lines.flatMap(({ is, text, before: old, after: now }, i) => {
    if (!shown[i]) return []
    const number = String(now ?? old).padStart(4)
    const mark = is === 'same' ? ' ' : is === 'added' ? '+' : '-'
    const line = `${number} ${mark} ${harmless(text)}`
    const gap = i > 0 && !shown[i - 1] && i > 1 ? [ink.quiet('     …')] : []
    return [...gap, is === 'same' ? ink.quiet(line) : is === 'added' ? ink.strong(line) : line]
  })
}
