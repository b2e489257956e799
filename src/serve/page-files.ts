import { readdir, readFile } from 'node:fs/promises'
import { extname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { ProblemError, problem } from '../problem/problem.js'

/** A file of the page. */
export interface PageFile {
  type: string
  bytes: Uint8Array<ArrayBuffer>
}

const TYPES: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
}

/**
 * The built page by the paths of its addresses. It is read whole at the start: no address becomes a
 * path.
 */
export async function pageFiles(): Promise<ReadonlyMap<string, PageFile>> {
  const folder = fileURLToPath(new URL('../workbench-page', import.meta.url))
  const names = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => [])
  const files = new Map<string, PageFile>()
  for (const entry of names) {
    const type = TYPES[extname(entry.name)]
    if (!entry.isFile() || type === undefined) continue
    const path = join(entry.parentPath, entry.name)
    const bytes = Uint8Array.from(await readFile(path))
    files.set(path.slice(folder.length).replaceAll('\\', '/'), { type, bytes })
  }
  const index = files.get('/index.html')
  if (index === undefined) throw new ProblemError([problem('edit-page', {})])
  // The page asks this server for its report instead of showing the demo.
  const text = new TextDecoder().decode(index.bytes).replace('<html', '<html data-server="here"')
  files.set('/', { type: index.type, bytes: new TextEncoder().encode(text) })
  return files
}
