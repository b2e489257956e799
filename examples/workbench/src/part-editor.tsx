import type { NamedKind } from 'acuarela/edit'
import type { Looks } from 'acuarela/workbench'
import type { Bench } from './bench.js'
import { Field } from './form.js'
import { Name } from './name-field.js'
import { type Names, starting } from './names.js'
import { PickMenu } from './pick-menu.js'
import { nodeAt, type Path, words } from './schema.js'
import { Form, usePending } from './single-field.js'

interface Props {
  bench: Bench
  names: Names
  looks: Looks | null
  kind: NamedKind
  /** What the part is called. */
  one: string
  value: unknown
  path: Path
  /** The part has another name now; null: it is gone. */
  onName(name: string | null): void
}

/** A named part of the report: its name, its form, and what takes it away. */
export function PartEditor({ bench, names, looks, kind, one, value, path, onName }: Props) {
  const { edit } = bench
  const name = String(path[1])
  return (
    <Form bench={bench} names={names}>
      <div className="editor">
        <Name name={name} onRename={(to) => void edit({ do: 'rename', kind, from: name, to }).then(() => onName(to))} />
        <Field node={nodeAt(path) ?? {}} value={value} path={path} label={words(one)} />
        {kind === 'status' && <Distances looks={looks} name={name} />}
        <button type="button" onClick={() => void edit({ do: 'remove', path: [...path] }).then(() => onName(null))}>
          Remove {one}
        </button>
      </div>
    </Form>
  )
}

/** Below this difference two washes are hard to tell apart side by side. */
const CLOSE = 10

/** How far a status is from the one that is nearest to it, for each kind of colour vision. */
function Distances({ looks, name }: { looks: Looks | null; name: string }) {
  const nearest = looks?.statuses.find((one) => one.name === name)?.nearest
  if (nearest === undefined || nearest.normal === null) return null
  return (
    <table className="distances">
      <caption>The nearest fill of another status; below {CLOSE} they are hard to tell apart (CIEDE2000)</caption>
      <tbody>
        {Object.entries(nearest).map(([sight, other]) => (
          <tr key={sight} className={other !== null && other.difference < CLOSE ? 'close' : ''}>
            <th scope="row">{sight}</th>
            <td>{looks?.statuses.find((one) => one.name === other?.name)?.label}</td>
            <td
              className="number"
              title={other !== null && other.difference < CLOSE ? 'hard to tell apart' : undefined}
            >
              {other?.difference.toFixed(1)}
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

/** The keys of the report that there is one of each, and those that can be added. */
export function Others({ bench, names }: { bench: Bench; names: Names }) {
  const { state, edit } = bench
  const spec = state?.draft.spec ?? {}
  const [added, add, drop] = usePending(spec)
  const shown = OTHERS.filter((key) => spec[key] !== undefined || added.includes(key))
  const absent = OTHERS.filter((key) => !shown.includes(key))
  return (
    <Form bench={bench} names={names}>
      {shown.map((key) => (
        <Field
          key={key}
          node={nodeAt([key]) ?? {}}
          value={spec[key]}
          path={[key]}
          label={words(key)}
          isNew={spec[key] === undefined}
          onRemove={() => {
            drop(key)
            if (spec[key] !== undefined) void edit({ do: 'unset', path: [key] })
          }}
        />
      ))}
      <PickMenu
        label="Add a key to the report"
        className="add"
        picks={absent.map((key) => ({ value: key, text: words(key), hint: nodeAt([key])?.description }))}
        onPick={(key) => {
          const value = starting([key], names)
          if (value === undefined || typeof value === 'string') add(key)
          else void edit({ do: 'set', path: [key], value })
        }}
      >
        Add …
      </PickMenu>
    </Form>
  )
}
