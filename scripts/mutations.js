// @ts-check
/**
 * Mutation tests: seeds faults into a copy of what is built, one after the other, and fails if the
 * tests stay green with one of them. A law that cannot turn red holds nothing. `node
 * scripts/mutations.js`; it takes some minutes, so it is no part of `npm test`. With a text it
 * seeds the faults whose file or name has it: `node scripts/mutations.js lookup`.
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
  {
    fault: 'a rolling window has a month more',
    file: 'time/stepped.js',
    from: '- step.count + 1',
    to: '- step.count',
    tests: ['test/engines/spans.test.ts'],
  },
  {
    fault: 'the day of the report is not passed',
    file: 'time/stepped.js',
    from: 'share: (day - from + 1)',
    to: 'share: (day - from)',
    tests: ['test/engines/spans.test.ts'],
  },
  {
    fault: 'spans lack their last day',
    file: 'summary/cells/spanned.js',
    from: 'return to - from + 1',
    to: 'return to - from',
    tests: ['test/engines/spans.test.ts'],
  },
  {
    fault: 'a row that holds from a day is not in force on it',
    file: 'table/lookup.js',
    from: 'from[list[middle]] <= day',
    to: 'from[list[middle]] < day',
    tests: ['test/engines/lookups.test.ts'],
  },
  {
    fault: 'the first row of a lookup table is lost',
    file: 'table/lookup.js',
    from: 'if (ids[row] < 0)',
    to: 'if (row === 0 || ids[row] < 0)',
    tests: ['test/engines/lookups.test.ts'],
  },
  {
    fault: 'what is for each period counts once',
    file: 'summary/cells/lookup-cells.js',
    from: 'value * periods[cell]',
    to: 'value',
    tests: ['test/laws/lookups.test.ts'],
  },
  {
    fault: 'ties among the first n of a table go to the last of them',
    file: 'summary/cells/top-n.js',
    from: 'compareMissingLast(values[a], values[b], sign))',
    to: 'compareMissingLast(values[a], values[b], sign) || b - a)',
    tests: ['test/laws/shown.test.ts'],
  },
  {
    fault: 'the cell that crosses a share of an amount is out',
    file: 'rule/kinds/rank/run.js',
    from: 'round14(better / all) < cut',
    to: 'round14((better + weights[i]) / all) <= cut',
    tests: ['test/laws/shares.test.ts'],
  },
  {
    fault: 'a period that ends on the date of the report is not over',
    file: 'report/answer/unfinished.js',
    from: 'report.calendar).to <= asOf',
    to: 'report.calendar).to < asOf',
    tests: ['test/laws/unfinished.test.ts'],
  },
  {
    fault: 'a status that got worse rose',
    file: 'report/layout/since/answer.js',
    from: "after < before ? 'fell' : 'rose'",
    to: "after > before ? 'fell' : 'rose'",
    tests: ['test/laws/since.test.ts'],
  },
  {
    fault: 'the end of a month is compared with its date in a longer one',
    file: 'time/earlier-day.js',
    from: 'moveDay(asOf, shift, true)',
    to: 'moveDay(asOf, shift, false)',
    tests: ['test/laws/since.test.ts'],
  },
  {
    fault: 'cells that were there before appeared',
    file: 'report/layout/since/answer.js',
    from: 'pairs.here - pairs.both',
    to: 'pairs.here',
    tests: ['test/laws/since.test.ts'],
  },
  {
    fault: 'like for like takes keys of the present alone',
    file: 'summary/cells/same-keys.js',
    from: 'filter((code) => past[cell].has(code))',
    to: 'filter(() => true)',
    tests: ['test/engines/spans.test.ts'],
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
  const [wanted = ''] = process.argv.slice(2)
  for (const { fault, file, from, to, tests } of FAULTS) {
    if (!`${file} ${fault}`.includes(wanted)) continue
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
