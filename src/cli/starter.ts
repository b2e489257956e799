import { isAbsolute, relative, resolve, sep } from 'node:path'
import { readSourceFiles } from '../node/source-files.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import type { SketchSource } from '../sketch/sketch.js'
import { readForStarter } from '../source/read.js'
import type { SourceTable } from '../table/source-table.js'
import type { Io } from './io.js'

/**
 * The sources of a starter report: files with the same columns are one.
 *
 * @param from the folder of the report, which paths in it are relative to.
 * @throws ProblemError with the problems of all files.
 */
export async function starterSources(
  data: readonly string[],
  from: string,
  io: Io,
  noLimit = false,
): Promise<SketchSource[]> {
  const named = (file: string): string =>
    isAbsolute(file) ? file : relative(from, resolve(io.cwd, file)).split(sep).join('/')
  const sources = await together(await readAll(data, io, noLimit), io)
  return sources.map(({ files, source }) => ({ file: fileText(files.map(named)), source }))
}

interface Read {
  files: string[]
  source: SourceTable
}

async function readAll(data: readonly string[], io: Io, noLimit: boolean): Promise<Read[]> {
  const problems: Problem[] = []
  const read: Read[] = []
  for (const file of data) {
    try {
      read.push({
        files: [file],
        source: await readForStarter(await readSourceFiles(file, io.cwd, noLimit), { file, noLimit }),
      })
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      problems.push(...error.problems)
    }
  }
  if (problems.length > 0) throw new ProblemError(problems)
  return read
}

/** Files with the same columns are one source: a shell expands orders-*.csv to all its files. */
async function together(read: readonly Read[], io: Io): Promise<readonly Read[]> {
  const [first, ...others] = read
  const columns = ({ source }: Read): string => JSON.stringify([...source.table.columns.keys()].sort())
  if (others.length === 0 || others.some((other) => columns(other) !== columns(first))) return read
  const files = read.flatMap(({ files }) => files)
  const contents = await Promise.all(files.map((file) => readSourceFiles(file, io.cwd)))
  return [{ files, source: await readForStarter(contents.flat()) }]
}

/** One file, or a pattern for several: their common folder and the common parts of their names. */
function fileText(files: readonly string[]): string {
  if (files.length === 1) return files[0]
  const parts = files.map((file) => file.split('/'))
  let shared = 0
  while (parts.every((part) => part.length > shared + 1 && part[shared] === parts[0][shared])) shared++
  const folder = parts[0].slice(0, shared).map((part) => `${part}/`)
  return `${folder.join('')}{${parts.map((part) => part.slice(shared).join('/')).join(',')}}`
}
