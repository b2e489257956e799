import { periodPrinter } from '../../../format/period.js'
import type { Cell, GridExhibit, Move, Row } from '../../../page/page.js'
import { dayText } from '../../../time/day.js'
import { answerExhibit } from '../../answer/exhibit.js'
import type { AnsweredExhibit } from '../../model/answered.js'
import { CellMaker } from '../cells.js'
import { headingText } from '../labels.js'
import { childOrder } from '../row-order.js'
import { PLAIN } from '../slots.js'
import type { Prepare } from './prepare.js'

/** The order of the list: worse news first. */
const ORDER: readonly Move[] = ['fell', 'cleared', 'changed', 'marked', 'rose']

/**
 * Lists the cells whose status changed: the status and value at the earlier date, and those now.
 * Without an earlier date there is nothing to list.
 */
function buildMoves(answered: AnsweredExhibit): GridExhibit {
  const { exhibit, report, summary, since } = answered
  const [measure] = exhibit.show
  const make = new CellMaker(answered)
  const moved = detailNodes(answered).flatMap((node) => {
    const is = make.cell(summary.levels[exhibit.rows.length][0], node, 0, measure)
    return is.was === undefined ? [] : [{ node, is, move: is.was.move }]
  })
  moved.sort((a, b) => ORDER.indexOf(a.move) - ORDER.indexOf(b.move))
  const date = periodPrinter(report.locale, report.calendar).date
  const [then, now] = [since?.day, answered.asOf].map((day) => (day === undefined ? '' : date(day)))
  const label = report.measures.get(measure)?.label ?? measure
  const { legends, notes } = answered.legendsAndMessages()
  const head = (text: string, numeric: boolean): GridExhibit['columnHeadings'][number][number] => ({
    keys: [],
    level: 'detail',
    text,
    ...PLAIN,
    span: 1,
    numeric,
  })
  return {
    ...answered.head,
    kind: 'list',
    note: exhibit.note ?? `${label}, ${moved.length} of ${summary.rows.depths[exhibit.rows.length].length}`,
    corner: headingText(exhibit.rows, report.labels),
    corners: exhibit.rows.map((key) => headingText([key], report.labels)),
    columnHeadings: [[head('From', false), head('To', false), head(then, true), head(now, true)]],
    styles: [STATUS, STATUS, NUMBER, NUMBER],
    trends: [],
    rows: moved.map(({ node, is }): Row => {
      const was = since === undefined ? undefined : formerCell(since, is, node, measure)
      const [{ keys }, text] = [
        { keys: make.labels.keys(summary.rows, summary.rows.depths[exhibit.rows.length][node]) },
        is.places.join(', '),
      ]
      return {
        heading: { keys, level: 'detail', text, ...PLAIN },
        depth: 1,
        group: false,
        cells: [was && inWords(was), inWords(is), was ?? null, is].map((cell) => cell ?? null),
        trends: [],
      }
    }),
    nest: 'indented',
    spacing: 'normal',
    legends,
    messages: notes,
  }
}

const STATUS = { draw: 'status', icon: 'before' } as const
const NUMBER = { draw: 'number', icon: 'before' } as const

/** The details in the order of the rows. */
function detailNodes(answered: AnsweredExhibit): number[] {
  const order = childOrder(answered)
  const deepest = answered.exhibit.rows.length
  const visit = (depth: number, node: number): number[] =>
    depth === deepest ? [node] : order(depth, node).flatMap((child) => visit(depth + 1, child))
  return visit(0, 0)
}

/** The same cell at the earlier date. */
function formerCell(
  { before, day, past }: NonNullable<AnsweredExhibit['since']>,
  is: Cell,
  node: number,
  measure: string,
): Cell {
  const level = before.summary.levels[before.exhibit.rows.length][0]
  const cell = new CellMaker(before).cell(level, past(node), 0, measure)
  return { ...cell, row: is.row, date: dayText(day) }
}

/** A cell that shows its status in place of its value. */
function inWords({ was: _was, ...cell }: Cell): Cell {
  return { ...cell, bar: null, flag: null, text: cell.statusText, statusText: '' }
}

export const prepare: Prepare = async (context, exhibit) => ({
  answered: await answerExhibit(context, exhibit),
  build: buildMoves,
})
