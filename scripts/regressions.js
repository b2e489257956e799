// @ts-check
/**
 * Runs the tests in test/regressions against the commit before these defects were mended, and fails
 * if one of them passes there: each must have been red once. `node scripts/regressions.js`; it
 * needs the history, so it is no part of `npm test`.
 */
import { execFileSync, spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The last commit before. */
const BEFORE = '77a72fa'

const root = fileURLToPath(new URL('..', import.meta.url))
const home = mkdtempSync(join(tmpdir(), 'acuarela-before-'))
const tree = join(home, 'tree')
try {
  execFileSync('git', ['worktree', 'add', '--detach', '--force', tree, BEFORE], { cwd: root, stdio: 'ignore' })
  symlinkSync(join(root, 'node_modules'), join(tree, 'node_modules'))
  execFileSync(process.execPath, ['scripts/build.js'], { cwd: tree, stdio: 'inherit' })
  for (const folder of ['test/regressions', 'test/support', 'test/browser/embed'])
    cpSync(join(root, folder), join(tree, folder), { recursive: true })
  const out = join(home, 'results.json')
  const args = ['node_modules/vitest/vitest.mjs', 'run', 'test/regressions', '--reporter=json', `--outputFile=${out}`]
  spawnSync(process.execPath, args, { cwd: tree, stdio: 'ignore', env: { ...process.env, ACUARELA_BEFORE: '1' } })
  /** @type {{ testResults: { name: string, message: string, assertionResults: { title: string, status: string }[] }[] }} */
  const { testResults } = JSON.parse(readFileSync(out, 'utf8'))
  const all = testResults.flatMap(({ assertionResults }) => assertionResults)
  const passed = all.filter(({ status }) => status === 'passed')
  for (const { title } of passed) console.log(`passes before, too: ${title}`)
  for (const { name, message, assertionResults } of testResults)
    if (assertionResults.length === 0)
      console.log(`does not even load before: ${name.replace(tree, '')} (${message.split('\n')[0]})`)
  console.log(`${all.length} tests, ${all.length - passed.length} fail before`)
  process.exitCode = passed.length > 0 ? 1 : 0
} finally {
  spawnSync('git', ['worktree', 'remove', '--force', tree], { cwd: root })
  rmSync(home, { recursive: true, force: true })
}
