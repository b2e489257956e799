// @ts-check
/** All benches, each figure beside its rival in the same run: `npm run bench`. */
import { paintBench } from './paint.js'
import { summaryBench } from './summary.js'

console.log(`Node ${process.versions.node}, medians\n`)
paintBench(250_000)
await summaryBench()
