import type { ColumnView, Looks } from 'acuarela/workbench'
import { lazy, memo, Suspense } from 'react'
import type { Bench } from './bench.js'
import type { Names } from './names.js'

const TYPES = { number: '123', text: 'abc', date: 'day', condition: 'y/n' } as const

/** The distribution of a column, as small bars. */
function Shape({ shape }: Pick<ColumnView, 'shape'>) {
  const most = Math.max(1, ...shape)
  const width = 48 / Math.max(1, shape.length)
  return (
    <svg width="48" height="14" aria-hidden="true" className="shape">
      {shape.map((count, i) => {
        const height = Math.max(count > 0 ? 1 : 0, (count / most) * 13)
        return <rect key={i} x={i * width} y={14 - height} width={Math.max(0.5, width - 0.6)} height={height} />
      })}
    </svg>
  )
}

// Forms come after the first page.
const Parts = lazy(() => import('./parts.js').then((part) => ({ default: part.Parts })))
const Exhibits = lazy(() => import('./exhibits.js').then((part) => ({ default: part.Exhibits })))

interface Props {
  bench: Bench
  names: Names
  looks: Looks | null
}

/** Sources with their columns, then the parts of the report. */
export const DataPanel = memo(function DataPanel({ bench, names, looks }: Props) {
  const { state } = bench
  return (
    <section className="data" aria-label="Data">
      <h2>Data</h2>
      {state?.sources.map(({ name, rows, columns }, i) => (
        <details key={name} open={i === 0}>
          <summary>
            {name} <small>{rows.toLocaleString('en')} rows</small>
          </summary>
          <ul className="columns">
            {columns.map((column) => (
              <li key={column.name}>
                <span className="type">{TYPES[column.type]}</span>
                <span className="name" title={column.name}>
                  {column.name}
                </span>
                <Shape shape={column.shape} />
                <small>{column.missing > 0 ? `${column.missing.toLocaleString('en')} missing` : ''}</small>
              </li>
            ))}
          </ul>
        </details>
      ))}
      {state !== null && (
        <Suspense fallback={null}>
          <Parts bench={bench} names={names} looks={looks} />
          <Exhibits bench={bench} names={names} />
        </Suspense>
      )}
    </section>
  )
})
