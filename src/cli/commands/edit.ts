import { existsSync } from 'node:fs'
import { realpath } from 'node:fs/promises'
import { basename, dirname, join, relative, resolve } from 'node:path'
import { readText } from '../../node/files.js'
import { harmless } from '../../problem/print.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { createDraftStore, stateFolder } from '../../serve/drafts.js'
import { createProject, type Project } from '../../serve/project.js'
import { serveEdit } from '../../serve/server.js'
import { createServedSources } from '../../serve/sources.js'
import { sketch } from '../../sketch/sketch.js'
import type { Io } from '../io.js'
import { starterSources } from '../starter.js'

interface EditOptions {
  port?: string
  open?: boolean
}

/** `acuarela edit REPORT`: serves the workbench over files and databases, until it is stopped. */
export async function editCommand(files: readonly string[], options: EditOptions, io: Io): Promise<void> {
  const port = Number(options.port ?? 0)
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new ProblemError([problem('not-a-port', { found: options.port ?? '' })])
  const project = await projectOf(files, io)
  const path = join(project.folder, basename(project.key))
  const onFault = (error: unknown): void =>
    io.err(`${harmless(String(error instanceof Error ? error.stack : error), true)}\n`)
  const sources = createServedSources(path, process.env, onFault)
  const drafts = createDraftStore(stateFolder(process.env, process.platform), project.key)
  const server = await serveEdit({
    project,
    drafts,
    sources,
    port,
    onFault,
    onUsed: (address) => io.err(`the address was opened a second time; a new one: ${address}\n`),
  })
  const address = server.address()
  io.out(`${address}\n`)
  io.err(`editing ${harmless(basename(path))} in the browser; stop with Ctrl C\n`)
  if (options.open !== false) await openBrowser(address, io)
  await new Promise<void>((done) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => done())
  })
  await server.close()
}

/** A report file, or data files that become a starter without a file. */
async function projectOf(files: readonly string[], io: Io): Promise<Project> {
  const [first] = files
  const path = resolve(io.cwd, first)
  const isReport = /\.ya?ml$/i.test(first) || /\.acuarela\.json$/i.test(first)
  if (isReport) {
    if (files.length > 1) throw new ProblemError([problem('edit-many', { report: first })])
    // It has to be there and readable; what is wrong in it is shown in the page.
    await readText(path, first)
    return createProject(await realpath(path))
  }
  const folder = dirname(path)
  // Beside the data, so that paths in the report are short, however they were typed.
  const data = files.map((file) => relative(io.cwd, resolve(io.cwd, file)))
  const text = await sketch(await starterSources(data, folder, io))
  const own = join(folder, freeName(folder, basename(first).replace(/\..*$/, '')))
  return createProject(own, text)
}

/** The name that a starter is offered to be saved under: one that no file has. */
function freeName(folder: string, stem: string): string {
  for (let i = 1; ; i++) {
    const name = `${stem}${i === 1 ? '' : `-${i}`}.acuarela.yaml`
    if (!existsSync(join(folder, name))) return name
  }
}

/** Opens the browser of the user; where there is none, the address is enough. */
async function openBrowser(address: string, io: Io): Promise<void> {
  const { default: open } = await import('open')
  const child = await open(address).catch(() => undefined)
  const failed = (): void => io.err('no browser could be opened; open the address above\n')
  if (child === undefined) failed()
  else child.once('error', failed)
}
