import { numberPrinter } from '../../../format/format.js'
import { periodPrinter } from '../../../format/period.js'
import type { Cell, ReadingExhibit } from '../../../page/page.js'
import { statusLabel } from '../../../style/status.js'
import { spanOf } from '../../../time/period.js'
import { answerExhibit } from '../../answer/exhibit.js'
import type { AnsweredExhibit, QueryContext } from '../../model/answered.js'
import type { BoundExhibit } from '../../model/bound.js'
import { CellMaker } from '../cells.js'
import { headingText } from '../labels.js'
import { childOrder } from '../row-order.js'
import { changeOf, labelInside } from './cards.js'
import type { Prepare } from './prepare.js'

/** The number of names in one sentence; the rest is counted. */
const MAX_NAMED = 8
/** The number of runs in one sentence. */
const MIN_RUN = 3

type Sentence = ReadingExhibit['sentences'][number]

/** The measure by period, for strong and weak periods; undefined without dates. */
export async function answerPeriods(asked: QueryContext, exhibit: BoundExhibit): Promise<AnsweredExhibit | undefined> {
  const { reading: words } = exhibit
  if (words?.along === undefined) return undefined
  return answerExhibit(asked, { ...exhibit, rows: [words.along], show: [words.of], topN: [], sort: undefined }, [])
}

/**
 * Writes sentences about an exhibit: statuses with their cells, highest and lowest, strong and weak
 * periods, runs, and changes.
 */
export function buildReading(
  answered: AnsweredExhibit,
  periods: AnsweredExhibit | undefined,
  asOf: number | undefined,
): ReadingExhibit {
  const { exhibit, report, summary } = answered
  const { reading: words } = exhibit
  if (words === undefined) throw new Error('no words')
  const make = new CellMaker(answered)
  const deepest = exhibit.rows.length
  const places: number[] = []
  const order = childOrder(answered)
  const visit = (depth: number, node: number): void => {
    if (depth === deepest) places.push(node)
    else for (const child of order(depth, node)) visit(depth + 1, child)
  }
  visit(0, 0)
  const level = summary.levels[deepest][0]
  const cells = places.map((node) => make.cell(level, node, 0, words.of))
  const key = headingText(exhibit.rows.slice(-1), report.labels)
  const total = make.cell(summary.levels[0][0], 0, 0, words.of)
  const sentences: Sentence[] = [
    ...totalSentences(
      answered,
      total,
      words.versus === undefined ? undefined : make.cell(summary.levels[0][0], 0, 0, words.versus),
    ),
    ...statusesOf(answered, cells),
    ...movesOf(answered, cells),
    ...extremesOf(cells, key, report.locale),
    ...(words.versus === undefined
      ? []
      : changesOf(
          answered,
          cells,
          places.map((node) => make.cell(level, node, 0, words.versus ?? '')),
        )),
    ...(periods === undefined ? [] : periodsOf(periods, words.of, asOf)),
  ]
  const { legends, notes } = answered.legendsAndMessages()
  return { ...answered.head, kind: 'reading', sentences, cells, legends, messages: notes }
}

function plain(text: string): Sentence {
  return { text, style: null, statusText: '' }
}

function joinNames(names: readonly string[], locale: string): string {
  const shown = names.slice(0, MAX_NAMED)
  const more = names.length - shown.length
  if (more > 0)
    shown.push(`${numberPrinter({ kind: 'number', digits: 0, signed: false, compact: false }, locale)(more)} more`)
  return shown.length < 2 ? shown.join('') : `${shown.slice(0, -1).join(', ')} and ${shown.at(-1)}`
}

function totalSentences(answered: AnsweredExhibit, total: Cell, versus: Cell | undefined): Sentence[] {
  if (total.value === null) return [plain(`${total.measureLabel} is missing: no row counts here.`)]
  const change = versus && changeOf(answered, total, versus)
  return [plain(`${total.measureLabel} is ${total.text}${change == null ? '' : `, ${change.text}`}.`)]
}

/** The number of cells of each status with their names, in the order of statuses. */
function statusesOf({ report }: AnsweredExhibit, cells: readonly Cell[]): Sentence[] {
  const sentences: Sentence[] = []
  for (const status of Object.keys(report.statuses)) {
    const matching = cells.filter((cell) => cell.style.status === status)
    if (matching.length === 0) continue
    const [{ style: look, statusText }] = matching
    const names = matching.map((cell) => `${cell.name} ${cell.text}`.trim())
    sentences.push({
      text: `${statusText}: ${matching.length} of ${cells.length}, ${joinNames(names, report.locale)}.`,
      style: look,
      statusText,
    })
  }
  const missing = cells.filter((cell) => cell.value === null)
  if (missing.length > 0)
    sentences.push(
      plain(
        `No value: ${missing.length} of ${cells.length}, ${joinNames(
          missing.map((cell) => cell.name),
          report.locale,
        )}.`,
      ),
    )
  return sentences
}

/** What changed since an earlier date, worse news first: who went from which status to which. */
function movesOf({ report, since }: AnsweredExhibit, cells: readonly Cell[]): Sentence[] {
  if (since === undefined) return []
  const label = (status: string | null): string =>
    status === null ? 'no status' : statusLabel(report.statuses, status)
  const said = MOVES.flatMap(([move, verb]) => {
    const moved = cells.flatMap((cell) =>
      cell.was?.move === move ? [{ cell, from: label(cell.was.status), to: label(cell.style.status) }] : [],
    )
    const steps = moved.map(({ cell, from, to }, i) => `${cell.name}${i === 0 ? ` ${verb}` : ''} from ${from} to ${to}`)
    return steps.length === 0 ? [] : [joinNames(steps, report.locale)]
  })
  const date = periodPrinter(report.locale, report.calendar).date(since.day)
  return [plain(`Since ${date}, ${said.length === 0 ? 'no status has changed' : said.join('; ')}.`)]
}

const MOVES = [
  ['fell', 'fell'],
  ['cleared', 'went'],
  ['changed', 'went'],
  ['marked', 'went'],
  ['rose', 'rose'],
] as const

/** Cells with a number, highest first; ties at an end are all named. */
function extremesOf(cells: readonly Cell[], key: string, locale: string): Sentence[] {
  const sorted = cells
    .filter((cell) => typeof cell.value === 'number')
    .sort((a, b) => Number(b.value) - Number(a.value))
  const [first] = sorted
  const last = sorted.at(-1)
  if (first === undefined || last === undefined || sorted.length < 2) return []
  if (first.value === last.value) return [plain(`Every ${key} has ${first.text}.`)]
  const at = (end: Cell): string =>
    joinNames(
      sorted.filter((cell) => cell.value === end.value).map((cell) => cell.name),
      locale,
    )
  return [plain(`Highest is ${at(first)} with ${first.text}, lowest ${at(last)} with ${last.text}.`)]
}

/** The cells furthest above and below what they are compared with. */
function changesOf(answered: AnsweredExhibit, cells: readonly Cell[], others: readonly Cell[]): Sentence[] {
  const pairs = cells.flatMap((cell, i) => {
    const [now, then] = [cell.value, others[i].value]
    return typeof now === 'number' && typeof then === 'number' ? [{ cell, versus: others[i], by: now - then }] : []
  })
  if (pairs.length < 2) return []
  const up = pairs.filter(({ by }) => by > 0).length
  const down = pairs.filter(({ by }) => by < 0).length
  const most = pairs.reduce((a, b) => (b.by > a.by ? b : a))
  const least = pairs.reduce((a, b) => (b.by < a.by ? b : a))
  const texts = [
    `Against ${labelInside(others[0].measureLabel, answered.report.locale)}, ${up} of ${pairs.length} are above and ${down} below.`,
  ]
  const say = (pair: (typeof pairs)[number]): string =>
    `${pair.cell.name}: ${changeOf(answered, pair.cell, pair.versus)?.text ?? ''}`
  if (most.by > 0) texts.push(`Furthest above is ${say(most)}.`)
  if (least.by < 0) texts.push(`Furthest below is ${say(least)}.`)
  return [plain(texts.join(' '))]
}

/**
 * Strong and weak periods, and runs of at least two below the average. An unfinished period is left
 * out, and reported.
 */
function periodsOf(periods: AnsweredExhibit, of: string, asOf: number | undefined): Sentence[] {
  const { summary, report } = periods
  const make = new CellMaker(periods)
  const axis = summary.rows
  const [{ domain }] = axis.keys
  if (domain.kind !== 'time' || domain.unit === 'weekday' || domain.unit === 'monthOfYear') return []
  const { unit } = domain
  const begun: string[] = []
  const points = axis.depths[1].flatMap((node, i) => {
    const [code] = node.codes
    const cell = make.cell(summary.levels[1][0], i, 0, of)
    if (code < 0 || typeof cell.value !== 'number') return []
    const label = make.labels.periods.long(unit, domain.periods[code])
    if (asOf !== undefined && spanOf(unit, domain.periods[code], domain.calendar).to > asOf) {
      begun.push(label)
      return []
    }
    return [{ label, value: cell.value, text: cell.text, at: i }]
  })
  if (points.length < 2) return []
  const mean = points.reduce((sum, { value }) => sum + value, 0) / points.length
  const strong = points.reduce((a, b) => (b.value > a.value ? b : a))
  const weak = points.reduce((a, b) => (b.value < a.value ? b : a))
  const said = [
    `The strongest ${unit} is ${strong.label} with ${strong.text}, the weakest ${weak.label} with ${weak.text}.`,
  ]
  const average = make.labels.printer(of)(mean)
  const runs = runsBelow(points, mean)
  if (runs.length === 0) said.push(`No two ${unit}s in a row are below the average of ${average}.`)
  else {
    const shown = [...runs].sort((a, b) => b.length - a.length).slice(0, MIN_RUN)
    const text = shown.map((run) => `${run.length} ${unit}s from ${run[0].label} to ${run.at(-1)?.label ?? ''}`)
    said.push(
      `Below the average of ${average} in a row: ${joinNames(text, report.locale)}${runs.length > MIN_RUN ? ', the longest' : ''}.`,
    )
  }
  if (begun.length > 0) said.push(`${begun.join(', ')} is unfinished and left out.`)
  return [plain(said.join(' '))]
}

function runsBelow<T extends { value: number; at: number }>(points: readonly T[], mean: number): T[][] {
  const runs: T[][] = []
  let run: T[] = []
  for (const point of points) {
    const before = run.at(-1)
    if (point.value < mean && (before === undefined || before.at === point.at - 1)) {
      run.push(point)
      continue
    }
    if (run.length > 1) runs.push(run)
    run = point.value < mean ? [point] : []
  }
  if (run.length > 1) runs.push(run)
  return runs
}

export const prepare: Prepare = async (context, exhibit) => {
  const answered = await answerExhibit(context, exhibit)
  const periods = await answerPeriods(context, exhibit)
  return { answered, build: (current) => buildReading(current, periods, context.asOf) }
}
