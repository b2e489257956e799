// @ts-check
import { quantileSorted } from 'd3-array'
import { rgb } from 'd3-color'
import { interpolateLab } from 'd3-interpolate'
import { scaleLinear, scaleThreshold } from 'd3-scale'

const WASH = [0xc0f0de, 0xffefa5, 0xf0ad9a]
const INK = [0x00483a, 0x5a480c, 0x6d2a14]
/** A colour table as wide as any: what its colours are costs nothing. */
const RAMP = Uint32Array.from({ length: 256 }, (_, i) => ((i * 0x10101) ^ 0x40ff80) & 0xffffff)
const RAMP_INK = Uint32Array.from({ length: 256 }, (_, i) => (i < 30 || i > 225 ? 0xfdfaf4 : 0x212730))

/**
 * The k-th smallest value, by a histogram and the one bin of it that holds it: a tenth of what
 * sorting takes.
 * @param {Float64Array} values @param {number} low @param {number} high @param {Int32Array} counts
 *   @param {number} k
 */
function select(values, low, high, counts, k) {
  const n = counts.length
  const scale = n / (high - low)
  let bin = 0
  let before = 0
  while (before + counts[bin] <= k) before += counts[bin++]
  const left = new Float64Array(counts[bin])
  let at = 0
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: the quickest way, and a rival is to be quick
    if (v !== v) continue
    let b = ((v - low) * scale) | 0
    if (b >= n) b = n - 1
    if (b === bin) left[at++] = v
  }
  left.sort()
  return left[k - before]
}

/** @param {Float64Array} values */
function survey(values) {
  let [low, high, count] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0]
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: the quickest way, and a rival is to be quick
    if (v !== v) continue
    if (v < low) low = v
    if (v > high) high = v
    count++
  }
  const counts = new Int32Array(2048)
  const scale = counts.length / (high - low)
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: the quickest way, and a rival is to be quick
    if (v !== v) continue
    const b = ((v - low) * scale) | 0
    counts[b >= counts.length ? counts.length - 1 : b]++
  }
  return { low, high, count, counts }
}

/**
 * Six rules in one loop a measure, as one would write it who had only these: every channel in an
 * array of its own.
 * @param {{ revenue: Float64Array, growth: Float64Array }} data @param {number} target
 */
export function byHand({ revenue, growth }, target) {
  const n = revenue.length
  const near = target * 0.8
  const a = survey(revenue)
  const tenth = select(revenue, a.low, a.high, a.counts, Math.max(0, a.count - 10))
  const b = survey(growth)
  const pick = (/** @type {number} */ k) => select(growth, b.low, b.high, b.counts, k)
  const best = pick(b.count - Math.ceil(b.count / 10))
  const quantile = (/** @type {number} */ p) => {
    const h = (b.count - 1) * p
    const k = Math.floor(h)
    const [x, y] = [pick(k), pick(Math.min(b.count - 1, k + 1))]
    return x + (h - k) * (y - x)
  }
  const [low, high] = [quantile(0.33), quantile(0.67)]
  const status = new Int8Array(n)
  const fill = new Uint32Array(n)
  const ink = new Uint32Array(n)
  const icon = new Int8Array(n)
  const bold = new Uint8Array(n)
  const barTo = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    const v = revenue[i]
    // biome-ignore lint/suspicious/noSelfCompare: as above
    if (v !== v) {
      status[i] = -1
      icon[i] = -1
      continue
    }
    const s = v >= target ? 0 : v >= near ? 1 : 2
    status[i] = s
    icon[i] = s
    fill[i] = WASH[s]
    ink[i] = INK[s]
    bold[i] = v >= tenth ? 1 : 0
    barTo[i] = v / a.high
  }
  const gFill = new Uint32Array(n)
  const gInk = new Uint32Array(n)
  const gIcon = new Int8Array(n)
  const gBold = new Uint8Array(n)
  const reach = 0.5 / Math.max(-b.low, b.high)
  for (let i = 0; i < n; i++) {
    const v = growth[i]
    // biome-ignore lint/suspicious/noSelfCompare: as above
    if (v !== v) {
      gIcon[i] = -1
      continue
    }
    const t = Math.round((0.5 + v * reach) * 255)
    gFill[i] = RAMP[t]
    gInk[i] = RAMP_INK[t]
    gBold[i] = v >= best ? 1 : 0
    gIcon[i] = v >= high ? 0 : v >= low ? 1 : 2
  }
  return { status, fill, ink, icon, bold, barTo, gFill, gInk, gIcon, gBold }
}

/**
 * The same as it is written where each rule is a function of a value, made of common scales, and
 * what the rules say of a cell is put together in an object of its own.
 * @param {{ revenue: Float64Array, growth: Float64Array }} data @param {number} target
 */
export function byObjects({ revenue, growth }, target) {
  const sorted = (/** @type {Float64Array} */ list) => Float64Array.from(list.filter((v) => !Number.isNaN(v))).sort()
  const amounts = sorted(revenue)
  const shares = sorted(growth)
  const status = scaleThreshold([target * 0.8, target], ['behind', 'close', 'ahead'])
  const tenth = amounts[Math.max(0, amounts.length - 10)]
  const width = scaleLinear([0, amounts[amounts.length - 1]], [0, 1]).clamp(true)
  const reach = Math.max(-shares[0], shares[shares.length - 1])
  const ground = scaleLinear(['#d4622d', '#fdfaf4', '#008065'])
    .domain([-reach, 0, reach])
    .interpolate(interpolateLab)
    .clamp(true)
  const best = shares[shares.length - Math.ceil(shares.length / 10)]
  const icon = scaleThreshold([quantileSorted(shares, 0.33), quantileSorted(shares, 0.67)], ['down', 'level', 'up'])
  /** @type {Record<string, object>} */
  const looks = {
    ahead: { fill: '#c0f0de', ink: '#00483a', icon: 'tick' },
    close: { fill: '#ffefa5', ink: '#5a480c', icon: 'dash' },
    behind: { fill: '#f0ad9a', ink: '#6d2a14', icon: 'cross' },
  }
  const rules = {
    revenue: [
      (/** @type {number} */ v) => ({ status: status(v), ...looks[status(v)] }),
      (/** @type {number} */ v) => (v >= tenth ? { weight: 'bold' } : {}),
      (/** @type {number} */ v) => ({ bar: { from: 0, to: width(v) } }),
    ],
    growth: [
      (/** @type {number} */ v) => {
        const fill = ground(v)
        const { r, g, b } = rgb(fill)
        return { fill, ink: 0.2126 * r + 0.7152 * g + 0.0722 * b > 140 ? '#212730' : '#fdfaf4' }
      },
      (/** @type {number} */ v) => (v >= best ? { weight: 'bold' } : {}),
      (/** @type {number} */ v) => ({ icon: icon(v) }),
    ],
  }
  const cells = []
  for (const v of revenue) cells.push(Number.isNaN(v) ? {} : Object.assign({}, ...rules.revenue.map((rule) => rule(v))))
  for (const v of growth) cells.push(Number.isNaN(v) ? {} : Object.assign({}, ...rules.growth.map((rule) => rule(v))))
  return cells
}
