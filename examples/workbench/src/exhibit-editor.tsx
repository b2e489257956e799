import type { Bench } from './bench.js'
import { Field } from './form.js'
import { Name } from './name-field.js'
import type { Names } from './names.js'
import { nodeAt } from './schema.js'
import { Form } from './single-field.js'

interface Props {
  bench: Bench
  names: Names
  index: number
  exhibit: Readonly<Record<string, unknown>>
  /** The index of the last exhibit. */
  last: number
  onMove(to: number): void
  onGone(): void
}

/** An exhibit: its name, its form, its place on the page. */
export function ExhibitEditor({ bench, names, index, exhibit, last, onMove, onGone }: Props) {
  const { edit } = bench
  const { name } = exhibit
  return (
    <Form bench={bench} names={names}>
      <div className="editor">
        {typeof name === 'string' && (
          <Name name={name} onRename={(to) => void edit({ do: 'rename', kind: 'exhibit', from: name, to })} />
        )}
        <Field node={nodeAt(['exhibits', index]) ?? {}} value={exhibit} path={['exhibits', index]} label="Exhibit" />
        <div className="acts">
          <button type="button" disabled={index === 0} onClick={() => onMove(index - 1)}>
            Up
          </button>
          <button type="button" disabled={index === last} onClick={() => onMove(index + 1)}>
            Down
          </button>
          <button type="button" onClick={() => void edit({ do: 'remove', path: ['exhibits', index] }).then(onGone)}>
            Remove exhibit
          </button>
        </div>
      </div>
    </Form>
  )
}
