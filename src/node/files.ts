import { renameSync, rmSync } from 'node:fs'
import { chmod, mkdir, readFile, readlink, realpath, rm, stat, writeFile } from 'node:fs/promises'
import { basename, dirname, join, resolve } from 'node:path'
import { type Problem, ProblemError, problem } from '../problem/problem.js'

/** Reads a text file. `shown` is its name for problems. */
export async function readText(path: string, shown: string): Promise<string> {
  try {
    return await readFile(path, 'utf8')
  } catch (error) {
    throw unreadable(error, shown)
  }
}

/** Why a file could not be read, as a problem to throw. */
export function unreadable(error: unknown, shown: string): ProblemError {
  const code = errorCode(error)
  if (code === 'ENOENT' || code === 'ENOTDIR') return new ProblemError([problem('file-missing', { file: shown })])
  return new ProblemError([problem('file-unreadable', { file: shown, why: reason(error) })])
}

export interface OutFile {
  path: string
  /** The name of the file for problems. */
  shown: string
  text: string | Uint8Array
}

/** A file that is being written, under a temporary name. */
interface Pending {
  from: string
  to: string
}

/**
 * Writes files so that none is ever half-written: all are written under temporary names first, then
 * renamed without a pause. If one cannot be written, none is renamed. Permissions are kept; a
 * symbolic link keeps its target path; a device, pipe or socket is written directly.
 *
 * @param inputs files that are read, none of which is ever written over.
 */
export async function writeFiles(files: readonly OutFile[], inputs: readonly string[] = []): Promise<void> {
  await checkInputs(files, inputs)
  const pending: Pending[] = []
  const through: OutFile[] = []
  // A signal while files are written removes the temporary ones; while they are renamed, the
  // renames are finished first.
  const stop = (signal: NodeJS.Signals): void => {
    for (const { from } of pending) rmSync(from, { force: true })
    process.exit(signal === 'SIGINT' ? 130 : 143)
  }
  for (const signal of SIGNALS) process.on(signal, stop)
  try {
    for (const file of files) {
      try {
        if (await isFolder(file.path)) throw new ProblemError([problem('out-exists', { file: file.shown })])
        if (await isStream(file.path)) {
          through.push(file)
          continue
        }
        const to = await targetOf(file.path)
        await mkdir(dirname(to), { recursive: true })
        const from = join(dirname(to), `.${basename(to)}.${process.pid}.part`)
        pending.push({ from, to })
        await writeFile(from, file.text)
        const there = await stat(to).catch(() => undefined)
        if (there !== undefined) await chmod(from, there.mode & 0o7777)
      } catch (error) {
        if (error instanceof ProblemError) throw error
        throw new ProblemError([problem('cannot-write', { file: file.shown, why: reason(error) })])
      }
    }
    for (const { path, shown, text } of through)
      await writeFile(path, text, { flag: 'a' }).catch((error: unknown) => {
        throw new ProblemError([problem('cannot-write', { file: shown, why: reason(error) })])
      })
    // Synchronous: signals are handled afterwards.
    for (const { from, to } of pending) renameSync(from, to)
  } catch (error) {
    for (const { from } of pending) await rm(from, { force: true })
    throw error
  } finally {
    for (const signal of SIGNALS) process.off(signal, stop)
  }
}

const SIGNALS = ['SIGINT', 'SIGTERM'] as const

/** Refuses to overwrite an input file. */
async function checkInputs(files: readonly OutFile[], inputs: readonly string[]): Promise<void> {
  const read = new Set(await Promise.all(inputs.map((path) => targetOf(path))))
  const problems: Problem[] = []
  for (const { path, shown } of files)
    if (read.has(await targetOf(path))) problems.push(problem('out-is-input', { file: shown }))
  if (problems.length > 0) throw new ProblemError(problems)
}

/** The target of a path with symbolic links, whether or not it exists. */
async function targetOf(path: string): Promise<string> {
  try {
    return await realpath(path)
  } catch {
    const link = await readlink(path).catch(() => undefined)
    if (link !== undefined) return resolve(dirname(path), link)
    const folder = dirname(path)
    return folder === path ? path : join(await targetOf(folder), basename(path))
  }
}

/**
 * Whether a path is written directly: a device, pipe or socket, or a file that the process has
 * open.
 */
async function isStream(path: string): Promise<boolean> {
  if (/^\/(dev|proc)\//.test(path)) return true
  const stats = await stat(path).catch(() => undefined)
  return stats !== undefined && !stats.isFile() && !stats.isDirectory()
}

export async function isFolder(path: string): Promise<boolean> {
  try {
    return (await stat(path)).isDirectory()
  } catch {
    return false
  }
}

/** Whether a file exists. */
export async function isThere(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  )
}

function errorCode(error: unknown): string {
  return error instanceof Error && 'code' in error ? String(error.code) : ''
}

const REASONS: Readonly<Record<string, string>> = {
  EISDIR: 'it is a folder',
  EACCES: 'there is no permission',
  EPERM: 'there is no permission',
  EEXIST: 'a file stands where a folder is needed',
  ENOTDIR: 'a file stands where a folder is needed',
  ENOSPC: 'the disk is full',
}

function reason(error: unknown): string {
  return REASONS[errorCode(error)] ?? (error instanceof Error ? error.message : String(error))
}
