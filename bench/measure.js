// @ts-check
/**
 * Times several ways of doing one thing by turns, so that all meet the same machine: the times of
 * each in milliseconds, round by round. The first rounds warm up and do not count. With `node
 * --expose-gc` nobody pays for the litter of another.
 * @param {Record<string, () => unknown>} ways the rival is the last
 * @param {{ rounds?: number, warm?: number }} [options]
 * @returns {Promise<Record<string, number[]>>}
 */
export async function measure(ways, { rounds = 9, warm = 3 } = {}) {
  /** @type {Record<string, number[]>} */
  const times = Object.fromEntries(Object.keys(ways).map((name) => [name, []]))
  for (let round = -warm; round < rounds; round++)
    for (const [name, run] of Object.entries(ways)) {
      globalThis.gc?.()
      const start = performance.now()
      const result = run()
      // A synchronous way is not awaited: even a microtask would count.
      if (result instanceof Promise) await result
      if (round >= 0) times[name].push(performance.now() - start)
    }
  return times
}

/** @param {readonly number[]} list */
function median(list) {
  return [...list].sort((a, b) => a - b)[list.length >> 1]
}

/**
 * The median of each way, and the median of its ratios to the rival, round by round: a machine that
 * is slow for a while is so for both.
 * @param {string} what @param {Record<string, number[]>} times the rival is the last
 */
export function report(what, times) {
  const entries = Object.entries(times)
  const [rival, base] = entries[entries.length - 1]
  console.log(what)
  for (const [name, list] of entries) {
    const ratios = list.map((time, i) => time / base[i])
    const ratio = name === rival ? 'the measure' : `${median(ratios).toFixed(2)} × ${rival}`
    console.log(`  ${name.padEnd(30)} ${median(list).toFixed(1).padStart(8)} ms   ${ratio}`)
  }
}
