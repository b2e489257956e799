import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { onTestFinished } from 'vitest'
import { main } from '../../dist/cli/main.js'
import { FULL } from './effort.js'

export const ROOT = fileURLToPath(new URL('../..', import.meta.url))
const BIN = join(ROOT, 'dist/cli/acuarela.js')
const { version: VERSION } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as { version: string }

export interface Run {
  code: number | null
  out: string
  err: string
}

/**
 * Runs the tool. As a process in the full run, and where standard input or the environment matter;
 * else its `main` in this process: starting a process takes longer than most commands.
 */
export function acuarela(
  args: readonly string[],
  cwd: string = ROOT,
  input = '',
  env: NodeJS.ProcessEnv = {},
): Promise<Run> {
  const alone =
    FULL || input !== '' || args.includes('-') || args.length < 2 || args[0] === 'demo' || Object.keys(env).length > 0
  return alone ? acuarelaProcess(args, cwd, input, env) : acuarelaHere(args, cwd)
}

/** The same always as a process. */
export function acuarelaProcess(
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

async function acuarelaHere(args: readonly string[], cwd: string): Promise<Run> {
  const out: string[] = []
  const err: string[] = []
  const code = await main({
    argv: args,
    version: VERSION,
    io: {
      cwd,
      out: (content) => out.push(typeof content === 'string' ? content : Buffer.from(content).toString('utf8')),
      err: (text) => err.push(text),
      colors: (asked) => (asked === true ? 24 : 1),
      unicode: () => true,
      width: () => 100,
      isTerminal: false,
      terminal: false,
      clock: () => performance.now(),
      today: () => Math.floor(Date.now() / 86_400_000),
    },
  })
  return { code, out: out.join(''), err: err.join('') }
}

/** A folder of its own for a test, with some files in it, removed afterwards. */
export async function folder(files: Readonly<Record<string, string>> = {}): Promise<string> {
  const path = await mkdtemp(join(tmpdir(), 'acuarela-'))
  onTestFinished(() => rm(path, { recursive: true, force: true }))
  for (const [name, text] of Object.entries(files)) {
    await mkdir(dirname(join(path, name)), { recursive: true })
    await writeFile(join(path, name), text)
  }
  return path
}
