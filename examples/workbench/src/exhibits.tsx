import { lazy, Suspense, useState } from 'react'
import type { Bench } from './bench.js'
import { type Names, starting } from './names.js'
import { usePointed } from './pointed.js'
import { isMap } from './values.js'

// The form comes when an exhibit is opened.
const ExhibitEditor = lazy(() => import('./exhibit-editor.js').then((part) => ({ default: part.ExhibitEditor })))

/** The kinds of exhibits, with what readers call them. */
const KINDS = ['table', 'heatmap', 'chart', 'cards', 'list', 'records', 'moves', 'reading'] as const

function kindOf(exhibit: unknown): string {
  return KINDS.find((kind) => isMap(exhibit) && exhibit[kind] !== undefined) ?? 'exhibit'
}

/** What is on the page, in its order: added, ordered by drag or keys, edited by a form. */
export function Exhibits({ bench, names }: { bench: Bench; names: Names }) {
  const { state, edit } = bench
  const [selected, setSelected] = useState<number | null>(null)
  const point = usePointed<number>('exhibits', setSelected)
  const [dragged, setDragged] = useState<number | null>(null)
  const all = Array.isArray(state?.draft.spec.exhibits) ? (state.draft.spec.exhibits as readonly unknown[]) : []
  const move = (from: number, to: number): void => {
    if (to < 0 || to >= all.length || from === to) return
    void edit({ do: 'move', path: ['exhibits', from], to }).then(() => setSelected(to))
  }
  const add = (kind: string): void => {
    const value = starting(['exhibits', all.length, kind], names) ?? {}
    const reading = { of: names.measures[0] ?? '', by: names.keys[0] ?? '' }
    const own = { [kind]: kind === 'reading' ? reading : kind === 'moves' ? {} : value }
    const edits =
      all.length === 0
        ? { do: 'set', path: ['exhibits'], value: [own] }
        : { do: 'insert', path: ['exhibits'], value: own }
    void edit(edits as Parameters<Bench['edit']>[0]).then(() => setSelected(all.length))
  }
  return (
    <details className="section" open>
      <summary>
        <h2>Exhibits</h2> <small>{all.length}</small>
      </summary>
      <ol className="named">
        {all.map((exhibit, i) => {
          const isOpen = selected === i
          const own = isMap(exhibit) ? exhibit : {}
          const title = String(own.title ?? own.name ?? kindOf(exhibit))
          return (
            <li
              key={String(i)}
              draggable
              className={dragged === i ? 'dragged' : ''}
              onDragStart={() => setDragged(i)}
              onDragOver={(event) => {
                if (dragged !== null) event.preventDefault()
              }}
              onDrop={(event) => {
                if (dragged === null) return
                event.preventDefault()
                event.stopPropagation()
                move(dragged, i)
                setDragged(null)
              }}
              onDragEnd={() => setDragged(null)}
            >
              <button
                type="button"
                className="name"
                data-part={`exhibits.${i}`}
                aria-expanded={isOpen}
                onClick={() => {
                  setSelected(isOpen ? null : i)
                  if (!isOpen) point(i)
                }}
                onKeyDown={(event) => {
                  if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
                  event.preventDefault()
                  move(i, event.key === 'ArrowUp' ? i - 1 : i + 1)
                }}
              >
                <span>{title}</span> <code>{kindOf(exhibit)}</code>
              </button>
              {isOpen && (
                <Suspense fallback={null}>
                  <ExhibitEditor
                    {...{ bench, names, index: i, exhibit: own, last: all.length - 1 }}
                    onMove={(to) => move(i, to)}
                    onGone={() => setSelected(null)}
                  />
                </Suspense>
              )}
            </li>
          )
        })}
      </ol>
      <AddMenu label="Add exhibit" choices={KINDS} onAdd={add} />
    </details>
  )
}

/** A button that asks which kind, then adds it. */
export function AddMenu({
  label,
  choices,
  onAdd,
}: {
  label: string
  choices: readonly string[]
  onAdd(kind: string): void
}) {
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="menu">
      <button type="button" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {label}
      </button>
      {isOpen && (
        <fieldset aria-label={`${label}: kind`} className="acts">
          {choices.map((kind) => (
            <button
              key={kind}
              type="button"
              onClick={() => {
                setOpen(false)
                onAdd(kind)
              }}
            >
              {kind}
            </button>
          ))}
        </fieldset>
      )}
    </div>
  )
}
