import { type FSWatcher, watch } from 'node:fs'
import { dirname, resolve } from 'node:path'
import type { Project, ProjectState } from './project.js'

/** Changes within this time count as one: an editor writes a file in several steps. */
const SETTLE_MS = 150

/** What is told of a change on disk. */
export interface DiskChange {
  /** What the text of the report is now; null where the file is gone or cannot be read. */
  version: string | null
  /** The data files that are other ones than before. */
  files: readonly string[]
}

/**
 * Calls back whenever the report, an included file or a data file differs from what it was.
 *
 * @param shown what the page has got; its folders are watched.
 * @returns what ends it.
 */
export function watchProject(project: Project, shown: ProjectState, changed: (change: DiskChange) => void): () => void {
  let last = shown
  let timer: NodeJS.Timeout | undefined
  let ended = false
  const look = async (): Promise<void> => {
    const next = await project.state().catch(() => undefined)
    if (ended) return
    if (next === undefined) {
      changed({ version: null, files: [] })
      return
    }
    const marks = new Map(last.files.map(({ name, mark }) => [name, mark]))
    const files = next.files.flatMap(({ name, mark }) => (marks.get(name) === mark ? [] : [name]))
    const isSame = next.version === last.version && files.length === 0
    const isIncludedSame = JSON.stringify(next.included) === JSON.stringify(last.included)
    last = next
    if (!isSame || !isIncludedSame) changed({ version: next.version, files })
  }
  const folders = new Set([
    project.folder,
    ...[...Object.keys(shown.included), ...shown.files.map(({ name }) => name)].map((name) =>
      dirname(resolve(project.folder, name)),
    ),
  ])
  const watchers = [...folders].flatMap((folder): FSWatcher[] => {
    try {
      const watcher = watch(folder, () => {
        clearTimeout(timer)
        timer = setTimeout(() => void look(), SETTLE_MS)
      })
      // A folder that is removed is told by the look that follows.
      watcher.on('error', () => watcher.close())
      return [watcher]
    } catch {
      return []
    }
  })
  return () => {
    ended = true
    clearTimeout(timer)
    for (const watcher of watchers) watcher.close()
  }
}
