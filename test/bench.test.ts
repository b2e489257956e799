import { expect, test, vi } from 'vitest'
import { groupBench } from '../bench/group.js'
import { htmlBench } from '../bench/html.js'
import { longPageBench } from '../bench/long-page.js'
import { lookupsInMemory, lookupsInParquet, sinceBench } from '../bench/lookups.js'
import { paintBench } from '../bench/paint.js'
import { parquetBench } from '../bench/parquet.js'
import { readBench } from '../bench/read.js'
import { sentencesBench } from '../bench/sentences.js'
import { sixBench } from '../bench/six.js'
import { summaryBench } from '../bench/summary.js'
import { FULL } from './support/effort.js'

test.runIf(FULL)('the benches run, and tell each figure beside its rival', async () => {
  const lines: string[] = []
  const log = vi.spyOn(console, 'log').mockImplementation((text: string) => {
    lines.push(text)
  })
  sixBench([2000], 1)
  await paintBench(500)
  await sentencesBench(8)
  await groupBench(5000)
  await htmlBench([200], 2)
  await summaryBench()
  await readBench(2000)
  await parquetBench(5000)
  await longPageBench(4000, 1)
  await lookupsInParquet(5000)
  await lookupsInMemory(5000)
  await sinceBench(5000)
  log.mockRestore()
  expect(lines.filter((line) => line.includes(' × ')).length).toBe(21)
  expect(lines.filter((line) => line.includes('the measure')).length).toBe(15)
})
