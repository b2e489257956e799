import { readReport } from './file/report.js'
import type { ReportFile } from './file/report-file.js'
import { type Cell, cellsOf as cellsIn, type Exhibit, type Page, type RecordCell } from './page/page.js'
import { type Problem, ProblemError, problem } from './problem/problem.js'
import { stopIf } from './problem/stop.js'
import { checkReport } from './report/bind/report.js'
import type { Settings } from './report/model/bound.js'
import { follow } from './report/model/progress.js'
import { answerFrom, atSource, readOptions } from './report/open.js'
import { checkShape, type Shape } from './shape/shape.js'
import { readSource } from './source/read.js'
import type { ReportSpec } from './spec/report.js'
import { asSourceTable } from './table/as-table.js'
import type { SourceTable } from './table/source-table.js'
import type { Table } from './table/table.js'

export { readReport } from './file/report.js'
export type { ReportFile } from './file/report-file.js'
export type {
  Card,
  CardsExhibit,
  Cell,
  ChartExhibit,
  Exhibit,
  GridExhibit,
  Page,
  ReadingExhibit,
  RecordCell,
  RecordsExhibit,
} from './page/page.js'
export type { StopSignal } from './problem/stop.js'
export type { Settings } from './report/model/bound.js'
export type { Following, ProgressEvent } from './report/model/progress.js'
export { type SketchQuestion, sketchQuestions } from './sketch/questions.js'
export { type SketchAnswers, type SketchOptions, type SketchSource, sketch } from './sketch/sketch.js'
export { readCsv } from './source/formats/csv/read.js'
export { readSource } from './source/read.js'
export type { SourceFile } from './source/source-file.js'
export type { ReadOptions } from './source/typed.js'
export type { ReportSpec } from './spec/report.js'
export type { SourceTable } from './table/source-table.js'

/**
 * Every cell of an exhibit, in reading order.
 *
 * @throws ProblemError for what is no exhibit.
 */
export function cellsOf(exhibit: Exhibit): readonly (Cell | RecordCell)[] {
  checkShape({ each: 'anything' }, exhibit, ['exhibit'])
  checkShape({ oneOf: KINDS }, exhibit.kind, ['exhibit', 'kind'])
  return cellsIn(exhibit)
}

const KINDS = ['table', 'heatmap', 'chart', 'cards', 'records', 'list', 'reading']

/**
 * The rows of a report's sources by name: the contents of its file, a table from `readSource`, any
 * table, or a list of rows.
 */
export type ReportData = Readonly<Record<string, string | Uint8Array | SourceTable | Table | readonly object[]>>

/**
 * Answers a report from its data in memory, and lays it out as a page for `acuarela/html`,
 * `acuarela/data` and the others.
 *
 * @param report YAML or JSON text, a plain object, or what `readReport` gave.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function openReport(
  report: string | ReportSpec | ReportFile,
  data: ReportData,
  settings: Settings = {},
): Promise<Page> {
  const file = asReportFile(report)
  checkShape(DATA, data, ['data'])
  const { read, problems } = await readAll(file, data, settings)
  return answerFrom(file, read, problems, settings)
}

/**
 * Finds all problems of a report; without data, column names are not checked. Never throws for
 * them.
 */
export async function checkReportData(
  report: string | ReportSpec | ReportFile,
  data: ReportData = {},
  settings: Settings = {},
): Promise<Problem[]> {
  const file = asReportFile(report)
  checkShape(DATA, data, ['data'])
  // A report can be checked without its data, but not answered.
  const { read, problems } =
    Object.keys(data).length === 0 ? { read: new Map(), problems: [] } : await readAll(file, data, settings)
  return [...problems, ...checkReport(file, read, settings)]
}

const DATA: Shape = { each: 'anything' }

function asReportFile(report: string | ReportSpec | ReportFile): ReportFile {
  checkShape({ any: ['text', { each: 'anything' }] }, report, ['report'])
  const isFile = typeof report === 'object' && 'place' in report && typeof report.place === 'function'
  return isFile ? (report as ReportFile) : readReport(report as string | ReportSpec)
}

/** The table of each source, from the data under its name. */
async function readAll(
  file: ReportFile,
  data: ReportData,
  following: Settings,
): Promise<{ read: Map<string, SourceTable>; problems: Problem[] }> {
  const read = new Map<string, SourceTable>()
  const problems: Problem[] = []
  const tell = follow(following)
  for (const [name, spec] of Object.entries(file.spec?.sources ?? {})) {
    if (!Object.hasOwn(data, name) || data[name] === undefined) {
      problems.push(file.place(problem('no-data', { name }, { path: ['sources', name] })))
      continue
    }
    const input = data[name]
    stopIf(following.signal)
    try {
      if (typeof input !== 'string' && !(input instanceof Uint8Array)) {
        read.set(name, asSourceTable(input, name))
        continue
      }
      read.set(
        name,
        await readSource([{ name: spec.file ?? name, content: input }], {
          ...readOptions(file, name),
          onRows: (rows) => tell({ source: name, rows }),
          noLimit: following.noLimit === true,
        }),
      )
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      problems.push(...error.problems.map((p) => atSource(p, name, file)))
    }
  }
  return { read, problems }
}
