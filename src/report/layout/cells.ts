import type { Cell, Heading, LevelName, RecordCell } from '../../page/page.js'
import { type CellStyle, iconOf, PLAIN_STYLE } from '../../style/cell-style.js'
import { type Bar, barOf, extentOf, styleOf } from '../../style/painting.js'
import { statusLabel } from '../../style/status.js'
import type { Level } from '../../summary/cells/summarise.js'
import { headerLook } from '../answer/paint-levels.js'
import { valueAt } from '../answer/value.js'
import type { AnsweredExhibit } from '../model/answered.js'
import { createLabels, type LabelMaker, restNode } from './labels.js'

/** Creates the cells and headings of one exhibit; formatters are cached. */
export class CellMaker {
  readonly labels: LabelMaker
  readonly #answered: AnsweredExhibit
  readonly #hidden: Map<CellStyle, CellStyle>
  readonly #levels = new Map<Level, Cell['level']>()

  constructor(answered: AnsweredExhibit) {
    this.#answered = answered
    this.labels = createLabels(answered)
    this.#hidden = answered.cache?.hidden ?? new Map<CellStyle, CellStyle>()
  }

  /** The same cell with its number hidden. */
  hidden(cell: Cell): Cell {
    return { ...cell, style: this.#shown(cell.style, true) }
  }

  /** The style of a row heading, with its words. */
  head(depth: number, node: number): Pick<Heading, 'style' | 'bar' | 'flag' | 'statusText'> {
    const { levels, exhibit, summary } = this.#answered
    const { style: look, bar } = headerLook(levels, exhibit, depth, node) ?? PLAIN_HEAD
    const level = summary.levels[depth][0]
    const text = () => this.labels.label(summary.rows, summary.rows.depths[depth][node])
    const flag = look.flag === null ? null : this.#flag(look, level, node, text())
    return { style: look, bar, statusText: this.statusText(look), flag }
  }

  cell(level: Level, row: number, column: number, measure: string): Cell {
    const cell = this.record(level, row, measure, column)
    return isOfNumber(cell) ? cell : { ...cell, value: null }
  }

  /** The cells of one column by row, for many cells and for repeated decisions. */
  column(level: Level, column: number, measure: string): (row: number) => Cell {
    const { exhibit, summary, levels, since, cache: memory } = this.#answered
    const cell = (row: number): Cell => this.cell(level, row, column, measure)
    const list = memory?.cells(level, measure)
    const painted = levels.of(level).result.painting.get(measure)
    const width = summary.columns.depths[level.columnDepth].length
    if (list === undefined || exhibit.hide || since !== undefined) return cell
    // Most cells are unchanged, which their style number shows.
    const { ids, styles: looks, bars } = painted ?? { ids: undefined, styles: undefined, bars: undefined }
    return (row) => {
      const at = row * width + column
      const before = list[at]
      if (before === undefined || !isOfNumber(before)) return cell(row)
      const look = ids === undefined ? PLAIN_STYLE : looks[ids[at]]
      if (before.style !== look || look.flag !== null) return cell(row)
      const { bar } = before
      const lies = bars !== undefined && look.bar !== null
      if (bar === null ? lies : !lies || !sameExtent(bar, extentOf(bars.from[at], bars.to[at]))) return cell(row)
      return before
    }
  }

  /** Any column of a record, or a cell. */
  record(level: Level, row: number, name: string, column = 0): RecordCell {
    const { report, exhibit, summary, levels, since, moving, cache: memory } = this.#answered
    const { labels } = this
    const columns = summary.columns.depths[level.columnDepth]
    const at = row * columns.length + column
    const tableColumn = level.table.columns.get(name)
    const { painting } = levels.of(level).result
    const given = styleOf(painting, name, at)
    const look = this.#shown(given, exhibit.hide && (isDetail(level, exhibit) || isSeen(given)))
    const bar = barOf(painting, name, at)
    const list = memory?.cells(level, name)
    const before = list?.[at]
    const method = moving?.methodAt(level, at, name)
    const was = isDetail(level, exhibit) ? since?.was(at, name) : undefined
    // A flag may contain a parameter, so it can change with an equal style.
    if (
      before !== undefined &&
      before.style === look &&
      look.flag === null &&
      before.was === was &&
      sameBar(before.bar, bar)
    )
      return before
    const rowNode =
      level.rest === undefined ? summary.rows.depths[level.rowDepth][row] : restNode(summary.rows, level.rest, row)
    const text = tableColumn === undefined ? '' : labels.text(tableColumn, at)
    const rowNames = labels.names(summary.rows, rowNode)
    const columnNames = labels.names(summary.columns, columns[column])
    const cell: RecordCell = {
      row: labels.keys(summary.rows, rowNode),
      column: labels.keys(summary.columns, columns[column]),
      level: this.#levelNames(level),
      measure: name,
      measureLabel: report.measures.get(name)?.label ?? report.labels.get(name) ?? name,
      value: tableColumn === undefined ? null : valueAt(tableColumn, at),
      text,
      style: look,
      bar,
      extent: null,
      flag: [was ? was.sign : '', this.#flag(look, level, at, text) ?? ''].join(' ').trim() || null,
      statusText: this.statusText(look),
      ...(was && { was }),
      ...(method && { method: method.name }),
      places: columnNames.length === 0 ? rowNames : [...rowNames, ...columnNames],
      name: [...rowNames, ...columnNames].join(', ') || 'Total',
    }
    if (list !== undefined) list[at] = cell
    return cell
  }

  /**
   * The `hide` of an exhibit applies where no rule sets one; styles stay shared, so that writers
   * need few classes.
   */
  #shown(look: CellStyle, hide: boolean): CellStyle {
    if (!hide || look.hide !== null) return look
    const hidden = this.#hidden.get(look) ?? { ...look, hide: 'value' as const }
    this.#hidden.set(look, hidden)
    return hidden
  }

  statusText({ status }: CellStyle): string {
    return status === null ? '' : statusLabel(this.#answered.report.statuses, status)
  }

  #flag(look: CellStyle, level: Level, at: number, value: string): string | null {
    return look.flag === null
      ? null
      : (this.#answered.flags?.(this, this.#answered, { look, level, at, value }) ?? null)
  }

  #levelNames(level: Level): Cell['level'] {
    let levelCells = this.#levels.get(level)
    if (levelCells === undefined) {
      const { rows, columns } = this.#answered.exhibit
      levelCells = {
        row: level.rest === undefined ? levelName(level.rowDepth, rows.length) : 'subtotal',
        column: levelName(level.columnDepth, columns.length),
      }
      this.#levels.set(level, levelCells)
    }
    return levelCells
  }
}

function levelName(depth: number, deepest: number): LevelName {
  return depth === deepest ? 'detail' : depth === 0 ? 'total' : 'subtotal'
}

function isOfNumber(cell: RecordCell): cell is Cell {
  return typeof cell.value !== 'string'
}

export function sameBar(a: Bar | null, b: Bar | null): boolean {
  if (a === null || b === null) return a === b
  return sameExtent(a, b) && a.color === b.color && a.finish === b.finish
}

type Extent = Pick<Bar, 'from' | 'to' | 'beyond'>

function sameExtent(a: Extent, b: Extent): boolean {
  return a.from === b.from && a.to === b.to && a.beyond === b.beyond
}

function isDetail({ rowDepth, columnDepth, rest }: Level, { rows, columns }: AnsweredExhibit['exhibit']): boolean {
  return rest === undefined && rowDepth === rows.length && columnDepth === columns.length
}

/**
 * Whether a style shows something besides the number: an unpainted total would be blank without it.
 */
function isSeen(style: CellStyle): boolean {
  const { fill, bar, picture } = style
  return fill !== null || iconOf(style) !== null || bar !== null || picture !== null
}

const PLAIN_HEAD = { style: PLAIN_STYLE, bar: null }
