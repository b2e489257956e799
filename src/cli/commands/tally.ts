import { nearest } from '../../problem/nearest.js'
import { harmless } from '../../problem/print.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import { phraseContextOf } from '../../report/answer/facts.js'
import { type Comparison, compareReports, type RestyledCell } from '../../report/inspect/compare.js'
import { type ReportTally, tallyReport } from '../../report/inspect/tally.js'
import type { PhraseContext } from '../../rule/explain/phrases.js'
import type { Tally } from '../../rule/explain/tally.js'
import { channelText } from '../../rule/explain/why.js'
import { type CellStyle, CHANNELS, type Channel } from '../../style/cell-style.js'
import type { Bar } from '../../style/painting.js'
import { table } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'

interface TallyOptions extends AskOptions {
  against?: string[]
  expect?: string[]
}

/**
 * `acuarela tally REPORT`: counts the cells of each status and of each part of a rule. Returns
 * whether all expected counts hold.
 */
export async function tallyCommand(report: string, options: TallyOptions, io: Io): Promise<boolean> {
  const expected = (options.expect ?? []).map(readExpected)
  const problems = expected.filter((outcome): outcome is Problem => 'code' in outcome)
  if (problems.length > 0) throw new ProblemError(problems)
  const { decided } = await decide(report, options, io)
  const tally = tallyReport(decided)
  const checks = checkExpected(expected as Expected[], tally)
  const against = options.against ?? []
  const both = against.length === 0 ? undefined : await pair(report, options, against, io)
  const comparison = both && compareReports(...both)
  const facts = phraseContextOf((both?.[1] ?? decided).report)
  const held = checks.every((check) => check.holds)
  if (options.json === true) {
    const compared = comparison && {
      ...comparison,
      restyled: comparison.restyled.map((cell) => restyledData(cell, facts)),
    }
    printJson({ ...tally, ...(compared && { against: compared }), expected: checks }, io)
    return held
  }
  const ink = createInk(io.colors(options.color))
  const lines = comparison === undefined ? tallyLines(tally, ink) : comparisonLines(comparison, facts, ink)
  if (checks.length > 0) lines.push('')
  for (const { text, holds, count } of checks)
    lines.push(harmless(`${holds ? 'as expected' : 'not as expected'}: ${text} (${count})`))
  io.out(`${lines.join('\n')}\n`)
  return held
}

/** Compares two values of a parameter: `--set` gives those before, `--against` those after. */
async function pair(
  report: string,
  options: TallyOptions,
  against: readonly string[],
  io: Io,
): Promise<[Awaited<ReturnType<typeof decide>>['decided'], Awaited<ReturnType<typeof decide>>['decided']]> {
  const before = (await decide(report, options, io)).decided
  const settings = against.filter((text) => text.includes('='))
  const files = against.filter((text) => !text.includes('='))
  if (files.length > 1 || files.some((file) => !/\.(ya?ml|json)$/i.test(file)))
    throw new ProblemError(files.map((text) => problem('bad-against', { text })))
  const after = { ...options, set: [...(options.set ?? []), ...settings] }
  return [before, (await decide(files[0] ?? report, after, io)).decided]
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

function checkExpected(expected: readonly Expected[], tally: ReportTally): Check[] {
  const statuses = [...new Set(tally.statuses.map(({ status }) => status))]
  const exhibits = [...new Set(tally.statuses.map(({ exhibit }) => exhibit ?? ''))]
  const problems = expected.flatMap(({ status, exhibit }) => {
    if (exhibit !== undefined && !exhibits.includes(exhibit))
      return [problem('unknown-exhibit', { name: exhibit, nearest: nearest(exhibit, exhibits), known: exhibits })]
    return statuses.includes(status)
      ? []
      : [problem('unknown-status', { name: status, nearest: nearest(status, statuses), known: statuses })]
  })
  if (problems.length > 0) throw new ProblemError(problems)
  const only = exhibits.every((name) => tally.readings.includes(name))
  return expected.map(({ text, exhibit, status, sign, count: wanted }) => {
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

/** More cells than this are listed in the data alone. */
const MAX_LISTED = 200

/** The differences between two styles in words, one for each channel. */
function channelChanges(
  { was, is, bars }: RestyledCell,
  facts: PhraseContext,
): { channel: string; before: string | null; after: string | null }[] {
  const text = (look: CellStyle, bar: Bar | null, channel: Channel): string | null => {
    if (look[channel] === null) return null
    if (channel !== 'bar' || bar === null) return channelText(look, channel, facts)
    const percent = (x: number): string => `${Math.round(x * 1000) / 10}%`
    return `${channelText(look, channel, facts)} ${percent(bar.from)} to ${percent(bar.to)}${bar.beyond === undefined ? '' : ' and beyond'}`
  }
  return CHANNELS.flatMap((channel) => {
    const [before, after] = [text(was, bars.was, channel), text(is, bars.is, channel)]
    // Wash, body and ink of a pigment have the same name.
    const same = before === after && was[channel] === is[channel]
    return same || (before === after && channel !== 'fill' && channel !== 'ink') ? [] : [{ channel, before, after }]
  })
}

function restyledData(cell: RestyledCell, facts: PhraseContext): object {
  const { exhibit, measure, name, keys, text } = cell
  return { exhibit, measure, name, keys, text, changes: channelChanges(cell, facts) }
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
  const lines = [ink.strong('Statuses shown'), ...rows.map((row) => `  ${row.join('  ')}`.trimEnd())]
  const plural = (n: number): string => `${n.toLocaleString('en')} ${n === 1 ? 'cell' : 'cells'}`
  lines.push(
    '',
    ink.strong(
      cells.length === 0
        ? 'No cell changes its status.'
        : `${plural(cells.length)} ${cells.length === 1 ? 'changes' : 'change'} status`,
    ),
  )
  const moved = table(
    cells.map((cell) => [
      harmless(`${cell.exhibit}.${cell.measure}`),
      harmless(cell.name),
      harmless(cell.text),
      harmless(`${cell.before ?? 'none'} → ${cell.after ?? 'none'}`),
    ]),
    new Set([2]),
  )
  lines.push(...moved.map((row) => `  ${row.join('  ')}`.trimEnd()))
  const groups = new Map<string, RestyledCell[]>()
  for (const cell of restyled) {
    const place = `${cell.exhibit}.${cell.measure}`
    groups.set(place, [...(groups.get(place) ?? []), cell])
  }
  for (const [place, group] of groups) {
    const verb = group.length === 1 ? 'changes' : 'change'
    lines.push('', ink.strong(harmless(`${plural(group.length)} of ${place} ${verb} ${changeText(group, facts)}:`)))
    const rows = table(
      group.slice(0, MAX_LISTED).map((cell) => [
        harmless(cell.name),
        harmless(cell.text),
        harmless(
          channelChanges(cell, facts)
            .map(({ channel, before, after }) => `${channel} ${before ?? 'none'} → ${after ?? 'none'}`)
            .join(', '),
        ),
      ]),
      new Set([1]),
    )
    lines.push(...rows.map((row) => `  ${row.join('  ')}`.trimEnd()))
    if (group.length > MAX_LISTED) lines.push(`  … and ${plural(group.length - MAX_LISTED)} more; --json lists all`)
  }
  return lines
}

/** What changes in restyled cells: their colour if nothing else does. */
function changeText(group: readonly RestyledCell[], facts: PhraseContext): string {
  const channels = group.flatMap((cell) => channelChanges(cell, facts).map(({ channel }) => channel))
  if (channels.every((channel) => channel === 'fill' || channel === 'ink')) return 'colour'
  const whose = group.length === 1 ? 'its' : 'their'
  return channels.every((channel) => channel === channels[0]) ? `${whose} ${channels[0]}` : `${whose} style`
}
