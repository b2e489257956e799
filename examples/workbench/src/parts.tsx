import type { NamedKind } from 'acuarela/edit'
import type { Looks } from 'acuarela/workbench'
import { useState } from 'react'
import type { Bench } from './bench.js'
import { Field, Form } from './form.js'
import { type Names, starting } from './names.js'
import { isMap, nodeAt, words } from './schema.js'

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
    <Form bench={bench} names={names}>
      {SECTIONS.map((section) => (
        <Named key={section.key} {...{ section, bench, names, looks }} />
      ))}
      <Others bench={bench} names={names} />
    </Form>
  )
}

function Named({ section, bench, names, looks }: Props & { section: Section }) {
  const { state, edit } = bench
  const { key, title, one, kind, asks, value: made } = section
  const [selected, setSelected] = useState<string | null>(null)
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
    <details className="section" open={key === 'parameters' || key === 'measures'}>
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
                onClick={() => setSelected(isOpen ? null : own)}
              >
                <Swatch section={key} name={own} looks={looks} />
                <span>{isMap(value) && typeof value.label === 'string' ? value.label : own}</span>
                <code>{shortOf(value)}</code>
              </button>
              {isOpen && (
                <div className="editor">
                  <Name
                    name={own}
                    onRename={(to) => void edit({ do: 'rename', kind, from: own, to }).then(() => setSelected(to))}
                  />
                  <Field node={nodeAt(at) ?? {}} value={value} path={at} label={words(one)} />
                  {key === 'statuses' && <Distances looks={looks} name={own} />}
                  <button
                    type="button"
                    onClick={() => void edit({ do: 'remove', path: at }).then(() => setSelected(null))}
                  >
                    Remove {one}
                  </button>
                </div>
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

/** A name, which every place that names it follows. */
export function Name({ name, onRename }: { name: string; onRename(to: string): void }) {
  const [text, setText] = useState(name)
  const rename = (): void => {
    const to = text.trim()
    if (to !== '' && to !== name) onRename(to)
  }
  return (
    <label className="field-line">
      <span>Name</span>
      <input
        className="field"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={rename}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
          if (event.key === 'Escape') setText(name)
        }}
      />
    </label>
  )
}

function Swatch({ section, name, looks }: { section: string; name: string; looks: Looks | null }) {
  const own =
    section === 'statuses'
      ? looks?.statuses.find((one) => one.name === name)?.fill
      : section === 'pigments'
        ? looks?.pigments.find((one) => one.name === name)?.body
        : undefined
  if (own === undefined) return null
  return <i className="swatch" style={own === null ? {} : { background: own }} aria-hidden="true" />
}

/** Below this difference two washes are hard to tell apart side by side. */
const CLOSE = 10

/** How far a status is from the one that is nearest to it, for each kind of colour vision. */
function Distances({ looks, name }: { looks: Looks | null; name: string }) {
  const nearest = looks?.statuses.find((one) => one.name === name)?.nearest
  if (nearest === undefined || nearest.normal === null) return null
  return (
    <table className="distances">
      <caption>Nearest status by its fill (CIEDE2000)</caption>
      <tbody>
        {Object.entries(nearest).map(([sight, other]) => (
          <tr key={sight} className={other !== null && other.difference < CLOSE ? 'close' : ''}>
            <th scope="row">{sight}</th>
            <td>{other?.name}</td>
            <td className="number">
              {other?.difference.toFixed(1)}
              {other !== null && other.difference < CLOSE ? ' close' : ''}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** The keys of the report that have no panel of their own. */
const OTHERS = [
  'title',
  'note',
  'period',
  'asOf',
  'since',
  'where',
  'locale',
  'calendar',
  'filters',
  'strip',
  'labels',
  'fields',
  'sources',
  'icons',
  'proof',
]

function Others({ bench, names }: Omit<Props, 'looks'>) {
  const { state, edit } = bench
  const [added, setAdded] = useState<readonly string[]>([])
  const spec = state?.draft.spec ?? {}
  const shown = OTHERS.filter((key) => spec[key] !== undefined || added.includes(key))
  const absent = OTHERS.filter((key) => !shown.includes(key))
  return (
    <details className="section">
      <summary>
        <h2>The report</h2>
      </summary>
      {shown.map((key) => (
        <Field
          key={key}
          node={nodeAt([key]) ?? {}}
          value={spec[key]}
          path={[key]}
          label={words(key)}
          isNew={spec[key] === undefined}
          onRemove={() => {
            setAdded(added.filter((one) => one !== key))
            if (spec[key] !== undefined) void edit({ do: 'unset', path: [key] })
          }}
        />
      ))}
      <select
        aria-label="Add a key to the report"
        className="add"
        value=""
        onChange={(event) => {
          const key = event.target.value
          const value = starting([key], names)
          if (value === undefined || typeof value === 'string') setAdded([...added, key])
          else void edit({ do: 'set', path: [key], value })
        }}
      >
        <option value="">Add …</option>
        {absent.map((key) => (
          <option key={key} value={key}>
            {words(key)}
          </option>
        ))}
      </select>
    </details>
  )
}
