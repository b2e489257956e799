import type { Cells } from '../../rule/model.js'
import { paintCells } from '../../rule/run/paint.js'
import { barOf, styleOf } from '../../style/painting.js'
import type { Level, Summary } from '../../summary/cells/summarise.js'
import type { AnsweredExhibit, PaintedLevel, PaintedLevels, StyledCell } from '../model/answered.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'
import { parameterValues } from './facts.js'

export function createPaintedLevels(
  report: BoundReport,
  {
    exhibit,
    summary,
    unfiltered,
    rules,
    cache,
    unfinished,
  }: Pick<AnsweredExhibit, 'exhibit' | 'summary' | 'unfiltered' | 'rules' | 'cache' | 'unfinished'>,
  oneScale: Cells['oneScale'],
): PaintedLevels {
  const done = new Map<Level, PaintedLevel>()
  const heads = new Map<number, PaintedLevel | undefined>()
  const painted = (level: Level, cells: Cells, names: readonly string[]): PaintedLevel => ({
    level,
    cells,
    result: paintCells(oneScale === undefined ? cells : { ...cells, oneScale }, rules, names),
  })
  return {
    of(level) {
      let ready = done.get(level)
      if (ready === undefined) {
        const shown = { ...cellsOfLevel(report, exhibit, summary, level), ...unfinished?.(level) }
        const all = unfiltered && levelLike(unfiltered.summary, level)
        const cells =
          unfiltered === undefined || all === undefined
            ? shown
            : {
                ...shown,
                unfiltered: { run: unfiltered.run, cells: cellsOfLevel(report, exhibit, unfiltered.summary, all) },
              }
        const shownCells =
          cache === undefined
            ? cells
            : { ...cells, runCache: cache.runCache(level), styleCaches: cache.styleCaches(level) }
        ready = painted(level, shownCells, exhibit.show)
        done.set(level, ready)
      }
      return ready
    },
    headings(depth) {
      if (depth === 0) return undefined
      if (!heads.has(depth)) {
        const key = exhibit.rows[depth - 1]
        const any = rules.some((rule) => rule.target === 'row' || rule.measure === key)
        const level = summary.levels[depth][0]
        const all = unfiltered?.summary.levels[depth]?.[0]
        const cells = headerCells(report, exhibit, level)
        const shownCells =
          unfiltered === undefined || all === undefined
            ? cells
            : { ...cells, unfiltered: { run: unfiltered.run, cells: headerCells(report, exhibit, all) } }
        heads.set(depth, any ? painted(level, shownCells, [key]) : undefined)
      }
      return heads.get(depth)
    },
    decided: () => [...done.values(), ...[...heads.values()].filter((head) => head !== undefined)],
  }
}

/** The style of a heading, by its index at its depth. */
export function headerLook(
  levels: PaintedLevels,
  exhibit: BoundExhibit,
  depth: number,
  node: number,
): StyledCell | undefined {
  const head = levels.headings(depth)
  if (head === undefined) return undefined
  const { painting } = head.result
  const key = exhibit.rows[depth - 1]
  return { style: styleOf(painting, key, node), bar: barOf(painting, key, node) }
}

/** The same level in another summary of the exhibit. */
function levelLike({ levels, rests }: Summary, { rowDepth, columnDepth, rest }: Level): Level | undefined {
  if (rest === undefined) return levels[rowDepth]?.[columnDepth]
  return rests.find((other) => other.rest.depth === rest.depth)?.levels[columnDepth]
}

function cellsOfLevel(report: BoundReport, exhibit: BoundExhibit, summary: Summary, level: Level): Cells {
  const { rowDepth, columnDepth, table, mixed, rest } = level
  const details = rest === undefined && rowDepth === exhibit.rows.length && columnDepth === exhibit.columns.length
  const depth = rest === undefined ? rowDepth : rowDepth - 1
  const keys = [...exhibit.rows.slice(0, depth), ...exhibit.columns.slice(0, columnDepth)]
  const totals = keys.length === 0 ? 'grand total' : `totals by ${keys.join(' and ')}`
  const cells: Cells = {
    exhibit: exhibit.name,
    level: details ? 'detail' : rest === undefined && keys.length === 0 ? 'total' : 'subtotal',
    part: 'cells',
    levelText: details ? 'details' : rest === undefined ? totals : rest.label,
    table,
    keys,
    mixed,
    parameters: parameterValues(report),
  }
  const columns = summary.columns.depths[columnDepth].length
  const whole =
    rest === undefined ? summary.levels[rowDepth][0] : summary.rests.find((other) => other.rest === rest)?.levels[0]
  if (whole === undefined) return cells
  return { ...cells, rows: rowsOfCells(rowCells(report, exhibit, whole), table.length, columns) }
}

/** The row of each cell, for so many cells in a row; computed for rules of rows only. */
function rowsOfCells(cells: Cells, length: number, columns: number): NonNullable<Cells['rows']> {
  let of: Int32Array | undefined
  return {
    cells,
    get of() {
      if (of === undefined) {
        of = new Int32Array(length)
        for (let i = 0; i < length; i++) of[i] = Math.floor(i / columns)
      }
      return of
    },
  }
}

/** Headings: for their own rules each depth is a detail, for rules of rows only the deepest. */
function headerCells(report: BoundReport, exhibit: BoundExhibit, level: Level): Cells {
  const rows = rowCells(report, exhibit, level)
  return {
    ...rows,
    level: 'detail',
    part: 'headings',
    levelText: `headings of ${exhibit.rows[level.rowDepth - 1]}`,
    rows: rowsOfCells(rows, level.table.length, 1),
  }
}

/** Rows of one depth: the deepest are details, whatever the columns. */
function rowCells(report: BoundReport, exhibit: BoundExhibit, level: Level): Cells {
  const { rowDepth, table, mixed, rest } = level
  const deepest = rest === undefined && rowDepth === exhibit.rows.length
  const keys = exhibit.rows.slice(0, rest === undefined ? rowDepth : rowDepth - 1)
  return {
    exhibit: exhibit.name,
    level: deepest ? 'detail' : rest === undefined && keys.length === 0 ? 'total' : 'subtotal',
    part: 'rows',
    levelText: deepest ? 'rows' : `rows by ${keys.join(' and ')}`,
    table,
    keys,
    mixed,
    parameters: parameterValues(report),
  }
}
