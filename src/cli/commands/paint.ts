import { basename, extname, join, resolve } from 'node:path'
import type { PageRenderer } from '../../node/browser.js'
import { isFolder, isThere, type OutFile, writeFiles } from '../../node/files.js'
import { inputFiles } from '../../node/inputs.js'
import { type OpenedPage, openEachPage, openLiveFile, openPage } from '../../node/report.js'
import type { Output, RenderOptions } from '../../output/output.js'
import { OUTPUTS } from '../../output/registry.js'
import type { Page } from '../../page/page.js'
import { nearest } from '../../problem/nearest.js'
import { harmless } from '../../problem/print.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import type { Settings } from '../../report/model/bound.js'
import type { Io } from '../io.js'
import { createProgress } from '../progress.js'
import { type SharedOptions, settingsOf } from '../settings.js'
import { watchReport } from '../watch.js'

interface PaintOptions extends SharedOptions {
  to?: string
  out?: string
  verbose?: boolean
  exhibit?: string[]
  each?: string
  theme?: 'auto' | 'light' | 'dark'
  paper?: 'A4' | 'Letter'
  fragment?: boolean
  width?: string
  color?: boolean
  watch?: boolean
  static?: boolean
  withData?: boolean
  withWhy?: boolean
}

/** `acuarela paint REPORT`: render, then write all files or none. */
export async function paintCommand(report: string, options: PaintOptions, io: Io): Promise<void> {
  const formats = formatsOf(options)
  const rendering = renderingOf(options, io)
  if (options.out === undefined) checkStandardOut(formats, options, io)
  if (options.withData === true && (options.out === undefined || !formats.some(({ key }) => key === 'html')))
    throw new ProblemError([problem('with-data-out', {})])
  if (options.withWhy === true && !formats.some(({ annotates }) => annotates))
    throw new ProblemError([problem('with-why-ods', {})])
  if (options.fragment === true && formats.some(({ key }) => key !== 'html'))
    throw new ProblemError([problem('fragment-html', { format: formats.map(({ key }) => key).join(', ') })])
  const once = async (): Promise<void> => {
    const progress = createProgress(io, options.quiet === true)
    const settings = settingsOf(options, io, progress)
    const pages = await pagesOf(report, options, settings, formats, io).finally(() => progress.done())
    await printPages(pages, formats, rendering, report, options, io)
  }
  if (options.watch === true && report === '-') throw new ProblemError([problem('watch-stdin', {})])
  if (options.watch === true) await watchReport(resolve(io.cwd, report), once, io)
  else await once()
}

/** The page, or one page for each value of a key; with `--exhibit` only the named exhibits. */
async function pagesOf(
  report: string,
  options: PaintOptions,
  settings: Settings,
  formats: readonly Output[],
  io: Io,
): Promise<OpenedPage[]> {
  const path = resolve(io.cwd, report)
  // A single page of `--each`, or a page with some exhibits, is static.
  const live =
    formats.some(({ key }) => key === 'html') &&
    options.static !== true &&
    options.fragment !== true &&
    options.each === undefined &&
    (options.exhibit ?? []).length === 0
  if (live) return [await openLiveFile(path, settings, report)]
  const pages =
    options.each === undefined
      ? [await openPage(path, settings, report)]
      : await openEachPage(path, options.each, settings, report)
  return pages.map((opened) => ({ ...opened, page: onlyExhibits(opened.page, options.exhibit ?? []) }))
}

function onlyExhibits(page: Page, names: readonly string[]): Page {
  if (names.length === 0) return page
  const exhibitNames = page.exhibits.map(({ name }) => name)
  const strange = names.filter((name) => !exhibitNames.includes(name))
  if (strange.length > 0)
    throw new ProblemError(
      strange.map((name) =>
        problem('unknown-exhibit', { name, nearest: nearest(name, exhibitNames), known: exhibitNames }),
      ),
    )
  return { ...page, exhibits: page.exhibits.filter(({ name }) => names.includes(name)) }
}

async function printPages(
  pages: readonly OpenedPage[],
  formats: readonly Output[],
  rendering: RenderOptions,
  report: string,
  options: PaintOptions,
  io: Io,
): Promise<void> {
  if (options.verbose === true) for (const { text } of pages[0]?.page.controls ?? []) io.err(`${harmless(text)}\n`)
  let started: Promise<PageRenderer> | undefined
  const renderer = async (): Promise<PageRenderer> => {
    started ??= import('../../node/browser.js').then(({ openRenderer }) => openRenderer())
    return started
  }
  try {
    if (options.out === undefined) {
      for (const { page, live, rules } of pages)
        for (const { content } of await formats[0].render(page, { ...rendering, live, rules }, renderer))
          io.out(shownContent(content, formats[0], io))
      return
    }
    const files: OutFile[] = []
    const parted =
      pages.length > 1 || options.each !== undefined || formats.length > 1 || formats.some((format) => format.parted)
    const place = resolve(io.cwd, options.out)
    // A name without an ending is a folder, unless a file or device of that name exists.
    const folder = parted || (await isFolder(place)) || (extname(options.out) === '' && !(await isThere(place)))
    const stem = report === '-' ? 'report' : basename(report).replace(/(\.acuarela)?\.(ya?ml|json)$/i, '')
    for (const { value, page, live, rules } of pages)
      for (const format of formats)
        for (const { part, content } of await format.render(page, { ...rendering, live, rules }, renderer)) {
          const name = [stem, value, part]
            .filter((text) => text !== '')
            .map(slug)
            .join('-')
          const shown = folder ? join(options.out, `${name}.${format.ending ?? format.key}`) : options.out
          files.push({ path: resolve(io.cwd, shown), shown, text: content })
          if (options.withData === true && format.key === 'html')
            files.push(await dataBeside(page, shown, rendering, io))
        }
    const written = distinct(files)
    await writeFiles(written, await inputFiles(resolve(io.cwd, report), report))
    if (options.quiet === true) return
    for (const { shown } of written) io.err(`wrote ${shown}\n`)
    for (const { carried = [] } of pages) for (const text of carried) io.err(`${harmless(text)}\n`)
  } finally {
    if (started !== undefined) await (await started.catch(() => undefined))?.close()
  }
}

/** The cells of a page as CSV, in a file beside it. */
async function dataBeside(page: Page, shown: string, rendering: RenderOptions, io: Io): Promise<OutFile> {
  const csv = OUTPUTS.find(({ key }) => key === 'csv')
  const [file] = (await csv?.render(page, rendering, () => Promise.reject(new Error('no browser is needed')))) ?? []
  const beside = `${shown.slice(0, shown.length - extname(shown).length)}.csv`
  return { path: resolve(io.cwd, beside), shown: beside, text: file?.content ?? '' }
}

/** Output for other programs is not changed. Control characters are removed only for a terminal. */
function shownContent(content: string | Uint8Array, { terminal }: Output, io: Io): string | Uint8Array {
  return io.isTerminal && typeof content === 'string' && terminal !== true ? harmless(content, true) : content
}

/** File names that are equal on some file system, such as a case-insensitive one, get a number. */
function distinct(files: readonly OutFile[]): OutFile[] {
  const idOf = (path: string): string => path.normalize('NFC').toLowerCase()
  const taken = new Set(files.map(({ path }) => idOf(path)))
  const seen = new Set<string>()
  return files.map((file) => {
    if (!seen.has(idOf(file.path))) {
      seen.add(idOf(file.path))
      return file
    }
    const numbered = (path: string, n: number): string => path.replace(/(\.[^./\\]+)?$/, `-${n}$1`)
    let n = 2
    while (taken.has(idOf(numbered(file.path, n)))) n++
    taken.add(idOf(numbered(file.path, n)))
    seen.add(idOf(numbered(file.path, n)))
    return { ...file, path: numbered(file.path, n), shown: numbered(file.shown, n) }
  })
}

/** A file name that is valid on every platform. */
function slug(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[^\p{L}\p{N}._-]+/gu, '-')
    .replace(/^[-.]+|[-.]+$/g, '')
  return plain === '' ? 'unnamed' : plain
}

function renderingOf(options: PaintOptions, io: Io): RenderOptions {
  const { theme, paper, fragment, out } = options
  // The width of a file does not depend on the terminal that the tool runs in.
  let width = out === undefined ? io.width() : 100
  if (options.width !== undefined) {
    width = Number(options.width)
    if (!Number.isInteger(width) || (width !== 0 && width < 24))
      throw new ProblemError([problem('not-a-width', { found: options.width })])
  }
  return {
    ...(theme === undefined ? {} : { theme }),
    ...(paper === undefined ? {} : { paper }),
    ...(fragment === undefined ? {} : { fragment }),
    ...(options.withWhy === true && { why: true }),
    width,
    colors: out === undefined ? io.colors(options.color) : options.color === true ? 24 : 1,
    ascii: out === undefined && !io.unicode(),
  }
}

/** Standard output takes a single output. */
function checkStandardOut(formats: readonly Output[], options: PaintOptions, io: Io): void {
  if (formats.length > 1) throw new ProblemError([problem('out-needed', { formats: formats.map(({ key }) => key) })])
  if (options.each !== undefined) throw new ProblemError([problem('out-folder', { what: '--each' })])
  const [format] = formats
  if (io.isTerminal && format.binary) throw new ProblemError([problem('out-binary', { format: format.key })])
  if (format.parted && options.exhibit?.length !== 1)
    throw new ProblemError([problem('out-folder', { what: `--to ${format.key}` })])
}

function formatsOf({ to, out, fragment }: PaintOptions): Output[] {
  const names = to === undefined ? [] : to.split(',').map((name) => name.trim().toLowerCase())
  if (to === undefined && out !== undefined) {
    const ending = extname(out).slice(1).toLowerCase()
    names.push(ending === '' ? 'html' : (OUTPUTS.find((format) => format.ending === ending)?.key ?? ending))
  }
  if (to === undefined && out === undefined) names.push(fragment === true ? 'html' : 'text')
  const problems: Problem[] = []
  const formats: Output[] = []
  const keys = OUTPUTS.map(({ key }) => key)
  for (const name of names) {
    const format = OUTPUTS.find(({ key }) => key === name)
    if (format === undefined)
      problems.push(problem('bad-format-name', { found: name, nearest: nearest(name, keys), known: keys }))
    else if (!formats.includes(format)) formats.push(format)
  }
  if (problems.length > 0) throw new ProblemError(problems)
  return formats
}
