// @ts-check
/**
 * Times several ways of doing one thing by turns, so that all meet the same machine, and gives the median of each in
 * milliseconds. The first rounds warm up and do not count.
 * @param {Record<string, () => unknown>} ways
 * @param {{ rounds?: number, warm?: number }} [options]
 * @returns {Record<string, number>}
 */
export function measure(ways, { rounds = 9, warm = 3 } = {}) {
  /** @type {Record<string, number[]>} */
  const times = Object.fromEntries(Object.keys(ways).map((name) => [name, []]))
  for (let round = -warm; round < rounds; round++)
    for (const [name, run] of Object.entries(ways)) {
      const start = performance.now()
      run()
      if (round >= 0) times[name].push(performance.now() - start)
    }
  return Object.fromEntries(
    Object.entries(times).map(([name, list]) => [name, list.sort((a, b) => a - b)[list.length >> 1]]),
  )
}

/**
 * The same for work that is waited for.
 * @param {Record<string, () => unknown>} ways
 * @param {{ rounds?: number, warm?: number }} [options]
 * @returns {Promise<Record<string, number>>}
 */
export async function measureAsync(ways, { rounds = 9, warm = 3 } = {}) {
  /** @type {Record<string, number[]>} */
  const times = Object.fromEntries(Object.keys(ways).map((name) => [name, []]))
  for (let round = -warm; round < rounds; round++)
    for (const [name, run] of Object.entries(ways)) {
      const start = performance.now()
      await run()
      if (round >= 0) times[name].push(performance.now() - start)
    }
  return Object.fromEntries(
    Object.entries(times).map(([name, list]) => [name, list.sort((a, b) => a - b)[list.length >> 1]]),
  )
}

/** @param {string} what @param {Record<string, number>} medians the rival is the last */
export function report(what, medians) {
  const entries = Object.entries(medians)
  const [rival, base] = entries[entries.length - 1]
  console.log(what)
  for (const [name, time] of entries) {
    const ratio = name === rival ? 'the measure' : `${(time / base).toFixed(2)} × ${rival}`
    console.log(`  ${name.padEnd(28)} ${time.toFixed(1).padStart(8)} ms   ${ratio}`)
  }
}
