import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll } from 'vitest'
import { ROOT } from './tool.js'

/** A running `acuarela edit`. */
export interface Editing {
  child: ChildProcess
  address: string
  port: number
  /** Everything on its standard error so far. */
  err(): string
  /** A request with the cookie of the browser that was let in. */
  ask(path: string, init?: RequestInit): Promise<Response>
  kill(signal: NodeJS.Signals): Promise<number | null>
}

const BIN = join(ROOT, 'dist/cli/acuarela.js')

/** Folders and servers of a test file, which end with it. */
export function useEditing(): {
  folder(): string
  state: string
  start(cwd: string, args: readonly string[], limit?: number): Promise<Editing>
} {
  const folders: string[] = []
  const running: ChildProcess[] = []
  const folder = (): string => {
    const made = mkdtempSync(join(tmpdir(), 'acuarela-edit-'))
    folders.push(made)
    return made
  }
  const state = folder()
  afterAll(() => {
    for (const child of running) child.kill('SIGKILL')
    for (const one of folders) rmSync(one, { recursive: true, force: true })
  })
  return {
    folder,
    state,
    async start(cwd, args, limit) {
      const own = [BIN, 'edit', ...args, '--no-open']
      // A limit on the size of files stands for a full disk.
      const [command, all] =
        limit === undefined
          ? [process.execPath, own]
          : ['bash', ['-c', `ulimit -f ${limit}; exec "$0" "$@"`, process.execPath, ...own]]
      const child = spawn(command, all, { cwd, env: { ...process.env, XDG_STATE_HOME: state } })
      running.push(child)
      const editing = await begun(child)
      return editing
    },
  }
}

async function begun(child: ChildProcess): Promise<Editing> {
  let [out, err] = ['', '']
  child.stderr?.setEncoding('utf8').on('data', (text: string) => {
    err += text
  })
  await new Promise<void>((done, failed) => {
    child.once('close', () => failed(new Error(err)))
    child.stdout?.setEncoding('utf8').on('data', (text: string) => {
      out += text
      if (out.includes('\n')) done()
    })
  })
  const address = out.trim()
  const { port, origin } = new URL(address)
  let cookie: Promise<string> | undefined
  const entered = async (): Promise<string> =>
    (await fetch(address, { redirect: 'manual' })).headers.get('set-cookie')?.split(';')[0] ?? ''
  return {
    child,
    address,
    port: Number(port),
    err: () => err,
    async ask(path, init = {}) {
      cookie ??= entered()
      return fetch(`${origin}${path}`, {
        redirect: 'manual',
        ...init,
        // A connection that a refusal closed is not used again.
        headers: {
          cookie: await cookie,
          origin,
          'content-type': 'application/json',
          connection: 'close',
          ...init.headers,
        },
      })
    },
    kill(signal) {
      child.kill(signal)
      return new Promise((done) => {
        if (child.exitCode !== null || child.signalCode !== null) done(child.exitCode)
        else child.once('close', done)
      })
    },
  }
}
