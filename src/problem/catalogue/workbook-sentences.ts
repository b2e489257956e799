import { quote, short, some } from '../phrases.js'

/** Sentences about workbooks, loaded with their reader. */
export const WORKBOOK_SENTENCES = {
  'not-ods': (_: object) =>
    'this is a workbook of another format; save it as an OpenDocument spreadsheet (.ods) or as CSV',
  'archive-not-ods': (_: object) =>
    'this is an archive and no workbook; unpack it, or save the table as an OpenDocument spreadsheet (.ods) or as CSV',
  'ods-other-document': (p: { type: string }) =>
    `this is an OpenDocument file of another kind (${short(p.type)}); save the table as a spreadsheet (.ods) or as CSV`,
  'ods-encrypted': (_: object) => 'this workbook has a password; save it without one',
  'ods-broken': (p: { why: string }) => `this workbook cannot be read: ${p.why.slice(0, 200)}; save it again`,
  'ods-too-large': (p: { packed: number; most: number }) =>
    `${p.packed} bytes unpack to more than ${p.most}, as no workbook does; check the file, or lift the limit with --no-limit`,
  'ods-too-many-parts': (p: { most: number }) =>
    `the archive has more than ${p.most} parts; check the file, or lift the limit with --no-limit`,
  'ods-too-many-cells': (p: { most: number }) =>
    `sheet cells repeat to more than ${p.most}; check the file, or lift the limit with --no-limit`,
  'sheet-missing': (p: { name: string; nearest: string | undefined; known: readonly string[] }) =>
    `there is no sheet ${quote(p.name)}${p.nearest === undefined ? '' : `; did you mean ${quote(p.nearest)}?`} (sheets: ${some(p.known)})`,
  'sheet-none': (_: object) => 'the workbook has no sheet',
  'sheet-empty': (p: { sheet: string; where: string }) =>
    `sheet ${quote(p.sheet)} has no values${p.where}; choose another one with sheet:`,
  'sheet-no-header': (p: { sheet: string; row: number; lacks: readonly string[] }) =>
    `no row of sheet ${quote(p.sheet)} has a name above every column; row ${p.row} lacks one in ${some(p.lacks)}; write header: ${p.row} and the names, or the range of the table as in range: A3:H200`,
  'sheet-no-name': (p: { sheet: string; cell: string; below: string }) =>
    `sheet ${quote(p.sheet)} has no name in ${p.cell}, and a value in ${p.below} below it; write one, or leave the column out with range:`,
  'sheet-taken': (_: object) =>
    'a column has the name sheet, which a pattern of sheets gives to their names; rename one in the header',
  'bad-range': (p: { text: string }) => `expected a range such as A3:H200 or A:H, found ${quote(p.text)}`,
  'range-and-header': (_: object) => 'a range begins with its header; write one of range: and header:',
  'note-sheet': (p: {
    file: string
    sheet: string
    of: number
    range: string
    header: number
    /** What was not said and had to be chosen. */
    chosen: Readonly<Record<string, string | number>>
  }) =>
    `${p.file}: sheet ${quote(p.sheet)}${p.of > 1 ? `, one of ${p.of},` : ''} is read in ${p.range}, with the header in row ${p.header}; write ${Object.entries(
      p.chosen,
    )
      .map(([key, value]) => `${key}: ${value}`)
      .join(', ')} to confirm it`,
  'note-sheet-errors': (p: { count: number; cells: readonly string[]; sample: string }) =>
    `${p.count} ${p.count === 1 ? 'cell has an error and counts' : 'cells have errors and count'} as missing: ${some(p.cells)}, as in ${quote(p.sample)}`,
  'note-sheet-hidden': (p: { hidden: number; filtered: number; sheet: string }) =>
    `of sheet ${quote(p.sheet)}, rows that are not shown are read, too: ${[p.hidden > 0 ? `${p.hidden} hidden` : '', p.filtered > 0 ? `${p.filtered} filtered out` : ''].filter((text) => text !== '').join(', ')}`,
  'note-sheet-merged': (p: { count: number; sheet: string; sample: string }) =>
    `of sheet ${quote(p.sheet)}, ${p.count} ${p.count === 1 ? 'cell' : 'cells'} under merged ones ${p.count === 1 ? 'counts' : 'count'} as missing, as ${p.sample}; write merged: repeat to fill them`,
  'note-sheet-times': (p: { column: string; sample: string }) =>
    `${p.column} has times, which are read in hours, ${p.sample}; write read: { ${p.column}: text } to keep them as on a clock`,
  'note-sheet-currencies': (p: { column: string; currencies: readonly string[] }) =>
    `${p.column} has amounts in ${some(p.currencies)}, and no unit`,
} as const
