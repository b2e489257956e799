import type { CardsExhibit, ChartExhibit, Exhibit, GridExhibit, ReadingExhibit } from '../../page/page.js'
import { PLAIN_STYLE } from '../../style/cell-style.js'
import { cardFlag } from '../model/card-parts.js'
import { EMPTY, gridSheet, recordsSheet, type Sheet, type SheetRow, sheetCell } from '../model/sheet.js'

/** The numbers behind a chart, loaded for pages with charts. */
export type ChartSheet = (exhibit: ChartExhibit) => Sheet

/** An exhibit as a table of a workbook. */
export function sheetOf(exhibit: Exhibit, chartSheet: ChartSheet | undefined): Sheet {
  switch (exhibit.kind) {
    case 'chart':
      if (chartSheet === undefined) throw new Error('a chart needs its numbers')
      return chartSheet(exhibit)
    case 'cards':
      return cardsSheet(exhibit)
    case 'records':
      return recordsSheet(exhibit)
    case 'reading':
      return readingSheet(exhibit)
    case 'list':
      return listSheet(exhibit)
    default:
      // Each key has a column, so that rows can be sorted and filtered.
      return keysInColumns(gridSheet({ ...exhibit, nest: 'columns' }))
  }
}

/** Each detail row with all its keys: those of its groups may stand above it alone. */
function keysInColumns(sheet: Sheet): Sheet {
  if (sheet.headings < 2) return sheet
  const rows = sheet.rows.map((row): SheetRow => {
    if (row.kind !== 'detail' || row.depth < 2) return row
    const places = row.cells.find(({ of }) => of !== null)?.of?.places ?? []
    const outer = (k: number): boolean => k < row.depth - 1 && places[k] !== undefined
    return { ...row, cells: row.cells.map((cell, k) => (outer(k) ? { ...cell, text: places[k] } : cell)) }
  })
  return { ...sheet, rows }
}

/** Rows of a list have all their keys in one heading: here each has a column. */
function listSheet(exhibit: GridExhibit): Sheet {
  const sheet = gridSheet({ ...exhibit, nest: 'columns' })
  const rows = sheet.rows.map((row) => {
    const places = row.cells.find(({ of }) => of !== null)?.of?.places ?? []
    if (places.length !== sheet.headings) return row
    return { ...row, cells: row.cells.map((cell, c) => (c < places.length ? { ...cell, text: places[c] } : cell)) }
  })
  return { ...sheet, rows }
}

const row = (cells: SheetRow['cells']): SheetRow => ({ kind: 'detail', indent: 0, depth: 0, cells })

/** Cards as rows: the value, what it is compared with, and what is said of it. */
function cardsSheet({ cards }: CardsExhibit): Sheet {
  return {
    headings: 1,
    columns: [
      { label: 'Figure', right: false },
      { label: 'Value', right: true },
      { label: 'Compared with', right: true },
      { label: 'Remark', right: false },
      { label: 'Trend', right: false },
    ],
    tops: [],
    rows: cards.map((card) => {
      const { label, cell, versus, change, note, trend } = card
      const remark = [change?.text ?? '', cardFlag(cell), note ?? ''].filter((text) => text !== '').join('; ')
      return row([
        { ...EMPTY, text: label },
        { ...sheetCell(cell), flag: null },
        versus === null ? EMPTY : { ...sheetCell(versus), look: PLAIN_STYLE, bar: null, flag: null },
        { ...EMPTY, text: remark },
        { ...EMPTY, trend },
      ])
    }),
  }
}

function readingSheet({ sentences }: ReadingExhibit): Sheet {
  return {
    headings: 1,
    columns: [{ label: 'Sentence', right: false }],
    tops: [],
    rows: sentences.map(({ text, style, statusText }) =>
      row([{ ...EMPTY, text, look: style ?? PLAIN_STYLE, statusText }]),
    ),
  }
}
