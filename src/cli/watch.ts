import { watch } from 'node:fs'
import { dirname } from 'node:path'
import { printProblem } from '../problem/print.js'
import { ProblemError } from '../problem/problem.js'
import { FORMATS } from '../source/formats/registry.js'
import type { Io } from './io.js'
import { atOption } from './settings.js'

/** File endings that are watched: reports and data. */
const WATCHED: ReadonlySet<string> = new Set([
  'yaml',
  'yml',
  'json',
  'gz',
  ...FORMATS.flatMap(({ endings }) => endings),
])

/** Changes within this time count as one: an editor writes a file in several steps. */
const SETTLE_MS = 150

/**
 * Runs a task now and after each change of a file beside the report, until the process is stopped.
 * An invalid report is reported, and the next change is awaited.
 */
export async function watchReport(report: string, task: () => Promise<void>, io: Io): Promise<void> {
  let [running, again] = [false, false]
  const run = async (): Promise<void> => {
    if (running) {
      again = true
      return
    }
    running = true
    try {
      await task()
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      for (const p of error.problems) io.err(`${printProblem(atOption(p))}\n`)
    }
    running = false
    if (again) {
      again = false
      await run()
    }
  }
  await run()
  io.err(`watching ${dirname(report)}; stop with Ctrl C\n`)
  let timer: NodeJS.Timeout | undefined
  await new Promise<never>((_, fail) => {
    const watcher = watch(dirname(report), { recursive: false }, (_event, file) => {
      // Files written by the tool itself are no change.
      if (file === null || !WATCHED.has(/\.([a-z0-9]+)$/i.exec(file)?.[1].toLowerCase() ?? '')) return
      clearTimeout(timer)
      timer = setTimeout(() => void run().catch(fail), SETTLE_MS)
    })
    watcher.on('error', fail)
  })
}
