import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import { ProblemError, problem } from '../problem/problem.js'

/** Reads a text file. `shown` is how the user named it. */
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
  /** How the user named it, for problems. */
  shown: string
  text: string | Uint8Array
}

/**
 * Writes files so that none is ever half-written: all go to temporary names first, then each is renamed into its place.
 * When one cannot be written, none is renamed.
 */
export async function writeFiles(files: readonly OutFile[]): Promise<void> {
  const pending: { from: string; to: string }[] = []
  try {
    for (const { path, shown, text } of files) {
      const from = join(dirname(path), `.${basename(path)}.${process.pid}.part`)
      try {
        if (await isFolder(path)) throw new ProblemError([problem('out-exists', { file: shown })])
        await mkdir(dirname(path), { recursive: true })
        pending.push({ from, to: path })
        await writeFile(from, text)
      } catch (error) {
        if (error instanceof ProblemError) throw error
        throw new ProblemError([problem('cannot-write', { file: shown, why: reason(error) })])
      }
    }
    for (const { from, to } of pending) await rename(from, to)
  } catch (error) {
    for (const { from } of pending) await rm(from, { force: true })
    throw error
  }
}

export async function isFolder(path: string): Promise<boolean> {
  try {
    return (await stat(path)).isDirectory()
  } catch {
    return false
  }
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
