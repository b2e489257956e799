import { useEffect, useState } from 'react'
import { starting } from './names.js'
import { PickMenu } from './pick-menu.js'
import { branches, branchName, branchOf, converted, type Node, type Path, words } from './schema.js'
import { type FieldProps, PendingItem, SingleField, useForm, usePending } from './single-field.js'
import { isMap } from './values.js'

/** A part of the report by its schema: a text, a choice, a list, or keys with parts of their own. */
export function Field(props: FieldProps) {
  const { node, value, path, label, onRemove } = props
  const { edit, names } = useForm()
  const all = branches(node)
  const [wanted, setWanted] = useState<Node | null>(null)
  const branch = value === undefined && wanted !== null ? wanted : branchOf(node, value)
  const isSingle =
    branch.properties === undefined && branch.items === undefined && branch.additionalProperties === undefined
  const forms = all.filter((one, i) => all.findIndex((other) => branchName(other) === branchName(one)) === i)
  const tools = (
    <>
      {forms.length > 1 && (
        <select
          aria-label={`${label}: form`}
          className="quiet"
          value={branchName(branch)}
          onChange={(event) => {
            const next = forms.find((one) => branchName(one) === event.target.value) ?? branch
            setWanted(next)
            const to = converted(value, next, starting(path, names))
            if (to !== undefined) void edit({ do: 'set', path: [...path], value: to })
          }}
        >
          {forms.map((one) => (
            <option key={branchName(one)}>{branchName(one)}</option>
          ))}
        </select>
      )}
      {onRemove !== undefined && (
        <button type="button" className="remove" aria-label={`Remove ${label}`} onClick={onRemove}>
          ×
        </button>
      )}
    </>
  )
  if (isSingle)
    return (
      <div className="row" data-path={JSON.stringify(path)}>
        <SingleField {...props} node={branch} />
        {tools}
      </div>
    )
  return (
    <fieldset className="part" data-path={JSON.stringify(path)}>
      <legend title={node.description}>
        {label} {tools}
      </legend>
      {branch.items !== undefined ? (
        <List {...props} node={branch} item={branch.items} />
      ) : branch.properties !== undefined ? (
        <Keys {...props} node={branch} />
      ) : (
        <MapOf {...props} node={branch} />
      )}
    </fieldset>
  )
}

/** A list: its items in order, each removed or moved. */
function List({ item, value, path, label }: FieldProps & { item: Node }) {
  const { edit, names } = useForm()
  const items = Array.isArray(value) ? (value as readonly unknown[]) : []
  const [pending, setPending] = useState(false)
  useEffect(() => {
    if (items.length >= 0) setPending(false)
  }, [items.length])
  const add = (): void => {
    const next = starting([...path, items.length], names)
    const isText = branches(item).every((one) => one.properties === undefined)
    if (isText || next === undefined) setPending(true)
    else if (items.length === 0) void edit({ do: 'set', path: [...path], value: [next] })
    else void edit({ do: 'insert', path: [...path], value: next })
  }
  const name = (i: number): string => `${label} ${i + 1}`
  return (
    <>
      <ol className="items">
        {items.map((one, i) => (
          <li key={String(i)}>
            <Field
              node={item}
              value={one}
              path={[...path, i]}
              label={name(i)}
              onRemove={() => void edit({ do: 'remove', path: [...path, i] })}
            />
            {items.length > 1 && (
              <span className="order">
                <button
                  type="button"
                  className="quiet"
                  disabled={i === 0}
                  aria-label={`${name(i)} up`}
                  onClick={() => void edit({ do: 'move', path: [...path, i], to: i - 1 })}
                >
                  ↑
                </button>
                <button
                  type="button"
                  className="quiet"
                  disabled={i === items.length - 1}
                  aria-label={`${name(i)} down`}
                  onClick={() => void edit({ do: 'move', path: [...path, i], to: i + 1 })}
                >
                  ↓
                </button>
              </span>
            )}
          </li>
        ))}
      </ol>
      {pending ? (
        <div className="row">
          <PendingItem {...{ item, label, path, count: items.length }} onDone={() => setPending(false)} />
        </div>
      ) : (
        <button type="button" className="add" onClick={add}>
          Add to {label}
        </button>
      )}
    </>
  )
}

/** Keys with their parts, and those that can be added. */
function Keys({ node, value, path, label }: FieldProps) {
  const { edit, names } = useForm()
  const own = isMap(value) ? value : {}
  const [pending, addPending, dropPending] = usePending(own)
  const all = Object.entries(node.properties ?? {})
  // The name of a rule or exhibit has a field that renames it wherever it is named.
  const isNamed = path.length === 2 && typeof path[1] === 'number' && own.name !== undefined
  const shown = all.filter(
    ([key]) => (Object.hasOwn(own, key) || pending.includes(key)) && !(isNamed && key === 'name'),
  )
  const absent = all.filter(([key]) => !Object.hasOwn(own, key) && !pending.includes(key) && !isElsewhere(path, key))
  const add = (key: string): void => {
    const part = node.properties?.[key]
    if (part === undefined) return
    const at = [...path, key]
    const [first] = branches(part)
    const isWhole = branches(part).every((one) => one.properties !== undefined || one.items?.properties !== undefined)
    const value =
      first.type === 'boolean' && branches(part).length === 1
        ? true
        : (branches(part).find((one) => one.const !== undefined && branches(part).length === 1)?.const ??
          (isWhole ? starting(at, names) : undefined))
    if (value === undefined) addPending(key)
    else void edit({ do: 'set', path: at, value })
  }
  return (
    <>
      {shown.map(([key, part]) =>
        isElsewhere(path, key) ? null : (
          <Field
            key={key}
            node={part}
            value={own[key]}
            path={[...path, key]}
            label={words(key)}
            isNew={own[key] === undefined}
            onRemove={
              node.required?.includes(key)
                ? undefined
                : () => {
                    dropPending(key)
                    if (own[key] !== undefined) void edit({ do: 'unset', path: [...path, key] })
                  }
            }
          />
        ),
      )}
      {absent.length > 0 && (
        <PickMenu
          label={`Add a key to ${label}`}
          className="add"
          picks={absent.map(([key, { description }]) => ({ value: key, text: words(key), hint: description }))}
          onPick={add}
        >
          Add …
        </PickMenu>
      )}
    </>
  )
}

/** Keys that have a place of their own beside the form. */
function isElsewhere(path: Path, key: string): boolean {
  return path.length === 2 && path[0] === 'rules' && key === 'paused'
}

/** Entries by names of one's own. */
function MapOf({ node, value, path, label }: FieldProps) {
  const { edit, names } = useForm()
  const own = isMap(value) ? value : {}
  const entry = typeof node.additionalProperties === 'object' ? node.additionalProperties : {}
  const [name, setName] = useState('')
  const [pending, addPending, dropPending] = usePending(own)
  const add = (): void => {
    const key = name.trim()
    if (key === '' || Object.hasOwn(own, key) || pending.includes(key)) return
    const first = starting([...path, key], names)
    setName('')
    if (first !== undefined && branches(entry).every((one) => one.properties !== undefined))
      void edit({ do: 'set', path: [...path, key], value: first })
    else addPending(key)
  }
  return (
    <>
      {Object.entries(own).map(([key, one]) => (
        <Field
          key={key}
          node={entry}
          value={one}
          path={[...path, key]}
          label={key}
          onRemove={() => void edit({ do: 'remove', path: [...path, key] })}
        />
      ))}
      {pending.map((key) => (
        <Field
          key={key}
          node={entry}
          value={undefined}
          path={[...path, key]}
          label={key}
          isNew
          onRemove={() => dropPending(key)}
        />
      ))}
      <div className="row">
        <label className="field-line">
          <span>New name in {label}</span>
          <input
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') add()
            }}
          />
        </label>
        <button type="button" className="add" onClick={add}>
          Add
        </button>
      </div>
    </>
  )
}
