// @ts-check
/**
 * Six rules of all kinds over two measures, beside one monolithic loop by hand and beside the same
 * rules written cell by cell with an object a cell. A figure is the median over several fresh
 * processes: one alone may have met an unlucky compilation.
 */
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { createPainter, fromColumns, paint } from 'acuarela'
import { random } from './random.js'
import { byHand, byObjects } from './six-rivals.js'

const PROCESSES = 5

/** @type {import('acuarela').PaintSpec} */
export const SIX = {
  parameters: { target: 60000 },
  statuses: {
    ahead: { wash: 'aqua', icon: 'tick' },
    close: { wash: 'straw', icon: 'dash' },
    behind: { wash: 'coral', icon: 'cross' },
  },
  rules: [
    {
      paint: 'revenue',
      bands: [
        { atLeast: 'target', status: 'ahead' },
        { atLeast: '80% of target', status: 'close' },
        { otherwise: 'behind' },
      ],
    },
    { paint: 'revenue', rank: { top: 10, style: { weight: 'bold' } } },
    { paint: 'revenue', bar: { color: 'indigo' } },
    { paint: 'growth', gradient: { ramp: ['coral', 'paper', 'aqua'] } },
    { paint: 'growth', rank: { top: '10%', style: { weight: 'bold' } } },
    {
      paint: 'growth',
      bands: [
        { atLeast: 'percentile(value, 67%)', style: { icon: 'up' } },
        { atLeast: 'percentile(value, 33%)', style: { icon: 'sideways' } },
        { otherwise: { icon: 'down' } },
      ],
    },
  ],
}

/** @param {number} cells two measures of half as many rows */
export function sixData(cells) {
  const next = random(11)
  const rows = cells / 2
  const list = (/** @type {() => number} */ make) =>
    Float64Array.from({ length: rows }, () => (next() < 0.01 ? Number.NaN : make()))
  return { revenue: list(() => 20000 + 90000 * next()), growth: list(() => next() + next() - 0.9) }
}

/** @param {readonly number[]} list */
const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1]

/** One process: the times of each way, by turns. @param {number} cells */
function child(cells) {
  const data = sixData(cells)
  const table = fromColumns(data)
  const painter = createPainter(table, SIX)
  const painting = painter.paint(table)
  let target = 60000
  const twoHundred = { ...SIX, rules: Array.from({ length: 200 }, (_, i) => SIX.rules[i % SIX.rules.length]) }
  const ways = {
    acuarela: () => painter.paint(table),
    repaint: () => {
      target = target === 60000 ? 61000 : 60000
      return painting.repaint({ target })
    },
    compile: () => createPainter(table, twoHundred),
    objects: () => byObjects(data, 60000),
    loop: () => byHand(data, 60000),
  }
  /** @type {Record<string, number[]>} */
  const times = {}
  // Small runs need many turns to be warm; objects are slow enough without.
  const rounds = cells <= 10_000 ? 200 : cells <= 100_000 ? 15 : 7
  const { objects, ...turns } = ways
  const time = (/** @type {() => unknown} */ run) => {
    const start = performance.now()
    run()
    return performance.now() - start
  }
  for (let round = -rounds; round < rounds; round++)
    for (const [name, run] of Object.entries(turns)) {
      const took = time(run)
      times[name] ??= []
      if (round >= 0) times[name].push(took)
    }
  // Objects have turns of their own, as their garbage would slow the others down; each is measured
  // beside ours at the same time.
  /** @type {number[]} */
  const faster = []
  times.objects = []
  for (let round = 0; round < (cells <= 100_000 ? 15 : 7); round++) {
    const ours = median(Array.from({ length: 9 }, () => time(turns.acuarela)))
    const theirs = time(objects)
    times.objects.push(theirs)
    faster.push(theirs / ours)
  }
  const by = Object.fromEntries(Object.entries(times).map(([name, list]) => [name, median(list)]))
  console.log(JSON.stringify({ ...by, faster: median(faster) }))
}

/** Bytes a cell beside the values: what is kept, and the most there was. @param {number} cells */
function memoryChild(cells) {
  const table = fromColumns(sixData(cells))
  paint(fromColumns(sixData(1000)), SIX)
  globalThis.gc?.()
  const before = process.memoryUsage().arrayBuffers
  const painting = paint(table, SIX)
  const peak = process.memoryUsage().arrayBuffers - before
  globalThis.gc?.()
  const kept = process.memoryUsage().arrayBuffers - before
  console.log(JSON.stringify({ kept: kept / cells, peak: peak / cells, plain: painting.notes.length }))
}

/** @param {number} cells @param {string} what */
function fresh(cells, what) {
  const out = execFileSync(process.execPath, ['--expose-gc', fileURLToPath(import.meta.url), what, String(cells)])
  return JSON.parse(String(out))
}

/** @param {readonly number[]} [sizes] @param {number} [processes] */
export function sixBench(sizes = [10_000, 100_000, 1_000_000], processes = PROCESSES) {
  for (const cells of sizes) {
    const runs = Array.from({ length: processes }, () => fresh(cells, 'time'))
    const ratio = (/** @type {string} */ a, /** @type {string} */ b) => median(runs.map((run) => run[a] / run[b]))
    const time = (/** @type {string} */ name) =>
      `${median(runs.map((run) => run[name]))
        .toFixed(2)
        .padStart(9)} ms`
    console.log(
      `six rules over ${cells.toLocaleString('en')} cells, ${processes} ${processes === 1 ? 'process' : 'processes'}`,
    )
    console.log(
      `  acuarela                     ${time('acuarela')}   ${ratio('acuarela', 'loop').toFixed(2)} × a loop by hand`,
    )
    console.log(
      `  a parameter moved            ${time('repaint')}   ${ratio('repaint', 'loop').toFixed(2)} × a loop by hand`,
    )
    console.log(
      `  two hundred rules compiled   ${time('compile')}   ${ratio('compile', 'acuarela').toFixed(2)} × painting with six`,
    )
    console.log(
      `  cell by cell, with objects   ${time('objects')}   ${median(runs.map((run) => run.faster)).toFixed(0)} × acuarela`,
    )
    console.log(`  a loop by hand               ${time('loop')}   the measure`)
  }
  const { kept, peak } = fresh(sizes[sizes.length - 1], 'memory')
  console.log(`  memory beside the values: ${kept.toFixed(1)} bytes a cell kept, ${peak.toFixed(1)} at the peak`)
}

const [what, cells] = process.argv.slice(2)
if (process.argv[1] === fileURLToPath(import.meta.url)) (what === 'memory' ? memoryChild : child)(Number(cells))
