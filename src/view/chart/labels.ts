import type { PackedColor } from '../../color/color.js'
import { SOOT } from '../../color/pigments.js'
import type { ChartExhibit } from '../../page/page.js'
import type { ChartFrame, Drawn } from './frame.js'
import { textWidth } from './text-width.js'

/** A value label. */
export interface PlacedLabel {
  /** The index of its series. */
  series: number
  x: number
  y: number
  dx: number
  dy: number
  anchor: 'start' | 'middle' | 'end'
  text: string
  ink: PackedColor
}

interface Box {
  left: number
  right: number
  top: number
  bottom: number
}

const LABEL_SIZE = 11.5
/** Room for the two lines of a reference line's name, in pixels. */
const NAME_HEIGHT = 34

/**
 * The value labels of each panel. Panels of one chart are read side by side: bars that have no room
 * for their labels in one of them have none in any.
 */
export function panelLabels(exhibit: ChartExhibit, frames: readonly ChartFrame[]): PlacedLabel[][] {
  const all = frames.map((frame) => freeLabels(exhibit, frame))
  const crowded = new Set(
    frames.flatMap(({ series }, i) =>
      series.flatMap((marks, s) => {
        const wanted = marks.some(({ draw, labels, at, text }) => draw === 'bar' && isLabelled({ labels, at, text }))
        return wanted && !all[i].some((label) => label.series === s) ? [s] : []
      }),
    ),
  )
  return all.map((labels) => labels.filter(({ series }) => !crowded.has(series)))
}

function isLabelled({ labels, at, text }: Pick<Drawn, 'labels' | 'at' | 'text'>): boolean {
  return labels !== 'none' && at !== null && text !== ''
}

/**
 * The value labels that fit. Bars of a series are labelled all or not at all; points are labelled
 * one by one, painted ones and the last one first, above or below the mark, without overlap.
 */
function freeLabels(exhibit: ChartExhibit, frame: ChartFrame): PlacedLabel[] {
  const taken: Box[] = []
  const placed: PlacedLabel[] = []
  const free = (box: Box): boolean => !taken.some((other) => touches(other, box))
  for (const [s, series] of frame.series.entries()) {
    const valued = series.filter(isLabelled)
    if (valued.length === 0) continue
    const labelled = valued[0].labels === 'ends' ? [...new Set([valued[0], valued[valued.length - 1]])] : valued
    const [{ labels }] = labelled
    const forms: (keyof Drawn & ('text' | 'short'))[] =
      labels === 'full' ? ['text'] : labels === 'short' ? ['short'] : ['text', 'short']
    if (labelled[0].draw === 'bar') {
      for (const form of forms) {
        const all = labelled.map((d) => labelOf(exhibit, frame, d, d[form], true))
        const boxes = all.map(({ box }) => box)
        const crowded = boxes.some((box, i) => !free(box) || (i > 0 && touches(boxes[i - 1], box)))
        if (crowded) continue
        taken.push(...boxes)
        placed.push(...all.map(({ label }) => ({ ...label, series: s })))
        break
      }
      continue
    }
    const order = [...labelled].sort(
      (a, b) =>
        Number(b.painted) - Number(a.painted) ||
        Number(b === labelled.at(-1)) - Number(a === labelled.at(-1)) ||
        a.place - b.place,
    )
    // All labels of a series have one form: the one of which more fit.
    const tries = forms.map((form) => {
      const labels: ReturnType<typeof labelOf>[] = []
      const open = (box: Box): boolean => free(box) && !labels.some((other) => touches(other.box, box))
      for (const d of order) {
        const fits = [true, false]
          .map((above) => labelOf(exhibit, frame, d, d[form], above))
          .find(({ box }) => open(box))
        if (fits !== undefined) labels.push(fits)
      }
      return labels
    })
    const best = tries.reduce((a, b) => (b.length > a.length ? b : a))
    taken.push(...best.map(({ box }) => box))
    placed.push(...best.map(({ label }) => ({ ...label, series: s })))
  }
  return placed
}

function touches(a: Box, b: Box): boolean {
  return a.left < b.right && a.right > b.left && a.top < b.bottom && a.bottom > b.top
}

function labelOf(
  { horizontal: lying, stacked }: ChartExhibit,
  { domain, width, height, margins, places }: ChartFrame,
  d: Drawn,
  text: string,
  above: boolean,
): { label: Omit<PlacedLabel, 'series'>; box: Box } {
  const wide = textWidth(text, LABEL_SIZE) + 2
  const inner = { x: width - margins.left - margins.right, y: height - margins.top - margins.bottom }
  const value = d.at ?? 0
  const share = (v: number): number => (v - domain[0]) / (domain[1] - domain[0])
  const middle = (d.slot[0] + d.slot[1]) / 2
  const negative = value < d.from
  // In a stack a label is in the middle of its part.
  const at = stacked ? (d.from + value) / 2 : value
  const along = d.draw === 'bar' ? middle : d.place + 0.5
  const ink = stacked ? SOOT : inkOf(d)
  if (lying) {
    const [dx, anchor] = stacked ? [0, 'middle' as const] : negative ? [-6, 'end' as const] : [6, 'start' as const]
    const x = margins.left + inner.x * share(at) + dx
    const y = margins.top + (inner.y * along) / places.length
    const left = anchor === 'middle' ? x - wide / 2 : anchor === 'end' ? x - wide : x
    return {
      label: { x: at, y: along, dx, dy: 0, anchor, text, ink },
      box: { left, right: left + wide, top: y - 7, bottom: y + 7 },
    }
  }
  const up = d.draw === 'bar' ? !negative : above
  const dy = stacked ? 0 : up ? (d.draw === 'bar' ? -8 : -12) : d.draw === 'bar' ? 10 : 14
  const center = margins.left + (inner.x * along) / Math.max(1, places.length)
  // Labels near the sides stay clear of the axis.
  const dx = Math.max(0, margins.left + 3 - (center - wide / 2)) - Math.max(0, center + wide / 2 - (width - 3))
  const x = center + dx
  const y = margins.top + inner.y * (1 - share(at)) + dy
  return {
    label: { x: along, y: at, dx, dy, anchor: 'middle', text, ink },
    box: { left: x - wide / 2, right: x + wide / 2, top: y - 7, bottom: y + 7 },
  }
}

/** The label of a pigment's mark has its ink: bodies are too pale for text. */
function inkOf({ point }: Drawn): PackedColor {
  const { pigment, ink, fill } = point.style
  if (pigment !== null) return pigment.ink
  return ink !== null && fill === null ? ink : SOOT
}

/** Names of reference lines that are close are moved apart, each by its `shift` in pixels. */
export function apart(
  lines: ChartExhibit['references'],
  { domain, width, height, margins }: ChartFrame,
  lying: boolean,
): { value: number; label: string; text: string; shift: number }[] {
  if (lying) {
    // Names are above the chart, one line higher if they would touch the one before.
    const scale = (width - margins.left - margins.right) / (domain[1] - domain[0])
    let [end, row] = [Number.NEGATIVE_INFINITY, 0]
    return [...lines]
      .sort((a, b) => a.value - b.value)
      .map((line) => {
        const half = textWidth(`${line.label} ${line.text}`, 12) / 2
        row = line.value * scale - half < end ? row + 1 : 0
        end = line.value * scale + half + 6
        return { ...line, shift: row * 14 }
      })
  }
  const scale = (height - margins.top - margins.bottom) / (domain[1] - domain[0])
  let last = Number.NEGATIVE_INFINITY
  return [...lines]
    .sort((a, b) => b.value - a.value)
    .map((line) => {
      const height = -line.value * scale
      const at = Math.max(height, last + NAME_HEIGHT)
      last = at
      return { ...line, shift: at - height }
    })
}
