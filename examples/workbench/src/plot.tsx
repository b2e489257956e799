import { type PlotHandle, type PopulationPlot, themeColor } from 'acuarela/workbench'
import { useEffect, useMemo, useRef, useState } from 'react'

interface Props {
  plot: PopulationPlot
  /** `drag`: the number of the drag that it is a step of; 0 for a move by keys. */
  onMove(handle: PlotHandle, value: number, drag: number): void
}

const WIDTH = 344
const HEIGHT = 104
const BASE = 74
const PAD = 14
/** More values than these are drawn as a histogram. */
const MOST_MARKS = 400
const HISTOGRAM = 64
/** Places of single marks along the scale. */
const PLACES = 45

/** A step that reads well: 1, 2 or 5 times a power of ten. */
function niceStep(span: number): number {
  const raw = span / 100
  const power = 10 ** Math.floor(Math.log10(raw || 1))
  return [1, 2, 5, 10].map((n) => n * power).find((n) => n >= raw) ?? raw
}

function printer({ format, locale }: PopulationPlot): (value: number) => string {
  const isPercent = format?.startsWith('percent') === true
  const currency = /^money ([A-Z]{3})/.exec(format ?? '')?.[1]
  const number = new Intl.NumberFormat(locale, {
    notation: 'compact',
    maximumFractionDigits: 1,
    ...(isPercent && { style: 'percent', notation: 'standard' }),
    ...(currency !== undefined && { style: 'currency', currency }),
  })
  return (value) => number.format(value)
}

/** Every judged value as a mark on its scale, in its look, with the limits as handles. */
export function Plot({ plot, onMove }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const { values, classes, looks, handles, missing } = plot
  /** The handle under the pointer, where the pointer is. */
  const [dragged, setDragged] = useState<{ index: number; value: number } | null>(null)
  const isDown = useRef(false)
  useEffect(() => {
    // The text has caught up with the pointer.
    if (!isDown.current && plot.handles.length >= 0) setDragged(null)
  }, [plot])
  const resting = useRef<readonly [number, number]>([0, 1])
  const [low, high] = useMemo(() => {
    if (isDown.current) return resting.current
    const all = [...values, ...handles.map(({ value }) => value)].filter(Number.isFinite)
    if (all.length === 0) return [0, 1] as const
    const ends = [Math.min(...all), Math.max(...all)]
    const room = (ends[1] - ends[0]) * 0.04 || Math.abs(ends[0]) * 0.1 || 1
    // The scale rests while a handle is dragged, so that the handle stays under the pointer.
    resting.current = [ends[0] - room, ends[1] + room]
    return resting.current
  }, [values, handles])
  const at = (value: number): number => PAD + ((value - low) / (high - low)) * (WIDTH - 2 * PAD)
  const print = printer(plot)
  const step = niceStep(high - low)
  const colors = useMemo(() => looks.map(({ color }) => (color === null ? 'var(--hair)' : themeColor(color))), [looks])
  const colorOf = (code: number): string => colors[code] ?? 'var(--hair)'
  const isMany = values.length > MOST_MARKS
  const parts = isMany ? HISTOGRAM : PLACES
  const marks = useMemo(() => stacked(values, classes, low, high, parts), [values, classes, low, high, parts])
  const most = Math.max(1, ...marks.map(({ row }) => row + 1))
  const size = Math.min(7, (BASE - 12) / most)
  const valueAt = (x: number): number => {
    const box = svg.current?.getBoundingClientRect()
    if (box === undefined) return low
    const raw = low + (((x - box.left) / box.width) * WIDTH - PAD) * ((high - low) / (WIDTH - 2 * PAD))
    return Number((Math.round(raw / step) * step).toPrecision(12))
  }
  return (
    <figure className="plot">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing is no set of fields */}
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="group"
        aria-label={`Values of ${plot.measure} in ${plot.exhibit}`}
      >
        <line x1={PAD} x2={WIDTH - PAD} y1={BASE} y2={BASE} className="axis" />
        {marks.map(({ part, row, code, key }) => (
          <rect
            key={key}
            x={PAD + (part * (WIDTH - 2 * PAD)) / parts}
            y={BASE - (row + 1) * size}
            width={Math.max(2, (WIDTH - 2 * PAD) / parts - 0.6)}
            height={Math.max(0.8, size - 0.6)}
            fill={colorOf(code)}
            className="mark"
          />
        ))}
        {[low + (high - low) * 0.04, (low + high) / 2, high - (high - low) * 0.04].map((value) => (
          <text key={value} x={at(value)} y={BASE + 24} textAnchor="middle" className="tick">
            {print(value)}
          </text>
        ))}
        {handles.map((handle, index) => (
          <Handle
            key={`${handle.path ?? ''} ${handle.label.split(',')[0]} ${index}`}
            {...{ handle, step, low, high, print, valueAt }}
            x={at(dragged?.index === index ? dragged.value : handle.value)}
            onMove={(own, value, drag) => {
              isDown.current = drag > 0
              setDragged(drag > 0 ? { index, value } : null)
              onMove(own, value, drag)
            }}
            onRest={() => {
              isDown.current = false
            }}
          />
        ))}
      </svg>
      <figcaption>
        {missing > 0 && <span>{missing} missing</span>}
        {handles.map((handle) => (
          <span key={handle.label + String(handle.path)}>
            {handle.label}
            {handle.follows === null ? '' : ' · follows, and does not move alone'}
          </span>
        ))}
      </figcaption>
    </figure>
  )
}

interface HandleProps extends Pick<Props, 'onMove'> {
  handle: PlotHandle
  x: number
  step: number
  low: number
  high: number
  print(value: number): string
  valueAt(x: number): number
  /** The pointer is up. */
  onRest(): void
}

/** How many drags there were: the steps of one are one entry of the history. */
let drags = 0

/** A limit: dragged, or moved by arrow keys. One that follows another stays. */
function Handle({ handle, x, step, low, high, print, onMove, onRest, valueAt }: HandleProps) {
  const isFixed = handle.path === null
  return (
    <g
      role="slider"
      tabIndex={0}
      className={isFixed ? 'handle fixed' : 'handle'}
      aria-label={handle.label}
      aria-disabled={isFixed}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={handle.value}
      aria-valuetext={print(handle.value)}
      transform={`translate(${x} 0)`}
      onKeyDown={(event) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key]
        if (by === undefined || isFixed) return
        event.preventDefault()
        onMove(handle, Number((handle.value + by * step).toPrecision(12)), 0)
      }}
      onPointerDown={(event) => {
        if (isFixed) return
        drags++
        event.currentTarget.setPointerCapture(event.pointerId)
        event.currentTarget.focus()
      }}
      onPointerMove={(event) => {
        if (!isFixed && event.currentTarget.hasPointerCapture(event.pointerId))
          onMove(handle, valueAt(event.clientX), drags)
      }}
      onPointerUp={onRest}
      onPointerCancel={onRest}
    >
      <line y1={6} y2={BASE + 6} />
      <path d={`M0 ${BASE + 2}l6 10h-12z`} />
      <rect x={-9} y={0} width={18} height={BASE + 14} className="grip" />
    </g>
  )
}

interface Mark {
  key: string
  part: number
  row: number
  code: number
}

/** Values on top of each other where they fall into one part of the scale. */
function stacked(
  values: readonly number[],
  classes: readonly number[],
  low: number,
  high: number,
  parts: number,
): Mark[] {
  const heights = new Array<number>(parts).fill(0)
  return values.map((value, i) => {
    const part = Math.min(parts - 1, Math.max(0, Math.floor(((value - low) / (high - low)) * parts)))
    const row = heights[part]++
    return { key: String(i), part, row, code: classes[i] }
  })
}
