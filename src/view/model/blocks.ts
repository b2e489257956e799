import type { Trend } from '../../page/page.js'
import type { Bar } from '../../style/painting.js'

const EIGHTHS = ['', '▏', '▎', '▍', '▌', '▋', '▊', '▉']
const HEIGHTS = ['▁', '▂', '▃', '▄', '▅', '▆', '▇', '█']

/**
 * A bar of block characters, with eighths at its right end; its left end is rounded to whole
 * characters.
 */
export function blockBar(bar: Pick<Bar, 'from' | 'to' | 'beyond'>, places: number, ascii: boolean): string {
  return beyond(drawnBar(bar, places, ascii), bar, ascii)
}

/** A bar beyond its scale has an arrow at that end. */
function beyond(text: string, bar: Pick<Bar, 'beyond'>, ascii: boolean): string {
  if (bar.beyond === 'high') return `${text.slice(0, -1)}${ascii ? '>' : '▶'}`
  return bar.beyond === 'low' ? `${ascii ? '<' : '◀'}${text.slice(1)}` : text
}

function drawnBar(bar: { from: number; to: number }, places: number, ascii: boolean): string {
  const from = Math.min(places - 1, Math.floor(bar.from * places))
  const end = bar.to * places
  const whole = Math.max(0, Math.floor(end) - from)
  const rest = Math.round((end - Math.floor(end)) * 8)
  if (ascii)
    return (' '.repeat(from) + '#'.repeat(Math.max(bar.to > bar.from ? 1 : 0, Math.round(end) - from))).padEnd(places)
  const full = rest === 8 ? whole + 1 : whole
  const drawn = '█'.repeat(full) + EIGHTHS[rest % 8]
  // A value other than zero is visible.
  return (' '.repeat(from) + (drawn === '' && bar.to > bar.from ? EIGHTHS[1] : drawn)).padEnd(places).slice(0, places)
}

/** A point on a line, at one of the ends of its bar. */
export function blockDot(
  bar: Pick<Bar, 'from' | 'to' | 'beyond'>,
  end: 'from' | 'to',
  places: number,
  ascii: boolean,
): string {
  return beyond(drawnDot(bar[end], places, ascii), bar, ascii)
}

function drawnDot(at: number, places: number, ascii: boolean): string {
  const place = Math.min(places - 1, Math.floor(at * places))
  const line = ascii ? '-' : '─'
  return line.repeat(place) + (ascii ? 'o' : '●') + line.repeat(places - place - 1)
}

/** A trend with a character for each value; a gap if one is missing. */
export function blockTrend({ points }: Trend, ascii: boolean): string {
  const values = points.flatMap(({ value }) => (value === null ? [] : [value]))
  const [low, high] = [Math.min(...values), Math.max(...values)]
  return points
    .map(({ value }) => {
      if (value === null) return ' '
      const step = high === low ? 3 : Math.round(((value - low) / (high - low)) * 7)
      return ascii ? String(step + 1) : HEIGHTS[step]
    })
    .join('')
}
