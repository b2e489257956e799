import type { OpenedFiles } from './bench.js'

/** Files of a report end so; other texts of YAML or JSON may be included ones. */
const REPORT = /\.acuarela\.(ya?ml|json)$/i
const TEXT = /\.(ya?ml|json)$/i
/** What a report can read or include; anything else in a folder is left alone. */
const READ = /\.(ya?ml|json|csv|tsv|txt|ndjson|jsonl|parquet|f?ods)(\.gz)?$/i
/** The most bytes that are read of a folder. */
const MOST_BYTES = 500_000_000

/** A file that was dropped or picked. */
export interface GivenFile {
  /** With its folders, where a folder was given. */
  path: string
  file: File
  /** With it the browser can write to the file. */
  handle?: FileSystemFileHandle
}

/** The files of an input. */
export function filesOfInput(list: FileList): GivenFile[] {
  return [...list].map((file) => ({ path: file.webkitRelativePath || file.name, file }))
}

/** An item of a drop in browsers that can write to files. */
interface HandleItem extends DataTransferItem {
  getAsFileSystemHandle?(): Promise<FileSystemHandle | null | undefined>
}

/** A browser that answers no sooner gives no handle. */
const HANDLE_MS = 500

async function after(time: number): Promise<null> {
  return new Promise((done) => setTimeout(done, time, null))
}

/** The files of a drop, folders opened. What is dropped has to be asked for at once. */
export async function filesOfDrop(transfer: DataTransfer): Promise<GivenFile[]> {
  const items = [...transfer.items].filter(({ kind }) => kind === 'file')
  const roots = items.map((item) => ({
    handle: (item as HandleItem).getAsFileSystemHandle?.() ?? Promise.resolve(null),
    file: item.getAsFile(),
  }))
  const given = await Promise.all(
    roots.map(async ({ handle, file }): Promise<GivenFile[]> => {
      // Without a handle it can be read, not written to.
      const root = await Promise.race([handle.catch(() => null), after(HANDLE_MS)])
      if (root !== null && root !== undefined) return filesOfHandle(root, '')
      return file === null ? [] : [{ path: file.name, file }]
    }),
  )
  return given.flat()
}

/** A file, or every file in a folder. */
export async function filesOfHandle(handle: FileSystemHandle, folder: string): Promise<GivenFile[]> {
  const path = `${folder}${handle.name}`
  if (handle.kind === 'file') {
    const own = handle as FileSystemFileHandle
    return [{ path, file: await own.getFile(), handle: own }]
  }
  if (handle.name.startsWith('.') || handle.name === 'node_modules') return []
  const files: GivenFile[] = []
  for await (const inner of (handle as FileSystemDirectoryHandle).values())
    files.push(...(await filesOfHandle(inner, `${path}/`)))
  return files
}

/** Whether the browser can pick files that it can write to. */
export const picksHandles = 'showOpenFilePicker' in window

/** Picks files that can be saved to; undefined where nothing was picked. */
export async function pickFiles(): Promise<GivenFile[] | undefined> {
  const pick = (
    window as unknown as { showOpenFilePicker(options: object): Promise<FileSystemFileHandle[]> }
  ).showOpenFilePicker({ multiple: true })
  const handles = await pick.catch(() => undefined)
  if (handles === undefined) return undefined
  return (await Promise.all(handles.map((handle) => filesOfHandle(handle, '')))).flat()
}

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

/** Saves the text: into the file it came from where the browser can, else as a download. */
export async function writeHandle({ handle, name }: OpenedFiles, text: string): Promise<void> {
  if (handle !== undefined) {
    // Written beside and put in place when it is whole.
    const stream = await handle.createWritable()
    await stream.write(text)
    await stream.close()
    return
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/yaml' }))
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
