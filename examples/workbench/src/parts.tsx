import type { NamedKind } from 'acuarela/edit'
import { type Looks, themeColor } from 'acuarela/workbench'
import { lazy, Suspense, useState } from 'react'
import type { Bench } from './bench.js'
import { type Names, starting } from './names.js'
import { usePointed } from './pointed.js'
import { isMap } from './values.js'

// Forms come when a part is opened.
const PartEditor = lazy(() => import('./part-editor.js').then((part) => ({ default: part.PartEditor })))
const Others = lazy(() => import('./part-editor.js').then((part) => ({ default: part.Others })))

/** A section of the report whose entries have names. */
interface Section {
  key: string
  title: string
  /** What one entry is called. */
  one: string
  kind: NamedKind
  /** What is asked for a new entry beside its name; null for nothing. */
  asks: string | null
  value(text: string, names: Names): unknown
}

const number = (text: string): unknown => (text !== '' && Number.isFinite(Number(text)) ? Number(text) : text)

const SECTIONS: readonly Section[] = [
  {
    key: 'parameters',
    title: 'Parameters',
    one: 'parameter',
    kind: 'parameter',
    asks: 'Value',
    value: (text) => ({ value: number(text) }),
  },
  { key: 'measures', title: 'Measures', one: 'measure', kind: 'measure', asks: 'Formula', value: (text) => text },
  {
    key: 'statuses',
    title: 'Statuses',
    one: 'status',
    kind: 'status',
    asks: 'Pigment',
    value: (text) => (text === '' ? { weight: 'bold' } : { wash: text }),
  },
  { key: 'pigments', title: 'Pigments', one: 'pigment', kind: 'pigment', asks: 'Colour', value: (text) => text },
]

interface Props {
  bench: Bench
  names: Names
  looks: Looks | null
}

/** The named parts of the report, each with its form, and the parts that there is one of. */
export function Parts({ bench, names, looks }: Props) {
  return (
    <>
      {SECTIONS.map((section) => (
        <Named key={section.key} {...{ section, bench, names, looks }} />
      ))}
      <TheReport bench={bench} names={names} />
    </>
  )
}

function Named({ section, bench, names, looks }: Props & { section: Section }) {
  const { state, edit } = bench
  const { key, title, one, kind, asks, value: made } = section
  const [selected, setSelected] = useState<string | null>(null)
  const [isShown, setShown] = useState(key === 'parameters' || key === 'measures')
  const point = usePointed<string>(key, (part) => {
    setShown(true)
    setSelected(part)
  })
  const [name, setName] = useState('')
  const [text, setText] = useState('')
  const spec = state?.draft.spec[key]
  const entries = Object.entries(isMap(spec) ? spec : {})
  const add = (): void => {
    const own = name.trim()
    if (own === '' || entries.some(([other]) => other === own)) return
    const value = made(text.trim(), names)
    void edit({ do: 'set', path: [key, own], value: value === '' ? starting([key, own], names) : value }).then(() => {
      setName('')
      setText('')
      setSelected(own)
    })
  }
  return (
    <details className="section" open={isShown} onToggle={(event) => setShown(event.currentTarget.open)}>
      <summary>
        <h2>{title}</h2> <small>{entries.length}</small>
      </summary>
      <ul className="named">
        {entries.map(([own, value]) => {
          const isOpen = selected === own
          const at = [key, own]
          return (
            <li key={own}>
              <button
                type="button"
                className="name"
                data-part={`${key}.${own}`}
                aria-expanded={isOpen}
                onClick={() => {
                  setSelected(isOpen ? null : own)
                  if (!isOpen) point(own)
                }}
              >
                <Swatch section={key} name={own} looks={looks} />
                <span>{isMap(value) && typeof value.label === 'string' ? value.label : own}</span>
                <code>{shortOf(value)}</code>
              </button>
              {isOpen && (
                <Suspense fallback={null}>
                  <PartEditor {...{ bench, names, looks, kind, one, value }} path={at} onName={setSelected} />
                </Suspense>
              )}
            </li>
          )
        })}
      </ul>
      <div className="new">
        <input
          aria-label={`Name of a new ${one}`}
          placeholder="name"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        {asks !== null && (
          <input
            aria-label={`${asks} of a new ${one}`}
            placeholder={asks.toLowerCase()}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') add()
            }}
          />
        )}
        <button type="button" onClick={add}>
          Add {one}
        </button>
      </div>
    </details>
  )
}

/** A value in short, as a line beside its name. */
function shortOf(value: unknown): string {
  if (!isMap(value)) return String(value ?? '')
  const main = value.formula ?? value.value ?? value.wash ?? value.fill ?? value.icon ?? ''
  return typeof main === 'object' ? '' : String(main)
}

function Swatch({ section, name, looks }: { section: string; name: string; looks: Looks | null }) {
  const own =
    section === 'statuses'
      ? looks?.statuses.find((one) => one.name === name)?.fill
      : section === 'pigments'
        ? looks?.pigments.find((one) => one.name === name)?.body
        : undefined
  if (own === undefined) return null
  return <i className="swatch" style={own === null ? {} : { background: themeColor(own) }} aria-hidden="true" />
}

/** The keys of the report that there is one of each. */
function TheReport({ bench, names }: Omit<Props, 'looks'>) {
  const [isOpen, setOpen] = useState(false)
  return (
    <details className="section" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>
        <h2>The report</h2>
      </summary>
      {isOpen && (
        <Suspense fallback={null}>
          <Others bench={bench} names={names} />
        </Suspense>
      )}
    </details>
  )
}
