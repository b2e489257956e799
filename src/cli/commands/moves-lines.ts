import { harmless } from '../../problem/print.js'
import type { LoneCell, MovedCell, Moves, StatusMatrix } from '../../report/inspect/moves.js'
import type { PhraseContext } from '../../rule/explain/phrases.js'
import { table } from '../../view/terminal/columns.js'
import type { Ink } from '../../view/terminal/ink.js'
import { cellCount, restyledData, restyledLines } from './restyled-lines.js'

/** What can be counted of two states, besides statuses. */
export const MOVE_COUNTS = [
  'fell',
  'rose',
  'changed',
  'marked',
  'cleared',
  'moved',
  'restyled',
  'appeared',
  'gone',
] as const
export type MoveCount = (typeof MOVE_COUNTS)[number]

/** The order in which moves are listed, with their words. */
const MOVES = [
  ['fell', 'fell to a worse status'],
  ['rose', 'rose to a better status'],
  ['changed', 'changed to a status that is neither better nor worse'],
  ['cleared', 'lost the status'],
  ['marked', 'got a status'],
] as const

/** How many cells of an exhibit, or of all, did something between two states. */
export function countMoves(moves: Moves, name: MoveCount, exhibit: string | undefined): number {
  const all =
    name === 'moved' || name === 'restyled' || name === 'appeared' || name === 'gone'
      ? moves[name]
      : moves.moved.filter(({ move }) => move === name)
  return all.filter((cell) => exhibit === undefined || cell.exhibit === exhibit).length
}

/** Two states as data: cells by their keys, with status and value before and after. */
export function movesData({ moved, restyled, appeared, gone, matrices }: Moves, facts: PhraseContext): object {
  return { moved, restyled: restyled.map((cell) => restyledData(cell, facts)), appeared, gone, matrices }
}

/** Two states in words: each counted cell is listed. */
export function movesLines(moves: Moves, heading: string, facts: PhraseContext, ink: Ink): string[] {
  const { moved, restyled, appeared, gone, matrices } = moves
  const lines = [
    ink.strong(harmless(heading, true)),
    ...matrices.flatMap((matrix) => ['', ...matrixLines(matrix, ink)]),
  ]
  if (moved.length === 0) lines.push('', 'No cell changed its status.')
  for (const [move, words] of MOVES) {
    const cells = moved.filter((cell) => cell.move === move)
    if (cells.length > 0) lines.push('', ink.strong(`${cellCount(cells.length)} ${words}`), ...movedLines(cells))
  }
  if (appeared.length > 0) lines.push('', ink.strong(`${cellCount(appeared.length)} appeared`), ...loneLines(appeared))
  if (gone.length > 0) lines.push('', ink.strong(`${cellCount(gone.length)} gone`), ...loneLines(gone))
  return [...lines, ...restyledLines(restyled, facts, ink)]
}

/** From each status to each: rows are what cells were, columns what they are. */
function matrixLines({ exhibit, measure, labels, counts }: StatusMatrix, ink: Ink): string[] {
  const numeric = new Set(labels.map((_, i) => i + 1))
  const rows = table(
    [
      ['from \\ to', ...labels.map((label) => harmless(label))],
      ...counts.map((row, i) => [harmless(labels[i]), ...row.map((n) => (n === 0 ? '·' : String(n)))]),
    ],
    numeric,
  )
  return [ink.strong(harmless(`${exhibit}.${measure}`)), ...rows.map((row) => `  ${row.join('  ')}`.trimEnd())]
}

function movedLines(cells: readonly MovedCell[]): string[] {
  const rows = table(
    cells.map(({ exhibit, measure, name, from, to }) => [
      harmless(`${exhibit}.${measure}`),
      harmless(name),
      harmless(from.text),
      '→',
      harmless(to.text),
      harmless(`${from.label ?? 'none'} → ${to.label ?? 'none'}`),
    ]),
    new Set([2, 4]),
  )
  return rows.map(([place, name, from, arrow, to, statuses]) =>
    `  ${place}  ${name}  ${from} ${arrow} ${to}  ${statuses}`.trimEnd(),
  )
}

/** More cells than this are listed in the data alone. */
const MAX_LISTED = 200

function loneLines(cells: readonly LoneCell[]): string[] {
  const rows = table(
    cells
      .slice(0, MAX_LISTED)
      .map(({ exhibit, measure, name, text, label }) => [
        harmless(`${exhibit}.${measure}`),
        harmless(name),
        harmless(text),
        harmless(label ?? ''),
      ]),
    new Set([2]),
  )
  const more = cells.length - rows.length
  return [
    ...rows.map((row) => `  ${row.join('  ')}`.trimEnd()),
    ...(more > 0 ? [`  … and ${cellCount(more)} more; --json lists all`] : []),
  ]
}
