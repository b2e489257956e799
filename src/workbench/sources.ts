import type { ReportFile } from '../file/report-file.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { atSource, readOptions } from '../report/open.js'
import { readSource } from '../source/read.js'
import type { SourceTable } from '../table/source-table.js'
import type { ColumnView, SourceView } from './model.js'

/** Files by their names without folders. */
export type Files = ReadonlyMap<string, string | Uint8Array>

/** The tables of a report, the files that are missing, and the problems of those that are there. */
export interface ReadFiles {
  tables: Map<string, SourceTable>
  missing: string[]
  problems: Problem[]
}

/** Reads the sources of a report from files; a source that stays the same is read once. */
export function createReader(): (file: ReportFile, files: Files) => Promise<ReadFiles> {
  let kept = new Map<string, { contents: readonly (string | Uint8Array)[]; table: SourceTable }>()
  return async (file, files) => {
    const next: typeof kept = new Map()
    const read: ReadFiles = { tables: new Map(), missing: [], problems: [] }
    for (const [name, spec] of Object.entries(file.spec?.sources ?? {})) {
      const wanted = spec.file ?? name
      const names = namesLike(wanted, files)
      if (names.length === 0) {
        read.missing.push(wanted)
        continue
      }
      const contents = names.map((one) => files.get(one) ?? '')
      const key = `${name} ${JSON.stringify(spec)}`
      const old = kept.get(key)
      const isSame = old?.contents.length === contents.length && contents.every((one, i) => one === old.contents[i])
      try {
        const list = names.map((one, i) => ({ name: one, content: contents[i] }))
        const table = isSame && old !== undefined ? old.table : await readSource(list, readOptions(file, name))
        next.set(key, { contents, table })
        read.tables.set(name, table)
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error
        read.problems.push(...error.problems.map((p) => atSource(p, name, file)))
      }
    }
    kept = next
    return read
  }
}

/** The files that a name or a pattern such as `orders-*.csv` means, whatever their folder. */
function namesLike(wanted: string, files: Files): string[] {
  const own = baseName(wanted)
  if (!own.includes('*')) return files.has(own) ? [own] : []
  const parts = own.split('*').map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  const pattern = new RegExp(`^${parts.join('[^/]*')}$`)
  return [...files.keys()].filter((name) => pattern.test(name)).sort()
}

export function baseName(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1)
}

/** The parts of the range that a small distribution has. */
const PARTS = 24

/** A source with what is to be known of each column. */
export function sourceView(name: string, { table }: SourceTable): SourceView {
  return {
    name,
    rows: table.length,
    columns: [...table.columns.values()].map(({ name: column, label, column: values }): ColumnView => {
      if (values.kind === 'text') {
        const counts = new Uint32Array(values.words.length)
        let missing = 0
        for (const code of values.codes)
          if (code < 0) missing++
          else counts[code]++
        const shape = [...counts].sort((a, b) => b - a).slice(0, PARTS)
        return { name: column, label, type: 'text', missing, distinct: values.words.length, range: null, shape }
      }
      if (values.kind === 'condition') {
        const shape = [0, 0]
        let missing = 0
        for (const value of values.values)
          if (value < 0) missing++
          else shape[value]++
        return { name: column, label, type: 'condition', missing, distinct: 2, range: null, shape }
      }
      return numbersView(column, label, values.kind, values.values)
    }),
  }
}

function numbersView(name: string, label: string, type: 'number' | 'date', values: ArrayLike<number>): ColumnView {
  let [low, high, missing] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0]
  for (let i = 0; i < values.length; i++) {
    const value = values[i]
    if (Number.isNaN(value)) missing++
    else {
      if (value < low) low = value
      if (value > high) high = value
    }
  }
  const shape = new Array<number>(PARTS).fill(0)
  const width = (high - low) / PARTS || 1
  for (let i = 0; i < values.length; i++)
    if (!Number.isNaN(values[i])) shape[Math.min(PARTS - 1, Math.floor((values[i] - low) / width))]++
  const isEmpty = low > high
  return {
    name,
    label,
    type,
    missing,
    distinct: null,
    range: isEmpty ? null : [low, high],
    shape: isEmpty ? [] : shape,
  }
}
