// @ts-check
/**
 * Mutation tests: seeds faults into a copy of what is built, one after the other, and fails if the
 * tests stay green with one of them. A law that cannot turn red holds nothing. `node
 * scripts/mutations.js`; it takes some minutes, so it is no part of `npm test`.
 */
import { spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** @type {{ fault: string, file: string, from: string, to: string, tests: string[] }[]} */
const FAULTS = [
  {
    fault: 'sums of cents keep the noise of binary fractions',
    file: 'column/decimals.js',
    from: 'Math.abs(scaled) < WHOLE_FROM ?',
    to: 'false ?',
    tests: ['test/laws/differential.test.ts'],
  },
  {
    fault: 'a limit is not reached by its own value',
    file: 'rule/kinds/ladder.js',
    from: 'Number(x[i] >= y[i])',
    to: 'Number(x[i] > y[i])',
    tests: ['test/laws/rules.test.ts'],
  },
  {
    fault: 'ranks in rules count from the lowest',
    file: 'rule/run/evaluate.js',
    from: 'values[b] - values[a]',
    to: 'values[a] - values[b]',
    tests: ['test/laws/kinds.test.ts'],
  },
  {
    fault: 'sorts run the other way',
    file: 'report/layout/row-order.js',
    from: 'sort.falling ? -1 : 1',
    to: 'sort.falling ? 1 : -1',
    tests: ['test/laws/differential.test.ts'],
  },
  {
    fault: 'exhibits with another condition share an answer',
    file: 'summary/answer-cache.js',
    from: 'aggregates, fields, where, span]',
    to: 'aggregates, fields, span]',
    tests: ['test/regressions/library.test.ts'],
  },
  {
    fault: 'unknown keys are passed over',
    file: 'shape/shape.js',
    from: "problems.push(problem('unknown-key'",
    to: "[].push(problem('unknown-key'",
    tests: ['test/regressions/library.test.ts'],
  },
  {
    fault: 'dates at local midnight become the day before',
    file: 'table/values.js',
    from: 'zone === undefined ? Math.floor',
    to: 'true ? Math.floor',
    tests: ['test/regressions/library.test.ts'],
  },
  {
    fault: 'weeks move by date instead of by number',
    file: 'time/shift.js',
    from: 'if (months === 0 || days !== 0 || months % 12 !== 0)',
    to: 'if (true)',
    tests: ['test/regressions/times.test.ts', 'test/laws/windows.test.ts'],
  },
  {
    fault: 'rows without an amount are not counted',
    file: 'report/answer/coverage.js',
    from: 'blanks.push(',
    to: '[].push(',
    tests: ['test/regressions/gaps.test.ts'],
  },
  {
    fault: 'a share in a rule is of the wrong group',
    file: 'rule/run/evaluate.js',
    from: 'v / sums[all[i]])',
    to: 'v / sums[0])',
    tests: ['test/laws/kinds.test.ts'],
  },
]

const root = fileURLToPath(new URL('..', import.meta.url))
const home = mkdtempSync(join(tmpdir(), 'acuarela-mutations-'))
const copied = [
  'dist',
  'test',
  'scripts',
  'examples',
  'docs',
  'package.json',
  'vitest.config.ts',
  'tsconfig.base.json',
  'README.md',
]
try {
  for (const name of copied) cpSync(join(root, name), join(home, name), { recursive: true })
  symlinkSync(join(root, 'node_modules'), join(home, 'node_modules'))
  let green = 0
  for (const { fault, file, from, to, tests } of FAULTS) {
    const path = join(home, 'dist', file)
    const sound = readFileSync(path, 'utf8')
    if (!sound.includes(from)) throw new Error(`${file} has no ${from}`)
    writeFileSync(path, sound.replace(from, to))
    const { status } = spawnSync(process.execPath, ['node_modules/vitest/vitest.mjs', 'run', ...tests], {
      cwd: home,
      stdio: 'ignore',
    })
    writeFileSync(path, sound)
    console.log(`${status === 0 ? 'GREEN' : 'red  '} ${fault}`)
    if (status === 0) green++
  }
  process.exitCode = green > 0 ? 1 : 0
} finally {
  rmSync(home, { recursive: true, force: true })
}
