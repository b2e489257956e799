import { SIGHTS, visionMatrix } from 'acuarela/workbench'
import type { ViewAs } from './views.js'

/** Luminance by Rec. 709. */
const GREY = [0.2126, 0.7152, 0.0722]

function values(view: ViewAs): string | undefined {
  const sight = SIGHTS.find((one) => one === view)
  const rows = view === 'grey' ? [GREY, GREY, GREY] : sight === undefined ? undefined : visionMatrix(sight)
  return rows === undefined
    ? undefined
    : [...rows.map((row) => [...row, 0, 0]), [0, 0, 0, 1, 0]].map((row) => row.join(' ')).join(' ')
}

/** The colour filter of a view, which the report refers to. */
export function VisionFilter({ view }: { view: ViewAs }) {
  const matrix = values(view)
  if (matrix === undefined) return null
  return (
    <svg width="0" height="0" aria-hidden="true" className="filters">
      <filter id="seen" colorInterpolationFilters="sRGB">
        <feColorMatrix type="matrix" values={matrix} />
      </filter>
    </svg>
  )
}
