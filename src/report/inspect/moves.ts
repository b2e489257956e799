import type { Move } from '../../page/page.js'
import type { Status } from '../../spec/rules.js'
import type { CellStyle } from '../../style/cell-style.js'
import { statusLabel } from '../../style/status.js'
import { isReading } from '../bind/exhibit-defaults.js'
import { moveOf } from '../layout/since/answer.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'
import { addressOf, type ComparedCell, comparedCells, type RestyledCell, styleText } from './compare.js'

/** The keys of a cell and its name for readers. */
export interface CellAddress extends Pick<ComparedCell, 'exhibit' | 'measure' | 'row' | 'column' | 'name'> {}

/** The status and value of a cell at one of two dates. */
export interface CellState extends Pick<ComparedCell, 'value' | 'text'> {
  /** The name of the status; null for none. */
  status: string | null
  /** Its label; null for none. */
  label: string | null
}

/** A cell whose status is another than before. */
export interface MovedCell extends CellAddress {
  move: Move
  from: CellState
  to: CellState
}

/** A cell that is there at one of the two dates alone. */
export interface LoneCell extends CellAddress, CellState {}

/** How often the cells of a measure went from one status to another; null is none. */
export interface StatusMatrix {
  exhibit: string
  measure: string
  /** In the order of the report, then those that it does not have, then none. */
  statuses: readonly (string | null)[]
  labels: readonly string[]
  /** A row for each status before, with a count for each status after. */
  counts: readonly (readonly number[])[]
}

/** What changed between two states of the same exhibits: detail cells, matched by their keys. */
export interface Moves {
  moved: MovedCell[]
  /** With the same status, and another colour, icon, weight, flag, picture or hidden value. */
  restyled: RestyledCell[]
  appeared: LoneCell[]
  gone: LoneCell[]
  matrices: StatusMatrix[]
}

/** The two states of the exhibits of a report: at an earlier date, and now. */
export function statesSince({ exhibits }: DecidedReport): { before: ComparedCell[]; now: ComparedCell[] } {
  const compared = exhibits.flatMap(({ exhibit, since }) => (since === undefined || isReading(exhibit) ? [] : [since]))
  const cells = (answered: AnsweredExhibit): ComparedCell[] => {
    answered.levels.of(answered.summary.levels[answered.exhibit.rows.length][answered.exhibit.columns.length])
    return comparedCells(answered).filter(({ measure }) => paints(answered, measure))
  }
  return {
    before: compared.flatMap(({ before }) => cells(before)),
    now: compared.flatMap(({ now }) => cells(now)),
  }
}

/** Whether some rule may paint a measure of an exhibit: other cells cannot change. */
function paints({ levels }: AnsweredExhibit, measure: string): boolean {
  return levels.decided().some(({ result }) => result.painting.has(measure))
}

/**
 * What changed from one state to another.
 *
 * @param bars whether a cell is restyled by another length of its bar, too.
 */
export function movesBetween(
  then: readonly ComparedCell[],
  now: readonly ComparedCell[],
  statuses: Readonly<Record<string, Status>>,
  bars: boolean,
): Moves {
  const before = new Map(then.map((cell) => [addressOf(cell), cell]))
  const moves: Moves = { moved: [], restyled: [], appeared: [], gone: [], matrices: [] }
  const pairs: [ComparedCell, ComparedCell][] = []
  for (const cell of now) {
    const address = addressOf(cell)
    const was = before.get(address)
    before.delete(address)
    if (was === undefined) moves.appeared.push({ ...placeOf(cell), ...stateOf(cell) })
    else pairs.push([was, cell])
  }
  moves.gone = [...before.values()].map((cell) => ({ ...placeOf(cell), ...stateOf(cell) }))
  for (const [was, is] of pairs) {
    const [from, to] = [was.look.status, is.look.status]
    if (from !== to)
      moves.moved.push({ ...placeOf(is), move: moveOf(statuses, from, to), from: stateOf(was), to: stateOf(is) })
    else if (bars ? was.style !== is.style : channels(was.look) !== channels(is.look))
      moves.restyled.push({ ...is, was: was.look, is: is.look, bars: { was: was.bar, is: is.bar } })
  }
  moves.matrices = matricesOf(pairs, statuses)
  return moves
}

function placeOf({ exhibit, measure, row, column, name }: ComparedCell): CellAddress {
  return { exhibit, measure, row, column, name }
}

function stateOf({ value, text, look, status }: ComparedCell): CellState {
  return { status: look.status, label: status, value, text }
}

function channels(look: CellStyle): string {
  return styleText(look, null)
}

function matricesOf(
  pairs: readonly (readonly [ComparedCell, ComparedCell])[],
  statuses: Readonly<Record<string, Status>>,
): StatusMatrix[] {
  const measures = new Map<string, { exhibit: string; measure: string; steps: [string | null, string | null][] }>()
  for (const [was, is] of pairs) {
    const { exhibit, measure } = is
    const key = JSON.stringify([exhibit, measure])
    const one = measures.get(key) ?? { exhibit, measure, steps: [] }
    measures.set(key, one)
    one.steps.push([was.look.status, is.look.status])
  }
  const known = Object.keys(statuses)
  return [...measures.values()].flatMap(({ exhibit, measure, steps }): StatusMatrix[] => {
    const seen = new Set(steps.flat())
    if (seen.size === 1 && seen.has(null)) return []
    const others = [...seen].filter((name) => name !== null && !known.includes(name))
    const names = [...known.filter((name) => seen.has(name)), ...others, ...(seen.has(null) ? [null] : [])]
    const labels = names.map((name) => (name === null ? 'none' : statusLabel(statuses, name)))
    const counts = names.map((from) =>
      names.map((to) => steps.reduce((sum, [a, b]) => sum + (a === from && b === to ? 1 : 0), 0)),
    )
    return [{ exhibit, measure, statuses: names, labels, counts }]
  })
}
