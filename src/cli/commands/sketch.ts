import { dirname, isAbsolute, join, relative, resolve, sep } from 'node:path'
import { isThere, writeFiles } from '../../node/files.js'
import { readSourceFiles } from '../../node/source-files.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import { type SketchQuestion, sketchQuestions } from '../../sketch/questions.js'
import { type SketchAnswers, type SketchSource, sketch } from '../../sketch/sketch.js'
import { readSource } from '../../source/read.js'
import type { SourceTable } from '../../table/source-table.js'
import type { Io } from '../io.js'

interface SketchOptions {
  out?: string
  force?: boolean
  quiet?: boolean
  brief?: boolean
  ask?: boolean
  limit?: boolean
}

/** `acuarela sketch DATA…`: writes a starter report that can be painted at once. */
export async function sketchCommand(data: readonly string[], options: SketchOptions, io: Io): Promise<void> {
  const { out } = options
  if (out !== undefined && options.force !== true && (await isThere(resolve(io.cwd, out))))
    throw new ProblemError([problem('sketch-exists', { file: out })])
  const noLimit = options.limit === false
  const read = await readAll(data, io, noLimit)
  // Paths relative to the report file.
  const from = out === undefined ? io.cwd : dirname(resolve(io.cwd, out))
  const named = (file: string): string =>
    isAbsolute(file) ? file : relative(from, resolve(io.cwd, file)).split(sep).join('/')
  const sources = await together(read, io)
  const starter = sources.map(({ files, source }): SketchSource => ({ file: fileText(files.map(named)), source }))
  const answers = options.ask === true ? await askAuthor(sketchQuestions(starter), io) : {}
  const text = await sketch(starter, { brief: options.brief === true, answers })
  if (out === undefined) {
    io.out(text)
    return
  }
  const inputs = read.flatMap(({ files }) => files.map((file) => resolve(io.cwd, file)))
  await writeFiles([{ path: resolve(io.cwd, out), shown: out, text }], inputs)
  if (options.quiet !== true)
    io.err(`wrote ${out}; paint it with: acuarela paint ${out} --out ${join(dirname(out), 'page.html')}\n`)
}

/** Asks on the terminal; the guesses are the defaults. Without a terminal nothing is asked. */
async function askAuthor(questions: readonly SketchQuestion[], io: Io): Promise<SketchAnswers> {
  if (!io.terminal || io.ask === undefined) {
    io.err('no terminal to ask at; the guesses were taken\n')
    return {}
  }
  const answers: Record<string, string> = {}
  for (const question of questions) answers[question.name] = await io.ask(question)
  return answers
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
        source: await readSource(await readSourceFiles(file, io.cwd, noLimit), { file, noLimit }),
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
  return [{ files, source: await readSource(contents.flat()) }]
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
