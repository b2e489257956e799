import { engineHandler } from '../engine/http/handler.js'
import { readReport } from '../file/report.js'
import { readIncluded } from '../node/included.js'
import { openSources } from '../node/sources.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { ServedHere } from './project.js'

type Handler = ReturnType<typeof engineHandler>

/** The sources that are answered here, each opened when it is first asked. */
export interface ServedSources {
  /** The handler of a source; undefined for one that is not served. */
  handler(name: string): Promise<Handler | undefined>
  /** What is served now; a source that names other rows than before is closed. */
  serve(text: string, list: readonly ServedHere[]): Promise<void>
  close(): Promise<void>
}

interface Open {
  of: string
  opened: Promise<{ handler: Handler; close(): Promise<void> }>
}

/** @param path of the report, which paths in it are relative to. */
export function createServedSources(
  path: string,
  env: Readonly<Record<string, string | undefined>>,
  onFault: (error: unknown) => void,
): ServedSources {
  let list: readonly ServedHere[] = []
  let report = ''
  const open = new Map<string, Open>()
  const drop = async (name: string): Promise<void> => {
    const old = open.get(name)
    open.delete(name)
    await old?.opened.then(
      ({ close }) => close(),
      () => undefined,
    )
  }
  const connect = async (name: string): Promise<{ handler: Handler; close(): Promise<void> }> => {
    const file = readReport(report, undefined, Object.fromEntries(await readIncluded(report, path)))
    const spec = file.spec?.sources[name]
    if (file.spec === undefined || spec === undefined) throw new ProblemError([problem('edit-unreadable', {})])
    const alone = { ...file, spec: { ...file.spec, sources: { [name]: spec } } }
    const { read, problems, close } = await openSources(alone, path, env)
    const source = read.get(name)
    if (source === undefined || problems.length > 0) {
      await close()
      throw new ProblemError([...problems])
    }
    return { handler: engineHandler(source, { records: true, onFault }), close }
  }
  return {
    async handler(name) {
      const own = list.find((one) => one.name === name)
      if (own === undefined) return undefined
      let one = open.get(name)
      if (one === undefined) {
        one = { of: JSON.stringify(own.of), opened: connect(name) }
        open.set(name, one)
        // One that cannot be opened now may be later.
        one.opened.catch(() => open.delete(name))
      }
      return (await one.opened).handler
    },
    async serve(text, next) {
      report = text
      list = next
      for (const [name, { of }] of open) {
        const own = next.find((one) => one.name === name)
        if (own === undefined || JSON.stringify(own.of) !== of) await drop(name)
      }
    },
    async close() {
      for (const name of [...open.keys()]) await drop(name)
    },
  }
}
