import { dirname, join, resolve } from 'node:path'
import { isThere, writeFiles } from '../../node/files.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { type SketchQuestion, sketchQuestions } from '../../sketch/questions.js'
import { type SketchAnswers, sketch } from '../../sketch/sketch.js'
import type { Io } from '../io.js'
import { starterSources } from '../starter.js'

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
  // Paths relative to the report file.
  const starter = await starterSources(data, out === undefined ? io.cwd : dirname(resolve(io.cwd, out)), io, noLimit)
  const answers = options.ask === true ? await askAuthor(sketchQuestions(starter), io) : {}
  const text = await sketch(starter, { brief: options.brief === true, answers })
  if (out === undefined) {
    io.out(text)
    return
  }
  const inputs = data.map((file) => resolve(io.cwd, file))
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
