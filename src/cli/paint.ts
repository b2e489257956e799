import { basename, extname, join, resolve } from 'node:path'
import { isFolder, type OutFile, writeFiles } from '../node/files.js'
import { openReportFile } from '../node/report.js'
import type { Page } from '../page/page.js'
import { harmless } from '../problem/print.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { Io } from './io.js'
import { createProgress } from './progress.js'
import { reading } from './reading.js'
import { type SharedOptions, settingsOf } from './settings.js'

export const FORMATS = ['html', 'json'] as const
export type Format = (typeof FORMATS)[number]

interface PaintOptions extends SharedOptions {
  to?: string
  out?: string
  verbose?: boolean
}

/** `acuarela paint REPORT`: render, then write all files or none. */
export async function paintCommand(report: string, options: PaintOptions, io: Io): Promise<void> {
  const formats = formatsOf(options)
  if (formats.length > 1 && options.out === undefined) throw new ProblemError([problem('out-needed', { formats })])
  const progress = createProgress(io, options.quiet === true)
  const settings = settingsOf(options, io, progress)
  const page = await openReportFile(resolve(io.cwd, report), settings, report).finally(() => progress.done())
  if (options.verbose === true) for (const { text } of page.controls) io.err(`${harmless(text)}\n`)
  if (formats.length === 0 && options.out === undefined) {
    io.out(reading(page))
    return
  }
  const files = await render(page, formats, await placesOf(report, formats, options.out, io))
  if (options.out === undefined) io.out(files[0].text)
  else {
    await writeFiles(files.map((file) => ({ ...file, path: resolve(io.cwd, file.shown) })))
    if (options.quiet !== true) for (const file of files) io.err(`wrote ${file.shown}\n`)
  }
}

/** Pages as text, one a format. */
export async function render(page: Page, formats: readonly Format[], paths: readonly string[]): Promise<OutFile[]> {
  return Promise.all(
    formats.map(async (format, i) => ({ path: paths[i], shown: paths[i], text: await printPage(page, format) })),
  )
}

async function printPage(page: Page, format: Format): Promise<string> {
  if (format === 'json') return (await import('../view/data/json.js')).toJson(page)
  const { toHtml } = await import('../view/html/page.js')
  const needsDocument = page.exhibits.some((exhibit) => exhibit.kind === 'chart')
  return toHtml(page, needsDocument ? { document: (await import('../node/document.js')).serverDocument() } : {})
}

function formatsOf({ to, out }: PaintOptions): Format[] {
  const names = to === undefined ? [] : to.split(',').map((name) => name.trim().toLowerCase())
  if (to === undefined && out !== undefined) {
    const ending = extname(out).slice(1).toLowerCase()
    if (ending === '') return ['html']
    names.push(ending)
  }
  const problems: Problem[] = []
  const formats: Format[] = []
  for (const name of names) {
    const known = FORMATS.find((format) => format === name)
    if (known === undefined) problems.push(problem('bad-format-name', { found: name, known: FORMATS }))
    else if (!formats.includes(known)) formats.push(known)
  }
  if (problems.length > 0) throw new ProblemError(problems)
  return formats
}

/** One format goes to the file named, several to a folder; a name without an ending, or a folder that is there, is a folder. */
async function placesOf(
  report: string,
  formats: readonly Format[],
  out: string | undefined,
  io: Io,
): Promise<string[]> {
  if (out === undefined) return formats.map(() => '')
  const stem = basename(report).replace(/(\.acuarela)?\.(ya?ml|json)$/i, '')
  const folder = formats.length > 1 || extname(out) === '' || (await isFolder(resolve(io.cwd, out)))
  return formats.map((format) => (folder ? join(out, `${stem}.${format}`) : out))
}
