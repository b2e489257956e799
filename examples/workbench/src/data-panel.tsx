import type { ColumnView } from 'acuarela/workbench'
import type { Bench } from './bench.js'

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

/** Sources with their columns, then the named parts of the report. */
export function DataPanel({ bench: { state, edit } }: { bench: Bench }) {
  const spec = state?.draft.spec ?? {}
  const parameters = Object.entries((spec.parameters ?? {}) as Record<string, unknown>)
  const measures = Object.entries((spec.measures ?? {}) as Record<string, unknown>)
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
      <h2>Parameters</h2>
      <ul className="named">
        {parameters.map(([name, part]) => {
          const whole =
            typeof part === 'object' && part !== null ? (part as { value?: unknown; label?: string }) : { value: part }
          const { value } = whole
          return (
            <li key={name}>
              <label>
                <span>{whole.label ?? name}</span>
                <input
                  key={String(value)}
                  defaultValue={String(value)}
                  onBlur={(event) => {
                    const text = event.target.value.trim()
                    const next =
                      typeof value === 'number' && text !== '' && Number.isFinite(Number(text)) ? Number(text) : text
                    if (next !== value && text !== '')
                      void edit({ do: 'set', path: ['parameters', name, 'value'], value: next })
                  }}
                  onKeyDown={(event) => {
                    if (event.key === 'Enter') event.currentTarget.blur()
                  }}
                />
              </label>
            </li>
          )
        })}
      </ul>
      <h2>Measures</h2>
      <ul className="named">
        {measures.map(([name, part]) => {
          const whole =
            typeof part === 'object' && part !== null
              ? (part as { formula?: string; label?: string })
              : { formula: String(part) }
          return (
            <li key={name} title={whole.formula}>
              <span>{whole.label ?? name}</span> <code>{whole.formula}</code>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
