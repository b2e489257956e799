import type { Edit, Problem } from 'acuarela/edit'
import { createContext, type ReactNode, useContext, useEffect, useId, useRef, useState } from 'react'
import type { Bench } from './bench.js'
import { FieldProblem, useTrial } from './field-problem.js'
import { type Names, suggestions } from './names.js'
import { PickMenu } from './pick-menu.js'
import { branches, type Node, type Path } from './schema.js'
import { TextField } from './text-field.js'

/** What the fields of a form share. */
export interface FormContext {
  edit(edit: Edit): Promise<void>
  names: Names
  /** The problem of a place. */
  problemAt(path: Path): Problem | undefined
}

const Context = createContext<FormContext | null>(null)

export function useForm(): FormContext {
  const context = useContext(Context)
  if (context === null) throw new Error('a field needs a form around it')
  return context
}

/** A form over a part of the report. */
export function Form({ bench, names, children }: { bench: Bench; names: Names; children: ReactNode }) {
  const { state, edit } = bench
  const problemAt = (path: Path): Problem | undefined => {
    const at = JSON.stringify(path)
    return (state?.problems ?? []).find(({ place }) => JSON.stringify(place.path ?? null) === at)
  }
  return <Context.Provider value={{ edit, names, problemAt }}>{children}</Context.Provider>
}

export interface FieldProps {
  node: Node
  value: unknown
  path: Path
  label: string
  /** Takes the part away; left out for what is always there. */
  onRemove?: (() => void) | undefined
  /** It was just added: it gets the focus. */
  isNew?: boolean
}

/** Keys that were added and have no value yet, and what adds one to them or takes it out. */
export function usePending(
  own: Readonly<Record<string, unknown>>,
): [pending: readonly string[], add: (key: string) => void, drop: (key: string) => void] {
  const [all, setAll] = useState<readonly string[]>([])
  const pending = all.filter((key) => !Object.hasOwn(own, key))
  useEffect(() => {
    // One that has a value by now is not added again when that is undone.
    if (pending.length < all.length) setAll(pending)
  })
  return [pending, (key) => setAll([...pending, key]), (key) => setAll(pending.filter((one) => one !== key))]
}

/** A single value: typed, chosen or ticked. */
export function SingleField({ node, value, path, label, isNew = false }: FieldProps) {
  const { edit, names, problemAt } = useForm()
  const id = useId()
  const field = useRef<HTMLSelectElement & HTMLInputElement>(null)
  const trial = useTrial(value)
  useEffect(() => {
    if (isNew) field.current?.focus()
  }, [isNew])
  const set = (next: unknown): void => void edit({ do: 'set', path: [...path], value: next })
  const choices = node.enum ?? (node.const === undefined ? undefined : [node.const])
  if (node.type === 'boolean')
    return (
      <label className="tick" title={node.description}>
        <input ref={field} type="checkbox" checked={value === true} onChange={(event) => set(event.target.checked)} />{' '}
        {label}
      </label>
    )
  if (choices !== undefined)
    return (
      <label className="field-line" title={node.description}>
        <span>{label}</span>
        <select
          ref={field}
          value={value === undefined ? '' : String(value)}
          onChange={(event) => set(event.target.value)}
        >
          {value === undefined && <option value="">–</option>}
          {choices.map((choice) => (
            <option key={String(choice)}>{String(choice)}</option>
          ))}
        </select>
      </label>
    )
  const types = typeof node.type === 'string' ? [node.type] : (node.type ?? ['string'])
  const isNumber = types.includes('number') || types.includes('integer')
  const problem = problemAt(path)
  const suggested = suggestions(path, names)
  return (
    <div className="field-line" title={node.description}>
      <label htmlFor={id}>{label}</label>
      <TextField
        id={id}
        value={value === undefined ? '' : String(value)}
        isNew={isNew}
        suggestions={suggested}
        onType={(text, isListed) => {
          if (suggested?.inside !== true) return
          const own = text.trim()
          const isSame = own === '' || own === String(value ?? '')
          trial.tryOut(own, isSame ? undefined : { do: 'set', path: [...path], value: own }, isListed)
        }}
        onEnter={(text) => {
          trial.stop()
          if (text === '') return
          const number = Number(text.replaceAll(/(?<=\d)[, ](?=\d{3}\b)/g, ''))
          const isTrue = types.includes('boolean') && /^(true|false)$/.test(text)
          set(isTrue ? text === 'true' : isNumber && Number.isFinite(number) ? number : text)
        }}
      />
      {trial.problem !== undefined && <FieldProblem problem={trial.problem} isEntered={false} />}
      {trial.problem === undefined && problem !== undefined && <FieldProblem problem={problem} isEntered />}
    </div>
  )
}

/** An item that is typed before it is part of the list. */
export function PendingItem({
  item,
  label,
  path,
  count,
  onDone,
}: {
  item: Node
  label: string
  path: Path
  count: number
  onDone(): void
}) {
  const { edit, names } = useForm()
  const enter = (value: unknown): void => {
    onDone()
    void edit(count === 0 ? { do: 'set', path: [...path], value: [value] } : { do: 'insert', path: [...path], value })
  }
  const choices = branches(item).flatMap((one) => one.enum ?? [])
  const isNumber = branches(item).some(({ type }) => type !== undefined && [type].flat().includes('number'))
  const name = `${label} ${count + 1}`
  if (choices.length > 0)
    return (
      <div className="field-line">
        <span>{name}</span>
        <PickMenu label={name} isNew picks={choices.map((choice) => ({ value: String(choice) }))} onPick={enter}>
          choose …
        </PickMenu>
      </div>
    )
  return (
    <div className="field-line">
      <span>{name}</span>
      <TextField
        label={name}
        value=""
        isNew
        suggestions={suggestions([...path, count], names)}
        onEnter={(text) => {
          if (text === '') onDone()
          else enter(isNumber && Number.isFinite(Number(text)) ? Number(text) : text)
        }}
      />
    </div>
  )
}
