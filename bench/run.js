// @ts-check
/**
 * All benches, each figure beside its rival in the same run: `npm run bench`, or `npm run bench --
 * group read` for some.
 */
import { groupBench } from './group.js'
import { growBench } from './grow.js'
import { htmlBench } from './html.js'
import { liveBench } from './live.js'
import { paintBench } from './paint.js'
import { parquetBench } from './parquet.js'
import { readBench } from './read.js'
import { sixBench } from './six.js'
import { summaryBench } from './summary.js'

/** @type {Record<string, () => unknown>} */
const BENCHES = {
  six: () => sixBench(),
  paint: () => paintBench(250_000),
  html: () => htmlBench(),
  live: () => liveBench(),
  summary: () => summaryBench(),
  read: () => readBench(1_000_000),
  group: () => groupBench(5_000_000),
  parquet: () => parquetBench(10_000_000),
  grow: () => growBench(1_000_000),
}

const asked = process.argv.slice(2)
console.log(`Node ${process.versions.node}, medians\n`)
for (const [name, bench] of Object.entries(BENCHES)) {
  if (asked.length > 0 && !asked.includes(name)) continue
  await bench()
  // The high-water mark of the whole process so far: a bench asked for alone tells its own.
  console.log(`  peak memory so far           ${Math.round(process.resourceUsage().maxRSS / 1024)} MB\n`)
}
