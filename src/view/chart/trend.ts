import type { Trend } from '../../page/page.js'
import { escapeText } from '../markup.js'
import { SPARK } from './spark.js'
import { cutTo, textWidth } from './text-width.js'

interface Scale {
  x(i: number): number
  y(value: number): number
}

/** The points of a trend in a box; a constant trend is in its middle. */
function trendScale({ points }: Trend, box: { left: number; top: number; width: number; height: number }): Scale {
  const values = points.flatMap(({ value }) => (value === null ? [] : [value]))
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const wide = Math.max(1, points.length - 1)
  return {
    x: (i) => round(box.left + (points.length === 1 ? box.width / 2 : (i / wide) * box.width)),
    y: (v) => round(box.top + (high === low ? box.height / 2 : ((high - v) / (high - low)) * box.height)),
  }
}

function round(x: number): number {
  return Math.round(x * 10) / 10
}

/** The line with its gaps; a value without neighbours is a short stroke. */
function pathOf({ points }: Trend, { x, y }: Scale): string {
  let path = ''
  points.forEach(({ value }, i) => {
    if (value === null) return
    const begins = i === 0 || points[i - 1].value === null
    path += `${begins ? 'M' : 'L'}${x(i)} ${y(value)}`
    if (begins && (points[i + 1]?.value ?? null) === null) path += 'h.1'
  })
  return path
}

/**
 * A sparkline with its last value marked, hollow if its period is unfinished, in the colour of the
 * text. A description is beside it.
 */
export function sparkline(trend: Trend): string {
  const scale = trendScale(trend, { left: 3, top: 4, width: SPARK.width - 8, height: SPARK.height - 8 })
  const { value, unfinished } = trend.points[trend.last]
  const hollow = unfinished ? ' class="open"' : ''
  const dot =
    value === null
      ? ''
      : `<circle${hollow} cx="${scale.x(trend.last)}" cy="${scale.y(value)}" r="2.6" fill="${unfinished ? 'none' : 'currentColor'}"${unfinished ? ' stroke="currentColor" stroke-width="1.4"' : ''}/>`
  return `<svg class="spark" width="${SPARK.width}" height="${SPARK.height}" viewBox="0 0 ${SPARK.width} ${SPARK.height}" aria-hidden="true"><path d="${pathOf(trend, scale)}" fill="none" stroke="currentColor" stroke-width="1.6"/>${dot}</svg>`
}

const CHART = { width: 320, height: 140 }
const LEFT_MARGIN = 14

/**
 * The same as a small labelled chart: first and last place, and the lowest, the highest and the
 * last value.
 */
export function trendChart(trend: Trend): string {
  const { points, last, lowest, highest } = trend
  const { width, height } = CHART
  const right = chartRight(trend)
  const scale = chartScale(trend)
  const marks = [...new Set([last, lowest, highest])].map((i) => {
    const { value, text, unfinished } = points[i]
    const [x, y] = [scale.x(i), scale.y(value ?? 0)]
    const half = textWidth(text, 12) / 2
    const [at, anchor] = i === last ? [x + 7, 'start'] : [Math.max(half, Math.min(right - half, x)), 'middle']
    const line = i === last ? y + 4 : i === lowest ? y + 16 : y - 8
    return `<circle${unfinished ? ' class="open"' : ''} cx="${x}" cy="${y}" r="3"/><text x="${round(at)}" y="${line}" text-anchor="${anchor}">${escapeText(text)}</text>`
  })
  const ends = [
    `<text x="${LEFT_MARGIN}" y="${height - 8}" class="q">${escapeText(cutTo(points[0].label, 12, 110))}</text>`,
    `<text x="${right}" y="${height - 8}" text-anchor="end" class="q">${escapeText(cutTo(points[points.length - 1].label, 12, 110))}</text>`,
  ]
  const title = cutTo(`${trend.name}, ${trend.measureLabel}`, 12.5, width - 20)
  return `<svg class="trend" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" aria-hidden="true"><text x="10" y="17" class="h">${escapeText(title)}</text><path d="${pathOf(trend, scale)}"/>${marks.join('')}${ends.join('')}</svg>`
}

/** The last value is at the right of its mark, clear of the line and the other labels. */
function chartRight({ points, last }: Trend): number {
  return CHART.width - Math.min(120, textWidth(points[last].text, 12) + 16)
}

function chartScale(trend: Trend): Scale {
  return trendScale(trend, {
    left: LEFT_MARGIN,
    top: 46,
    width: chartRight(trend) - LEFT_MARGIN,
    height: CHART.height - 86,
  })
}

/** The value of a trend that is nearest to a share of the width of its line, as an index. */
export function nearestPoint({ points }: Trend, share: number): number {
  const at = share * (points.length - 1)
  let best = -1
  points.forEach(({ value }, i) => {
    if (value !== null && (best < 0 || Math.abs(i - at) < Math.abs(best - at))) best = i
  })
  return best
}

/** Where the line begins and ends, as shares of the width: of the small chart, or a sparkline. */
export function lineEnds(trend: Trend, small: boolean): [number, number] {
  return small
    ? [LEFT_MARGIN / CHART.width, chartRight(trend) / CHART.width]
    : [3 / SPARK.width, (SPARK.width - 5) / SPARK.width]
}

/** A value of the small chart with its place: a line through it, and its words in a line. */
export function pointedMarkup(trend: Trend, at: number): string {
  const { label, value, text } = trend.points[at]
  const { x, y } = chartScale(trend)
  return `<path d="M${x(at)} 40V${CHART.height - 26}" class="guide"/><circle cx="${x(at)}" cy="${y(value ?? 0)}" r="4"/><rect x="8" y="20" width="${CHART.width - 16}" height="18" class="ground"/><text x="10" y="34" class="h">${escapeText(`${label}: ${text}`)}</text>`
}
