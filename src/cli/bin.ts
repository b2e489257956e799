#!/usr/bin/env node
import { readFileSync } from 'node:fs'
import type { Question } from './io.js'

const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
  version: string
}
// A reader such as `head` may close the pipe early: that is no error. A full disk is one.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0)
  const why = error.code === 'ENOSPC' ? 'the disk is full' : error.message
  process.stderr.write(`standard output cannot be written: ${why}\n`)
  process.exit(2)
})
const argv = process.argv.slice(2)
if (argv.length === 1 && (argv[0] === '--help' || argv[0] === '-h')) {
  // Help and version are constant, so the build writes them to a file; no module is loaded for
  // them.
  process.stdout.write(readFileSync(new URL('help.txt', import.meta.url), 'utf8'))
} else await run()

async function run(): Promise<void> {
  const { main } = await import('./main.js')
  process.exitCode = await main({
    argv,
    version,
    io: {
      cwd: process.cwd(),
      out: (content) => process.stdout.write(content),
      err: (text) => process.stderr.write(text),
      colors(asked) {
        if (asked === false || (asked === undefined && (process.env.NO_COLOR ?? '') !== '')) return 1
        if (asked === undefined && !process.stdout.isTTY) return 1
        // A pager does not report its colours: assume the common ones.
        const depth = process.stdout.isTTY ? process.stdout.getColorDepth(withoutNoColor(process.env)) : 24
        return depth === 4 || depth === 8 || depth === 24 ? depth : asked === true ? 8 : 1
      },
      // A locale without UTF-8 supports ASCII alone. An empty locale leaves that open.
      unicode: () => {
        const locale = process.env.LC_ALL || process.env.LC_CTYPE || process.env.LANG || ''
        return locale === '' || !process.stdout.isTTY || /utf-?8/i.test(locale)
      },
      width: () => Math.max(40, Math.min(process.stdout.columns ?? 100, 120)),
      isTerminal: process.stdout.isTTY === true,
      terminal: process.stderr.isTTY === true,
      ...(process.stdin.isTTY === true && process.stderr.isTTY === true && { ask }),
      clock: () => performance.now(),
      today: () => {
        const now = new Date()
        return Date.UTC(now.getFullYear(), now.getMonth(), now.getDate()) / 86_400_000
      },
    },
  })
}

/** Asks on standard error: standard output may be the report. Loaded only if something is asked. */
async function ask({ message, choices, guess }: Question): Promise<string> {
  const [{ isCancel, select }, { harmless }] = await Promise.all([
    import('@clack/prompts'),
    import('../problem/print.js'),
  ])
  const answer = await select({
    message: harmless(message),
    options: choices.map(({ value, label }) => ({ value, label: harmless(label) })),
    initialValue: guess,
    output: process.stderr,
  })
  // Ctrl-C and Escape end the tool as Ctrl-C does elsewhere.
  if (isCancel(answer)) process.exit(130)
  return answer
}

/** The environment without NO_COLOR: Node reads even an empty value as "no colours". */
function withoutNoColor({ NO_COLOR: _, ...env }: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
  return env
}
