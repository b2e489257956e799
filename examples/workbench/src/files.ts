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
