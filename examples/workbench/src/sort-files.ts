import type { OpenedFiles } from './bench.js'
import type { GivenFile } from './files.js'

/** Files of a report end so; other texts of YAML or JSON may be included ones. */
const REPORT = /\.acuarela\.(ya?ml|json)$/i
const TEXT = /\.(ya?ml|json)$/i
/** What a report can read or include; anything else in a folder is left alone. */
const READ = /\.(ya?ml|json|csv|tsv|txt|ndjson|jsonl|parquet|f?ods)(\.gz)?$/i
/** The most bytes that are read of a folder. */
const MOST_BYTES = 500_000_000

/** What given files are. */
export type Given =
  | { is: 'report'; opened: OpenedFiles }
  /** Several reports: one has to be chosen. */
  | { is: 'choice'; names: readonly string[]; open(name: string): Promise<OpenedFiles> }
  /** Data that the present report lacks. */
  | { is: 'missing'; files: OpenedFiles['files'] }
  /** Data for a starter. */
  | { is: 'data'; files: OpenedFiles['files'] }

/**
 * What dropped or picked files are.
 *
 * @param missing the files that the present report names and lacks.
 * @returns undefined where there is nothing to open.
 */
export async function sortFiles(all: readonly GivenFile[], missing: readonly string[]): Promise<Given | undefined> {
  const given = all.length === 1 ? all : all.filter(({ path }) => READ.test(path))
  const reports = given.filter(({ path }) => REPORT.test(path))
  const opened = async (report: GivenFile): Promise<OpenedFiles> => {
    const folder = report.path.slice(0, report.path.lastIndexOf('/') + 1)
    const others = given.filter((one) => one !== report && !reports.includes(one))
    return {
      name: report.path.slice(folder.length),
      text: await report.file.text(),
      files: await contents(others, folder),
      ...(report.handle && { handle: report.handle }),
    }
  }
  if (reports.length === 1) return { is: 'report', opened: await opened(reports[0]) }
  if (reports.length > 1)
    return {
      is: 'choice',
      names: reports.map(({ path }) => path),
      open: (name) => opened(reports.find(({ path }) => path === name) ?? reports[0]),
    }
  if (given.length === 0) return undefined
  const files = await contents(given, '')
  const lastPart = (path: string): string => path.slice(path.lastIndexOf('/') + 1)
  const lacks = new Set(missing.map(lastPart))
  return Object.keys(files).every((path) => lacks.has(lastPart(path)))
    ? { is: 'missing', files }
    : { is: 'data', files }
}

/** The contents of files by their paths from the folder of the report; packed ones unpacked. */
async function contents(given: readonly GivenFile[], folder: string): Promise<OpenedFiles['files']> {
  let left = MOST_BYTES
  const read: Record<string, string | Uint8Array> = {}
  for (const { path, file } of given) {
    const own = path.startsWith(folder) ? path.slice(folder.length) : path
    const bytes = await bytesOf(file, /\.gz$/i.test(path), left)
    left -= bytes.byteLength
    read[own] = TEXT.test(path) ? new TextDecoder().decode(bytes) : bytes
  }
  return read
}

/** The bytes of a file, read no further than there is room. */
async function bytesOf(file: File, isPacked: boolean, most: number): Promise<Uint8Array> {
  const stream = isPacked ? file.stream().pipeThrough(new DecompressionStream('gzip')) : file.stream()
  const reader = stream.getReader()
  const parts: Uint8Array[] = []
  let size = 0
  for (;;) {
    const { done, value } = await reader.read()
    if (done) break
    size += value.byteLength
    if (size > most) {
      await reader.cancel()
      throw new Error('these files have over 500 MB; open them with acuarela edit')
    }
    parts.push(value)
  }
  const whole = new Uint8Array(size)
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.byteLength
  }
  return whole
}
