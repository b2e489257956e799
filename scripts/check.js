// @ts-check
/**
 * Checks the types of everything that is not built, with the compiler that it is built with: a
 * second, older one stands beside it for a test.
 */
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
for (const project of [
  'tsconfig.check.json',
  'examples/small-table',
  'examples/dashboard',
  'examples/workbench',
  'examples/one-rule-many-pages',
])
  execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', project], { cwd: root, stdio: 'inherit' })
