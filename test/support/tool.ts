import { spawn } from 'node:child_process'
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { onTestFinished } from 'vitest'

export const ROOT = fileURLToPath(new URL('../..', import.meta.url))
const BIN = join(ROOT, 'dist/cli/acuarela.js')

export interface Run {
  code: number | null
  out: string
  err: string
}

/** Runs the tool as a process, as a user does; `input` is what stands on its standard input. */
export function acuarela(
  args: readonly string[],
  cwd: string = ROOT,
  input = '',
  env: NodeJS.ProcessEnv = {},
): Promise<Run> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [BIN, ...args], { cwd, env: { ...process.env, ...env } })
    child.stdin.on('error', () => undefined).end(input)
    const run: Run = { code: null, out: '', err: '' }
    child.stdout.setEncoding('utf8').on('data', (text: string) => {
      run.out += text
    })
    child.stderr.setEncoding('utf8').on('data', (text: string) => {
      run.err += text
    })
    child.on('error', reject)
    child.on('close', (code) => resolve({ ...run, code }))
  })
}

/** A folder of its own for a test, with some files in it, gone afterwards. */
export async function folder(files: Readonly<Record<string, string>> = {}): Promise<string> {
  const path = await mkdtemp(join(tmpdir(), 'acuarela-'))
  onTestFinished(() => rm(path, { recursive: true, force: true }))
  for (const [name, text] of Object.entries(files)) {
    await mkdir(dirname(join(path, name)), { recursive: true })
    await writeFile(join(path, name), text)
  }
  return path
}
