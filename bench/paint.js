// @ts-check
/**
 * How long do the demo's rules take over a million cells, beside a loop written by hand for just
 * these rules? Both give a status, a fill, an ink and the winning look of each cell of four
 * measures; neither reads a file.
 */
import { fromColumns, paint } from 'acuarela'
import { measure, report } from './measure.js'

const REGIONS = ['Coast', 'Upland', 'Valley']
const LINES = ['Bulbs', 'Ferns', 'Hedging', 'Meadow seed', 'Pond plants', 'Roses', 'Shrubs', 'Succulents']

/** @param {number} seed */
function random(seed) {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 4294967296
  }
}

/** @param {number} rows each row is four cells */
export async function paintBench(rows) {
  const next = random(7)
  const numbers = (/** @type {() => number} */ make) =>
    Float64Array.from({ length: rows }, () => (next() < 0.01 ? Number.NaN : make()))
  const revenue = numbers(() => 20000 + 90000 * next())
  const margin = numbers(() => 0.3 + 0.2 * next())
  const refundShare = numbers(() => 0.04 * next() * next())
  const month = numbers(() => 10000 * next() * next())
  const region = Array.from({ length: rows }, () => Math.floor(REGIONS.length * next()))
  const line = Array.from({ length: rows }, () => Math.floor(LINES.length * next()))
  const table = fromColumns(
    { revenue, margin, refundShare, month, region: region.map((r) => REGIONS[r]), line: line.map((l) => LINES[l]) },
    { columns: { margin: { better: 'higher' } } },
  )
  /** @type {import('acuarela').PaintSpec} */
  const spec = {
    parameters: { target: 60000, tolerance: 0.025 },
    statuses: {
      ahead: { wash: 'aqua', icon: 'tick' },
      close: { wash: 'straw', icon: 'dash' },
      behind: { wash: 'coral', icon: 'cross', weight: 'bold' },
      leading: { wash: 'indigo', icon: 'sprig' },
      returns: { ink: 'coral', icon: 'drop', weight: 'bold' },
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
      { paint: 'margin', within: 'region', rank: { best: 1, status: 'leading' } },
      { paint: 'refundShare', bands: [{ above: 'tolerance', status: 'returns' }] },
      { paint: 'month', within: 'line', gradient: { ramp: ['paper', 'aqua'], from: 0, to: 'percentile(value, 95%)' } },
    ],
  }
  const codes = { region: Int32Array.from(region), line: Int32Array.from(line) }
  const times = await measure({
    acuarela: () => paint(table, spec),
    'a loop by hand': () => byHand({ revenue, margin, refundShare, month }, codes, 60000, 0.025),
  })
  report(`the demo's rules over ${(rows * 4).toLocaleString('en')} cells`, times)
}

/** Colours of the ramp, made once: what a careful hand would do too. */
const RAMP = Uint32Array.from({ length: 256 }, (_, i) => 0xfdfaf4 - i * 0x000101)

/**
 * @param {Record<'revenue' | 'margin' | 'refundShare' | 'month', Float64Array>} cells
 * @param {{ region: Int32Array, line: Int32Array }} codes
 * @param {number} target @param {number} tolerance
 */
function byHand({ revenue, margin, refundShare, month }, codes, target, tolerance) {
  const n = revenue.length
  const make = () => ({ status: new Int8Array(n).fill(-1), fill: new Uint32Array(n), ink: new Uint32Array(n) })
  const [a, b, c, d] = [make(), make(), make(), make()]
  const best = new Float64Array(REGIONS.length).fill(Number.NEGATIVE_INFINITY)
  for (let i = 0; i < n; i++) if (margin[i] > best[codes.region[i]]) best[codes.region[i]] = margin[i]
  const highest = LINES.map((_, l) => {
    let size = 0
    for (let i = 0; i < n; i++) if (codes.line[i] === l && !Number.isNaN(month[i])) size++
    const sorted = new Float64Array(size)
    let at = 0
    for (let i = 0; i < n; i++) if (codes.line[i] === l && !Number.isNaN(month[i])) sorted[at++] = month[i]
    sorted.sort()
    const h = (size - 1) * 0.95
    const low = Math.floor(h)
    return sorted[low] + (h - low) * (sorted[Math.min(size - 1, low + 1)] - sorted[low])
  })
  for (let i = 0; i < n; i++) {
    const v = revenue[i]
    if (v >= target) put(a, i, 0, 0xc0f0de, 0x00483a)
    else if (v >= target * 0.8) put(a, i, 1, 0xffefa5, 0x5a480c)
    else if (!Number.isNaN(v)) put(a, i, 2, 0xf0ad9a, 0x6d2a14)
    if (margin[i] === best[codes.region[i]]) put(b, i, 3, 0xbfdcf2, 0x0f3b5a)
    if (refundShare[i] > tolerance) put(c, i, 4, 0, 0x6d2a14)
    const t = month[i] / highest[codes.line[i]]
    if (!Number.isNaN(t)) {
      d.fill[i] = RAMP[t >= 1 ? 255 : Math.round(t * 255)]
      d.ink[i] = 0x212730
    }
  }
  return [a, b, c, d]
}

/**
 * @param {{ status: Int8Array, fill: Uint32Array, ink: Uint32Array }} out
 * @param {number} i
 * @param {number} status
 * @param {number} fill
 * @param {number} ink
 */
function put(out, i, status, fill, ink) {
  out.status[i] = status
  out.fill[i] = fill
  out.ink[i] = ink
}
