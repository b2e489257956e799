import { type Bound, type BoundAggregate, operandsOf } from '../../expression/bound.js'
import { FUNCTIONS } from '../../expression/functions.js'
import { spanText } from '../../format/span.js'
import { type CellSetKey, spansOf } from '../../summary/cells/cell-set.js'
import type { Measure } from '../../summary/plan/measures.js'
import { moveSpan, moveWeeks } from '../../time/move-span.js'
import { plainShift, type Step, stepsKey } from '../../time/step.js'
import { answerExhibit, exhibitSpans } from '../answer/exhibit.js'
import { sourceQueries, withParts } from '../answer/questions.js'
import { whyNotSplit } from '../answer/source-fit.js'
import { OTHERS_CODE } from '../layout/labels.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'
import type { BoundReport } from '../model/bound.js'
import type { Place } from './cells.js'

/** A part of a measure that can be missing, at one time. */
interface Piece {
  kind: 'rows' | 'divisor' | 'base'
  bound: Bound
  steps: readonly Step[]
  text: string
  part?: BoundAggregate
}

/**
 * Why a measure is missing at a place, as one clause; undefined if it has a value. Its parts are
 * summarised again for that place: they have no rows, or no values, divide by zero, lie outside the
 * data, or need what a source does not have.
 */
export async function missingWhy(
  { context: asked }: DecidedReport,
  answered: AnsweredExhibit,
  place: Place,
  name: string,
): Promise<string | undefined> {
  const { report } = asked
  const measure = report.measures.get(name)
  const column = place.painted.cells.table.columns.get(name)?.column
  if (column?.kind !== 'number' || !Number.isNaN(column.values[place.cell])) return undefined
  if (measure === undefined) return 'there is no value in this row'
  if (answered.exhibit.records !== undefined) return 'this row has no value for it'
  const pieces = piecesOf(measure.bound, report)
  const values = await valuesAt(asked, answered, place, pieces)
  const missing = pieces.filter((piece, i) => piece.kind === 'rows' && Number.isNaN(values[i]))
  for (const piece of missing) {
    const why = whyRows(asked, answered, place, piece)
    if (why !== undefined) return why
  }
  const zero = pieces.find((piece, i) => piece.kind === 'divisor' && values[i] === 0)
  if (zero !== undefined) return `it divides by ${zero.text}, which is 0 here`
  const base = pieces.find((piece, i) => piece.kind === 'base' && !(values[i] > 0))
  if (base !== undefined) return `it is a share of ${base.text}, which is not above 0 here`
  const [first] = missing
  if (first !== undefined) return await whyEmpty(asked, answered, place, first)
  return 'a condition in its formula is missing here'
}

/** The aggregates of a measure with their times, and its divisors. */
function piecesOf(bound: Bound, { measures }: BoundReport): Piece[] {
  const pieces: Piece[] = []
  const seen = new Set<string>()
  const visit = (expression: Bound, steps: readonly Step[]): void => {
    if (expression.op === 'aggregate') {
      const id = `${stepsKey(steps)} ${expression.key}`
      if (seen.has(id)) return
      seen.add(id)
      pieces.push({ kind: 'rows', bound: expression, steps, text: expression.key, part: expression })
      return
    }
    if (expression.op === 'moved') {
      visit(expression.of, [...steps, expression.step])
      return
    }
    if (expression.op === 'name' && expression.ref.kind === 'measure') {
      const measure = measures.get(expression.ref.name)
      if (measure !== undefined) visit(measure.bound, steps)
      return
    }
    for (const part of operandsOf(expression)) visit(part, steps)
    if (expression.op === 'arithmetic' && expression.sign === '/')
      pieces.push({ kind: 'divisor', bound: expression.right, steps, text: textOf(expression.right, measures) })
    const base = expression.op === 'call' ? FUNCTIONS[expression.name].base : undefined
    if (expression.op === 'call' && base !== undefined)
      pieces.push({ kind: 'base', bound: expression.args[base], steps, text: textOf(expression.args[base], measures) })
  }
  visit(bound, [])
  return pieces
}

function textOf(bound: Bound, measures: BoundReport['measures']): string {
  if (bound.op === 'name') return measures.get(bound.ref.name)?.label ?? bound.ref.name
  return bound.op === 'aggregate' ? bound.key : 'its divisor'
}

/** The parts as measures of their own, in the same exhibit. */
async function valuesAt(
  asked: DecidedReport['context'],
  answered: AnsweredExhibit,
  place: Place,
  pieces: readonly Piece[],
): Promise<number[]> {
  const { report } = asked
  const pieceMeasures = pieces.map(({ bound, steps }, i): Measure => {
    const whole = [...steps].reverse().reduce((of, step): Bound => ({ op: 'moved', of, step, type: of.type }), bound)
    return { name: `(piece ${i})`, label: '', unit: { is: 'none' }, formula: '', bound: whole }
  })
  const measures = new Map([
    ...report.measures,
    ...pieceMeasures.map((measure): [string, Measure] => [measure.name, measure]),
  ])
  const exhibit = { ...answered.exhibit, show: [...answered.exhibit.show, ...pieceMeasures.map(({ name }) => name)] }
  const again = await answerExhibit({ ...asked, report: { ...report, measures } }, exhibit, [])
  const { rowDepth, columnDepth, rest } = place.painted.level
  const level =
    rest === undefined
      ? again.summary.levels[rowDepth][columnDepth]
      : again.summary.rests.find((other) => other.rest.depth === rest.depth)?.levels[columnDepth]
  return pieceMeasures.map(({ name }) => {
    const column = level?.table.columns.get(name)?.column
    return column?.kind === 'number' ? column.values[place.cell] : Number.NaN
  })
}

/** What a source does not have, or a time outside the data. */
function whyRows(
  asked: DecidedReport['context'],
  answered: AnsweredExhibit,
  place: Place,
  { part, steps }: Piece,
): string | undefined {
  const { report } = asked
  const [home] = report.sources
  const source = report.sources.find((source) => source.name === (part?.source ?? home.name)) ?? home
  const keys = placeKeys(answered, place)
  for (const { name } of keys) {
    const why = whyNotSplit(source, name, home)
    if (why !== undefined) return `${source.name} does not know ${name}: ${why}`
  }
  const { exhibit } = answered
  const measures = withParts(report.measures, exhibit.show)
  const spans = exhibitSpans(asked, exhibit, measures)
  const asking = sourceQueries(report, exhibit, measures, spans, []).find(
    (query) => query.engine === source.engine && stepsKey(query.steps) === stepsKey(steps),
  )
  const { time, weeks = false } = asking ?? {}
  if (time === undefined) return undefined
  const [span] = spansOf({ count: 1, keys: keys.filter(({ codes }) => codes[0] !== OTHERS_CODE) }, time.whole)
  if (span.from > span.to) return `it lies after ${asked.asOf === undefined ? 'the data' : 'the date of the report'}`
  const shift = plainShift(steps.filter((step) => step.kind === 'lag'))
  if (shift === undefined || (shift.months === 0 && shift.days === 0)) return undefined
  const past = weeks ? moveWeeks(span, shift) : moveSpan(span, shift)
  if (past.from >= time.data.from && past.to <= time.data.to) return undefined
  return `it reads ${spanText(past, report.locale)}, outside the data of ${source.name}, which cover ${spanText(time.data, report.locale)}`
}

function placeKeys({ summary }: AnsweredExhibit, place: Place): CellSetKey[] {
  return [
    ...place.row.codes.map((code, k) => ({ ...summary.rows.keys[k], codes: Int32Array.of(code) })),
    ...place.column.codes.map((code, k) => ({ ...summary.columns.keys[k], codes: Int32Array.of(code) })),
  ]
}

/** No rows, or rows without a value. */
async function whyEmpty(
  asked: DecidedReport['context'],
  answered: AnsweredExhibit,
  place: Place,
  { part, steps, text }: Piece,
): Promise<string> {
  const { report } = asked
  const home = report.sources[0].name
  const source = part?.source ?? home
  const rows: BoundAggregate = {
    op: 'aggregate',
    statistic: 'count',
    share: 0.5,
    key: `rows of ${source}`,
    type: { kind: 'number', unit: { is: 'count' } },
    ...(part?.source === undefined ? {} : { source: part.source }),
  }
  const [count] = await valuesAt(asked, answered, place, [{ kind: 'rows', bound: rows, steps, text }])
  const when = stepsKey(steps) === '' ? '' : ' in that period'
  return count > 0
    ? `none of the ${count} ${count === 1 ? 'row' : 'rows'} of ${source}${when} has a value for ${text}`
    : `${source} has no rows here${when}`
}
