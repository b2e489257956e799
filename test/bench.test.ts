import { expect, test, vi } from 'vitest'
import { paintBench } from '../bench/paint.js'
import { summaryBench } from '../bench/summary.js'

test('the benches run, and tell each figure beside its rival', async () => {
  const lines: string[] = []
  const log = vi.spyOn(console, 'log').mockImplementation((text: string) => {
    lines.push(text)
  })
  paintBench(500)
  await summaryBench()
  log.mockRestore()
  expect(lines.filter((line) => line.includes(' × ')).length).toBe(3)
  expect(lines.filter((line) => line.includes('the measure')).length).toBe(2)
})
