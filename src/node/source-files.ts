import { readFile, stat } from 'node:fs/promises'
import { resolve } from 'node:path'
import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import { ProblemError, problem } from '../problem/problem.js'
import { FORMATS } from '../source/formats/registry.js'
import { isPattern, type SourceFile } from '../source/source-file.js'
import { unreadable } from './files.js'

/**
 * The files of a source: one file, the matches of a pattern, or standard input; gzip is unpacked.
 */
export async function readSourceFiles(file: string, folder: string, noLimit = false): Promise<SourceFile[]> {
  if (file === 'stdin') return [{ name: 'standard input', content: await unpacked(await readStdin(), file, noLimit) }]
  return Promise.all(
    (await namesOf(file, folder)).map(async (name) => {
      if ((await totalBytes([name], folder)) > MAX_FILE_BYTES * 4) {
        const megabytes = Math.round((await totalBytes([name], folder)) / 1e6)
        throw new ProblemError([problem('file-too-large', { file: name, megabytes })])
      }
      const bytes = await readFile(resolve(folder, name)).catch((error: unknown) => {
        throw unreadable(error, name)
      })
      const content = await unpacked(bytes, name, noLimit)
      const bytesLong = content.byteLength
      if (bytesLong > MAX_FILE_BYTES && !FORMATS.some((format) => format.of === 'bytes' && format.begins(content))) {
        const megabytes = Math.round(bytesLong / 1e6)
        throw new ProblemError([problem('file-too-large', { file: name, megabytes })])
      }
      return { name: name.replace(/\.gz$/i, ''), content }
    }),
  )
}

/**
 * Larger files, in bytes, are left to DuckDB if it is installed: in memory they take several times
 * as many.
 */
export const LARGE_BYTES = 64 * 1024 * 1024
/** CSV is parsed as fast in memory, so only files that hardly fit there are left to DuckDB. */
export const LARGE_CSV = 256 * 1024 * 1024
/** The longest string of Node, with a margin for the columns made of it. */
const MAX_FILE_BYTES = 480 * 1024 * 1024

/**
 * Sales tables unpack to about ten times their size. More than this ratio, above a minimum size, is
 * refused as an attack.
 */
const MAX_GZIP_RATIO = 200
const MIN_UNPACKED_BYTES = 32 * 1024 * 1024

/** The size of files in bytes. */
export async function totalBytes(names: readonly string[], folder: string): Promise<number> {
  const sizes = await Promise.all(
    names.map((name) =>
      stat(resolve(folder, name)).catch((error: unknown) => {
        throw unreadable(error, name)
      }),
    ),
  )
  return sizes.reduce((sum, { size }) => sum + size, 0)
}

/** A name with `*`, `?`, `{` or `[` is a pattern, unless a file has that name. Sorted by name. */
export async function namesOf(file: string, folder: string): Promise<string[]> {
  if (!isPattern(file)) return [file]
  const { glob } = await import('tinyglobby')
  const names = await glob(file, { cwd: folder, onlyFiles: true, expandDirectories: false })
  if (names.length === 0) throw new ProblemError([problem('no-files', { file })])
  return names.sort()
}

/** All of standard input. */
export async function readStdin(): Promise<Buffer> {
  // A terminal would wait for input forever.
  if (process.stdin.isTTY) throw new ProblemError([problem('no-stdin', {})])
  const chunks: Buffer[] = []
  for await (const chunk of process.stdin) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

/** gzip is known by its first two bytes (RFC 1952), whatever the name of the file. */
async function unpacked(bytes: Buffer, name: string, noLimit: boolean): Promise<Uint8Array> {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes
  const maxOutputLength = noLimit
    ? MAX_FILE_BYTES * 4
    : Math.min(MAX_FILE_BYTES, Math.max(MIN_UNPACKED_BYTES, bytes.length * MAX_GZIP_RATIO))
  try {
    return await promisify(gunzip)(bytes, { maxOutputLength })
  } catch (error) {
    if (error instanceof RangeError)
      throw new ProblemError([
        problem('gzip-too-large', { packed: bytes.length, most: maxOutputLength }, { file: name }),
      ])
    const why = error instanceof Error ? error.message : String(error)
    throw new ProblemError([problem('gzip-broken', { why }, { file: name })])
  }
}
