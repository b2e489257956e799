import { readReport } from '../file/report.js'
import type { ReportFile } from '../file/report-file.js'
import type { Page } from '../page/page.js'
import { ProblemError, problem } from '../problem/problem.js'
import { ruleWords } from '../report/inspect/rules.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { Settings } from '../report/model/bound.js'
import { decideFrom } from '../report/open.js'
import { checkShape } from '../shape/shape.js'
import { toHtml } from '../view/html/document.js'
import type { HtmlOptions } from '../view/html/page.js'
import { readIncluded } from './included.js'
import { bundleReport, liveParts, type PageBundle } from './live.js'
import { createPictureReader } from './pictures.js'
import { readReportText } from './report-text.js'
import { openSources } from './sources.js'

/**
 * Reads a report file and its data, and answers it. Paths in the report are relative to it.
 *
 * @param shown how the user named the file, for problems; default: the path.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function openReportFile(path: string, settings: Settings = {}, shown: string = path): Promise<Page> {
  return (await decideReportFile(path, settings, shown)).decided.page
}

/** A page of a report file. */
export interface OpenedPage {
  page: Page
  /** The value that it is for, where the report is split by a key; else empty. */
  value: string
  /** The rules as sentences. */
  rules: readonly { title: string; sentence: string }[]
  /** The bundle of a live page. */
  live?: PageBundle
  /** What the bundle contains, a line for each source. */
  carried?: readonly string[]
}

function openedPage(decided: DecidedReport, value = ''): OpenedPage {
  const { page } = decided
  const title = value === '' ? page.title : `${page.title}: ${value}`
  return { page: { ...page, title }, value, rules: ruleWords(decided) }
}

/** A page of a report file, with its rules; as `openReportFile`. */
export async function openPage(path: string, settings: Settings = {}, shown: string = path): Promise<OpenedPage> {
  return openedPage((await decideReportFile(path, settings, shown)).decided)
}

/** A live page of a report file, with its bundle; as `openReportFile`. */
export async function openLiveFile(
  path: string,
  settings: Settings = {},
  shown: string = path,
): Promise<Required<OpenedPage>> {
  return withSources(path, settings, shown, async (file, opened, all) => {
    const { decided, ...bundle } = await bundleReport(file, opened, all)
    return { ...openedPage(decided), ...bundle }
  })
}

/**
 * The bundle of a live page as JSON text: the bound report, and for its sources the groups that
 * exhibits and filters need. For `mountBundle` of `acuarela/live`.
 *
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function bundleReportFile(path: string, settings: Settings = {}): Promise<string> {
  return (await openLiveFile(path, settings)).live.json()
}

/**
 * The report as one live HTML file, which its reader can filter and sort without a server, as the
 * tool writes it.
 *
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function livePageOf(path: string, settings: Settings = {}, options: HtmlOptions = {}): Promise<string> {
  const { page, live } = await openLiveFile(path, settings)
  return toHtml(page, options, liveParts(live))
}

/**
 * A page for each value of a text column of the first source, filtered to it, in the order of the
 * locale. Rows are read once.
 *
 * @throws ProblemError as for one page, and where the key is no column of texts or has no value.
 */
export async function openEachPage(
  path: string,
  key: string,
  settings: Settings = {},
  shown: string = path,
): Promise<OpenedPage[]> {
  return withSources(path, settings, shown, async (file, opened, all) => {
    const whole = await decideFrom(file, opened.read, opened.problems, all)
    const { report } = whole
    const [home] = report.sources
    const columnNames = [...home.table.columns.values()].flatMap((column) =>
      column.type.kind === 'text' ? [column.name] : [],
    )
    if (!columnNames.includes(key)) throw new ProblemError([problem('each-text', { name: key, known: columnNames })])
    const { keys } = await home.engine.ask({ keys: [key], parts: [], fields: [], where: report.where })
    const [{ codes, domain }] = keys
    const words = domain.kind === 'text' ? Array.from(codes, (code) => domain.words[code] ?? '') : []
    const { compare } = new Intl.Collator(report.locale, { numeric: true })
    const values = words.filter((word) => word !== '').sort(compare)
    if (values.length === 0) throw new ProblemError([problem('each-none', { name: key })])
    const pages: OpenedPage[] = []
    for (const value of values) {
      const condition = `column('${key.replaceAll("'", "''")}') = '${value.replaceAll("'", "''")}'`
      const where = settings.where === undefined ? condition : `(${settings.where}) and ${condition}`
      pages.push(openedPage(await decideFrom(file, opened.read, opened.problems, { ...all, where }), value))
    }
    return pages
  })
}

/** The same with what decided each cell, and the file. */
export async function decideReportFile(
  path: string,
  settings: Settings = {},
  shown: string = path,
): Promise<{ decided: DecidedReport; file: ReportFile }> {
  return useReportFile(path, settings, shown, async (decided, file) => ({ decided, file }))
}

/**
 * The same, and calls `use` while the sources are open.
 *
 * @param text the text of the report in place of that of the file.
 */
export async function useReportFile<T>(
  path: string,
  settings: Settings,
  shown: string,
  use: (decided: DecidedReport, file: ReportFile) => Promise<T>,
  text?: string,
): Promise<T> {
  const decideAndUse: Use<T> = async (file, opened, all) =>
    use(await decideFrom(file, opened.read, opened.problems, all), file)
  return withSources(path, settings, shown, decideAndUse, text)
}

type Use<T> = (file: ReportFile, opened: Awaited<ReturnType<typeof openSources>>, settings: Settings) => Promise<T>

/** Reads a report and opens its sources while they are used. */
async function withSources<T>(
  path: string,
  settings: Settings,
  shown: string,
  use: Use<T>,
  written?: string,
): Promise<T> {
  checkShape('text', path, ['path'])
  const text = written ?? (await readReportText(path, shown))
  const sets = await readIncluded(text, path)
  const file = readReport(text, shown === '-' ? 'standard input' : shown, (name) => sets.get(name))
  if (shown === '-')
    for (const [name, source] of Object.entries(file.spec?.sources ?? {}))
      if (source.file === 'stdin')
        throw new ProblemError([file.place(problem('stdin-twice', { name }, { path: ['sources', name, 'file'] }))])
  const opened = await openSources(file, path, process.env, settings)
  try {
    return await use(file, opened, { ...settings, picture: settings.picture ?? createPictureReader(path) })
  } finally {
    await opened.close()
  }
}
