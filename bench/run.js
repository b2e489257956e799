// @ts-check
/**
 * All benches, each figure beside its rival in the same run: `npm run bench`, or `npm run bench --
 * group read` for some. With `--record` the ratios are added to bench/history.json under the
 * commit; with `--check` they are compared with the last that are there, and a ratio that got worse
 * by more than a quarter is exit code 1. Times are not kept: they are of one machine.
 */
import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { groupBench } from './group.js'
import { growBench } from './grow.js'
import { htmlBench } from './html.js'
import { liveBench } from './live.js'
import { longPageBench } from './long-page.js'
import { lookupsInMemory, lookupsInParquet, sinceBench } from './lookups.js'
import { paintBench } from './paint.js'
import { parquetBench } from './parquet.js'
import { readBench } from './read.js'
import { sentencesBench } from './sentences.js'
import { sixBench } from './six.js'
import { summaryBench } from './summary.js'
import { workbenchBench } from './workbench.js'
import { workbookBench, workbookWriteBench } from './workbook.js'

/** @type {Record<string, () => unknown>} */
const BENCHES = {
  six: () => sixBench(),
  paint: () => paintBench(250_000),
  sentences: () => sentencesBench(200),
  html: () => htmlBench(),
  live: () => liveBench(),
  workbench: () => workbenchBench(),
  'long-page': () => longPageBench(),
  summary: () => summaryBench(),
  read: () => readBench(1_000_000),
  workbook: async () => {
    await workbookBench(1_000_000)
    await workbookWriteBench(100_000)
  },
  group: () => groupBench(5_000_000),
  parquet: () => parquetBench(10_000_000),
  lookups: async () => {
    await lookupsInParquet(10_000_000)
    await lookupsInMemory(5_000_000)
  },
  since: () => sinceBench(1_000_000),
  grow: () => growBench(1_000_000),
}

/** A ratio that is larger than the last by this much is worse, not noise. */
const WORSE = 1.25

const asked = process.argv.slice(2).filter((argument) => !argument.startsWith('--'))
const [record, check] = ['--record', '--check'].map((flag) => process.argv.includes(flag))
/** @type {Record<string, number>} */
const ratios = {}

/** Reads the ratio of a printed line, under the heading above it. @param {string} bench */
function listen(bench) {
  const print = console.log
  let heading = ''
  console.log = (/** @type {unknown} */ text) => {
    print(text)
    const line = String(text)
    if (!line.startsWith(' ')) heading = line.trim()
    const match = /^ {2}(\S.*?) {2,}.*?([\d.]+) × /.exec(line)
    if (match !== null) ratios[`${bench}: ${heading}: ${match[1].trim()}`] = Number(match[2])
  }
  return () => {
    console.log = print
  }
}

console.log(`Node ${process.versions.node}, medians\n`)
for (const [name, bench] of Object.entries(BENCHES)) {
  if (asked.length > 0 && !asked.includes(name)) continue
  const stop = listen(name)
  await bench()
  stop()
  // The peak of the whole process so far: run a bench alone for its own peak.
  console.log(`  peak memory so far           ${Math.round(process.resourceUsage().maxRSS / 1024)} MB\n`)
}

const file = fileURLToPath(new URL('history.json', import.meta.url))
/** @type {{ commit: string, date: string, node: string, ratios: Record<string, number> }[]} */
const history = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : []
if (check) {
  const worse = Object.entries(ratios).flatMap(([name, ratio]) => {
    const last = history.findLast((entry) => entry.ratios[name] !== undefined)
    const before = last?.ratios[name]
    return before !== undefined && ratio > before * WORSE
      ? [`${name}: ${ratio} ×, and ${before} × at ${last?.commit}`]
      : []
  })
  for (const line of worse) console.error(line)
  console.error(worse.length === 0 ? 'no ratio got worse by more than a quarter' : `${worse.length} ratios got worse`)
  process.exitCode = worse.length === 0 ? 0 : 1
}
if (record) {
  const commit = execFileSync('git', ['rev-parse', '--short', 'HEAD'], { encoding: 'utf8' }).trim()
  const date = new Date().toISOString().slice(0, 10)
  history.push({ commit, date, node: process.versions.node, ratios })
  writeFileSync(file, `${JSON.stringify(history, null, 2)}\n`)
}
