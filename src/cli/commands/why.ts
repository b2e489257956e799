import { harmless } from '../../problem/print.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { missingWhy } from '../../report/inspect/missing.js'
import { placeAsked } from '../../report/inspect/place-asked.js'
import { type RowsBehind, rowsBehind } from '../../report/inspect/source-rows.js'
import { type WhyAnswer, whyCell } from '../../report/inspect/why.js'
import { padEnd, widthOf, wrap } from '../../view/terminal/columns.js'
import { createInk } from '../../view/terminal/ink.js'
import { exhibitText } from '../../view/terminal/text.js'
import { type AskOptions, decideAnd, printJson } from '../ask.js'
import type { Io } from '../io.js'

export interface WhyOptions extends AskOptions {
  /** How many of the rows behind the cell are listed; true for the default number. */
  rows?: string | true
}

/** The default number of rows that are listed. */
const FIRST_ROWS = 20
const CANDIDATES = 20

/**
 * `acuarela why REPORT EXHIBIT.MEASURE KEY=VALUE…`: explains one cell and lists the rows behind it.
 */
export async function whyCommand(
  report: string,
  target: string,
  places: readonly string[],
  options: WhyOptions,
  io: Io,
): Promise<void> {
  const first = options.rows === undefined ? 0 : options.rows === true ? FIRST_ROWS : readCount(options.rows)
  const dot = target.lastIndexOf('.')
  if (dot < 1) throw new ProblemError([problem('bad-target', { text: target })])
  const keys = readPlaces(places)
  const [exhibit, measure] = [target.slice(0, dot), target.slice(dot + 1)]
  const { answer, rows } = await decideAnd(report, options, io, async (decided) => {
    const decision = whyCell(decided, exhibit, measure, keys)
    const { answered, one } = placeAsked(decided, exhibit, measure, keys)
    if (first > 0 && answered.exhibit.records !== undefined)
      throw new ProblemError([problem('rows-of-record', { exhibit })])
    const why = one === undefined ? undefined : await missingWhy(decided, answered, one, measure)
    const answer = why === undefined || !('why' in decision) ? decision : withReason(decision, why)
    const rows = first > 0 && one !== undefined ? await rowsBehind(decided, answered, one, measure, first) : undefined
    return { answer, rows }
  })
  if (options.json === true) printJson(rows === undefined ? answer : { ...answer, rows: rows.map(rowsData) }, io)
  else
    io.out(
      `${[...whyLines(answer, options, io), ...(rows ?? []).flatMap((source) => rowLines(source, options, io))].join('\n')}\n`,
    )
}

/** A missing value is followed by the reason. */
function withReason(answer: Extract<WhyAnswer, { why: object }>, missing: string): WhyAnswer {
  const [first, ...others] = answer.why.sentences
  const sentences = [`${first.replace(/\.$/, '')}: ${missing}.`, ...others]
  return { ...answer, why: { ...answer.why, missing, sentences } }
}

function readCount(text: string): number {
  if (!/^[1-9]\d{0,5}$/.test(text)) throw new ProblemError([problem('bad-rows', { text })])
  return Number(text)
}

function rowsData({ source, when, rows: { count, columns, records } }: RowsBehind): object {
  return {
    source,
    when,
    count,
    records: records.map(({ record, cells }) => ({
      record,
      ...Object.fromEntries(columns.map(({ name }, k) => [name, cells[k].value])),
    })),
  }
}

function rowLines({ source, when, rows }: RowsBehind, options: WhyOptions, io: Io): string[] {
  const title = `Rows behind it: ${rows.count} of ${source}${when === '' ? '' : `, ${when}`}`
  const drawn = exhibitText(
    { ...rows, title, periodText: '' },
    { width: io.width(), colors: io.colors(options.color), ascii: !io.unicode() },
  )
  return ['', ...drawn]
}

function readPlaces(places: readonly string[]): Record<string, string> {
  const keys: Record<string, string> = {}
  for (const text of places) {
    const at = text.indexOf('=')
    if (at < 1) throw new ProblemError([problem('bad-place', { text })])
    Object.defineProperty(keys, text.slice(0, at).trim(), {
      value: text.slice(at + 1),
      enumerable: true,
      configurable: true,
    })
  }
  return keys
}

function whyLines(answer: WhyAnswer, options: AskOptions, io: Io): string[] {
  const ink = createInk(io.colors(options.color))
  if ('candidates' in answer) {
    const shown = answer.candidates.slice(0, CANDIDATES)
    const width = Math.max(0, ...shown.map(({ name }) => widthOf(harmless(name))))
    const more = answer.candidates.length - shown.length
    return [
      `${answer.candidates.length.toLocaleString('en')} cells match; name one with its keys:`,
      ...shown.map(
        ({ name, keys, text }) =>
          `  ${padEnd(harmless(name), width)}  ${padEnd(harmless(text), 14)}  ${ink.quiet(harmless(keysText(keys)))}`,
      ),
      ...(more > 0 ? [`  … and ${more.toLocaleString('en')} more`] : []),
    ]
  }
  const { why, name, exhibit } = answer
  const lines = [ink.strong(harmless(`${name} (${exhibit})`)), harmless(why.sentences[0])]
  if (why.channels.length > 0) {
    lines.push('', ink.strong('Decided by'))
    const wide = Math.max(8, ...why.channels.map(({ channel }) => channel.length + 2))
    for (const { channel, value, by, over } of why.channels)
      lines.push(
        `  ${padEnd(channel, wide)}${padEnd(harmless(value), 18)}${harmless(by)}${over.length === 0 ? '' : ink.quiet(harmless(`, over ${over.join(' and ')}`))}`,
      )
  } else lines.push('', 'It is plain.')
  lines.push('', ink.strong('Because'))
  for (const sentence of why.sentences.slice(1)) lines.push(...wrap(harmless(sentence), io.width(), '  ', '    '))
  return lines
}

/** Keys in the form in which they are typed. */
function keysText(keys: Record<string, string | null>): string {
  return Object.entries(keys)
    .map(([key, value]) => `${key}=${/[\s'"$]/.test(value ?? '') ? `'${value}'` : (value ?? '')}`)
    .join(' ')
}
