import { resolve } from 'node:path'
import { periodPrinter } from '../../format/period.js'
import { readText } from '../../node/files.js'
import { nearest } from '../../problem/nearest.js'
import { harmless } from '../../problem/print.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import { phraseContextOf } from '../../report/answer/facts.js'
import { isReading } from '../../report/bind/exhibit-defaults.js'
import { type ComparedCell, type Comparison, compareReports } from '../../report/inspect/compare.js'
import { type Moves, movesBetween, statesSince } from '../../report/inspect/moves.js'
import { isPublished, pageCells, publishedCells } from '../../report/inspect/published.js'
import { type ReportTally, tallyReport } from '../../report/inspect/tally.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import type { PhraseContext } from '../../rule/explain/phrases.js'
import type { Tally } from '../../rule/explain/tally.js'
import { dayText } from '../../time/day.js'
import { parsePeriod } from '../../time/period.js'
import { table } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'
import { countMoves, MOVE_COUNTS, type MoveCount, movesData, movesLines } from './moves-lines.js'
import { cellCount, restyledData, restyledLines } from './restyled-lines.js'

interface TallyOptions extends AskOptions {
  against?: string[]
  expect?: string[]
  bars?: boolean
}

/**
 * `acuarela tally REPORT`: counts the cells of each status and of each part of a rule, or compares
 * two states of the report. Returns whether all expected counts hold.
 */
export async function tallyCommand(report: string, options: TallyOptions, io: Io): Promise<boolean> {
  const expected = (options.expect ?? []).map(readExpected)
  const problems = expected.filter((outcome): outcome is Problem => 'code' in outcome)
  const against = options.against ?? []
  if (options.since !== undefined && against.length > 0) problems.push(problem('since-or-against', {}))
  if (problems.length > 0) throw new ProblemError(problems)
  const published = await publishedFile(against, io)
  const { decided } = await decide(report, options, io)
  const tally = tallyReport(decided)
  const facts = phraseContextOf(decided.report)
  const ink = createInk(io.colors(options.color))
  const states = statesOf(decided, published, options)
  if (states !== undefined) {
    const moves = movesBetween(states.before, states.now, decided.report.statuses, options.bars === true)
    const checks = checkExpected(expected as Expected[], tally, moves)
    if (options.json === true)
      printJson({ ...tally, since: states.date, ...movesData(moves, facts), expected: checks }, io)
    else printLines(movesLines(moves, states.heading, facts, ink), checks, io)
    return checks.every((check) => check.holds)
  }
  const checks = checkExpected(expected as Expected[], tally)
  const after = against.length === 0 ? undefined : await decideAgainst(report, options, against, io)
  const comparison = after && compareReports(decided, after)
  const factsAfter = after === undefined ? facts : phraseContextOf(after.report)
  if (options.json === true) {
    const compared = comparison && {
      ...comparison,
      restyled: comparison.restyled.map((cell) => restyledData(cell, factsAfter)),
    }
    printJson({ ...tally, ...(compared && { against: compared }), expected: checks }, io)
  } else
    printLines(
      comparison === undefined ? tallyLines(tally, ink) : comparisonLines(comparison, factsAfter, ink),
      checks,
      io,
    )
  return checks.every((check) => check.holds)
}

function printLines(lines: string[], checks: readonly Check[], io: Io): void {
  if (checks.length > 0) lines.push('')
  for (const { text, holds, count } of checks)
    lines.push(harmless(`${holds ? 'as expected' : 'not as expected'}: ${text} (${count})`))
  io.out(`${lines.join('\n')}\n`)
}

/** Painted data among what is compared with: the only one that is compared then. */
async function publishedFile(against: readonly string[], io: Io): Promise<{ data: unknown; file: string } | undefined> {
  for (const file of against) {
    if (!/\.json$/i.test(file) || file.includes('=')) continue
    const text = await readText(resolve(io.cwd, file), file)
    let data: unknown
    try {
      data = JSON.parse(text)
    } catch {
      // A report that cannot be read has its own problems.
      continue
    }
    if (!isPublished(data)) continue
    if (against.length > 1) throw new ProblemError([problem('published-alone', { file })])
    return { data, file }
  }
  return undefined
}

/** The two states that are compared, with a heading that names both. */
interface States {
  before: ComparedCell[]
  now: ComparedCell[]
  /** The earlier date, ISO 8601; null if painted data have none. */
  date: string | null
  heading: string
}

function statesOf(
  decided: DecidedReport,
  published: { data: unknown; file: string } | undefined,
  { since }: TallyOptions,
): States | undefined {
  const { page, report } = decided
  const date = periodPrinter(report.locale, report.calendar).date
  const now = decided.context.asOf === undefined ? '' : `, ${date(decided.context.asOf)}`
  if (published !== undefined) {
    const { asOf, cells } = publishedCells(published.data, published.file, report.statuses)
    const ours = pageCells(page)
    const painted = paintedMeasures([...ours, ...cells])
    const day = asOf === null ? undefined : parsePeriod(asOf)?.period
    const heading = `Since ${published.file}${day === undefined ? '' : `, ${date(day)}`}, to now${now}`
    return { before: cells.filter(painted), now: ours.filter(painted), date: asOf, heading }
  }
  const compared = decided.exhibits.filter((one) => one.since !== undefined && !isReading(one.exhibit))
  if (since === undefined || compared.length === 0) return undefined
  const [{ since: first }] = compared
  const spans = compared.flatMap(({ exhibit, since: both }) =>
    both === undefined || both.now.head.periodText === '' ? [] : [spanLine(exhibit.name, both)],
  )
  const heading = [`Since ${date(first?.day ?? 0)}, to${now.slice(1)}`, ...spans].join('\n')
  return { ...statesSince(decided), date: dayText(first?.day ?? 0), heading }
}

/** The period of an exhibit in both states. */
function spanLine(name: string, { now, before }: NonNullable<AnsweredExhibit['since']>): string {
  return `  ${name}: ${before.head.periodText}, now ${now.head.periodText}`
}

/** Whether some rule painted a cell of the same measure: others cannot change. */
function paintedMeasures(cells: readonly ComparedCell[]): (cell: ComparedCell) => boolean {
  const idOf = ({ exhibit, measure }: ComparedCell): string => JSON.stringify([exhibit, measure])
  const painted = new Set(cells.filter(({ look }) => Object.keys(look.paintedBy).length > 0).map(idOf))
  return (cell) => painted.has(idOf(cell))
}

/** The report with other values of parameters, or another report. */
async function decideAgainst(
  report: string,
  options: TallyOptions,
  against: readonly string[],
  io: Io,
): Promise<DecidedReport> {
  const settings = against.filter((text) => text.includes('='))
  const files = against.filter((text) => !text.includes('='))
  if (files.length > 1 || files.some((file) => !/\.(ya?ml|json)$/i.test(file)))
    throw new ProblemError(files.map((text) => problem('bad-against', { text })))
  const after = { ...options, set: [...(options.set ?? []), ...settings] }
  return (await decide(files[0] ?? report, after, io)).decided
}

interface Expected {
  text: string
  exhibit: string | undefined
  status: string
  sign: '<' | '<=' | '=' | '!=' | '>=' | '>'
  count: number
}

function readExpected(text: string): Expected | Problem {
  const match = /^\s*(?:([^\s.<>=!]+)\.)?([^\s.<>=!]+)\s*(<=|>=|!=|<|>|=)\s*(\d+)\s*$/.exec(text)
  if (match === null) return problem('bad-expect', { text })
  return {
    text: text.trim(),
    exhibit: match[1],
    status: match[2],
    sign: match[3] as Expected['sign'],
    count: Number(match[4]),
  }
}

interface Check {
  text: string
  count: number
  holds: boolean
}

function checkExpected(expected: readonly Expected[], tally: ReportTally, moves?: Moves): Check[] {
  const statuses = [...new Set(tally.statuses.map(({ status }) => status))]
  const exhibits = [...new Set(tally.statuses.map(({ exhibit }) => exhibit ?? ''))]
  const problems = expected.flatMap(({ status, exhibit }) => {
    if (exhibit !== undefined && !exhibits.includes(exhibit))
      return [problem('unknown-exhibit', { name: exhibit, nearest: nearest(exhibit, exhibits), known: exhibits })]
    const known = moves === undefined ? statuses : [...statuses, ...MOVE_COUNTS]
    return known.includes(status)
      ? []
      : [problem('unknown-status', { name: status, nearest: nearest(status, known), known })]
  })
  if (problems.length > 0) throw new ProblemError(problems)
  const only = exhibits.every((name) => tally.readings.includes(name))
  return expected.map(({ text, exhibit, status, sign, count: wanted }) => {
    // A status of the report with the name of a move is counted as a status.
    if (moves !== undefined && isMove(status) && !statuses.includes(status)) {
      const count = countMoves(moves, status, exhibit)
      return { text, count, holds: SIGNS[sign](count, wanted) }
    }
    // Lists and readings repeat cells of other exhibits, so they are counted only when they are
    // named.
    const sums = (name: string | null): boolean => only || !tally.readings.includes(name ?? '')
    const counts = tally.statuses.filter(
      (s) => s.status === status && (exhibit === undefined ? sums(s.exhibit) : s.exhibit === exhibit),
    )
    const count = counts.reduce((sum, s) => sum + s.count, 0)
    return { text, count, holds: SIGNS[sign](count, wanted) }
  })
}

function isMove(name: string): name is MoveCount {
  return (MOVE_COUNTS as readonly string[]).includes(name)
}

const SIGNS: Readonly<Record<Expected['sign'], (a: number, b: number) => boolean>> = {
  '<': (a, b) => a < b,
  '<=': (a, b) => a <= b,
  '=': (a, b) => a === b,
  '!=': (a, b) => a !== b,
  '>=': (a, b) => a >= b,
  '>': (a, b) => a > b,
}

function tallyLines({ statuses, parts }: Tally, ink: Ink): string[] {
  const lines: string[] = []
  let last = ''
  const place = ({ exhibit, measure }: { exhibit: string | null; measure: string }): string =>
    harmless(`${exhibit}.${measure === '(row)' ? 'row' : measure}`)
  const rows = table(
    [
      ...statuses.map((count) => [place(count), harmless(count.label), String(count.count), `of ${count.of}`, '']),
      ...parts.map((change) => [
        place(change),
        harmless(`${change.rule}: ${change.part}`),
        String(change.covered),
        change.painted === change.covered ? '' : `${change.painted} painted`,
        harmless(change.limit),
      ]),
    ],
    new Set([2]),
  )
  const group = (title: string, rows: string[][]): void => {
    if (rows.length === 0) return
    lines.push(...(lines.length === 0 ? [] : ['']), ink.strong(title))
    last = ''
    for (const [where, ...cells] of rows) {
      lines.push(`  ${where === last ? where.replace(/./gu, ' ') : where}  ${cells.join('  ')}`.trimEnd())
      last = where
    }
  }
  group('Statuses shown', rows.slice(0, statuses.length))
  group('Parts of rules', rows.slice(statuses.length))
  return lines.length === 0 ? ['No rule reaches a cell.'] : lines
}

function comparisonLines({ counts, cells, restyled }: Comparison, facts: PhraseContext, ink: Ink): string[] {
  const rows = table(
    [
      ['', '', 'before', 'after', ''],
      ...counts.map((change) => [
        harmless(`${change.exhibit}.${change.measure}`),
        harmless(change.label),
        String(change.before),
        String(change.after),
        change.after === change.before
          ? ''
          : `${change.after > change.before ? '+' : '−'}${Math.abs(change.after - change.before)}`,
      ]),
    ],
    new Set([2, 3, 4]),
  )
  const shown = rows.map((row) => `  ${row.join('  ')}`.trimEnd())
  return [ink.strong('Statuses shown'), ...shown, '', ...movedLines(cells, ink), ...restyledLines(restyled, facts, ink)]
}

/** The cells whose status changes, with what it was and is. */
export function movedLines(cells: Comparison['cells'], ink: Ink): string[] {
  const lines = [
    ink.strong(
      cells.length === 0
        ? 'No cell changes its status.'
        : `${cellCount(cells.length)} ${cells.length === 1 ? 'changes' : 'change'} status`,
    ),
  ]
  const moved = table(
    cells.map((cell) => [
      harmless(`${cell.exhibit}.${cell.measure}`),
      harmless(cell.name),
      harmless(cell.text),
      harmless(`${cell.before ?? 'none'} → ${cell.after ?? 'none'}`),
    ]),
    new Set([2]),
  )
  return [...lines, ...moved.map((row) => `  ${row.join('  ')}`.trimEnd())]
}
