import { Combobox, ComboboxItem, ComboboxList, ComboboxProvider } from '@ariakit/react'
import { memo, useCallback, useDeferredValue, useEffect, useRef, useState } from 'react'
import { useHoldWhile } from './layout-shift.js'
import type { Suggestions } from './names.js'

interface Props {
  id?: string
  label?: string
  value: string
  isNew?: boolean
  suggestions: Suggestions | undefined
  /** The text as it is typed; `isListed` tells whether the list is open by now. */
  onType?(text: string, isListed: () => boolean): void
  /** The text is entered: by Enter, by leaving the field, or by choosing what is suggested. */
  onEnter(text: string): void
}

/** The most that are listed. */
const MOST = 10

/** The word before the cursor, and where it begins. */
function wordBefore(text: string): { word: string; from: number } {
  const word = /[\p{L}_][\p{L}\p{N}_]*$/u.exec(text)?.[0] ?? ''
  return { word, from: text.length - word.length }
}

/** What may stand at the end of a text. */
function suggested(text: string, { list, inside }: Suggestions): { before: string; list: readonly string[] } {
  const { word, from } = inside ? wordBefore(text) : { word: text, from: 0 }
  if (inside && word === '') return { before: '', list: [] }
  const isWhole = list.includes(text)
  const found = list
    .filter((one) => isWhole || one.toLowerCase().includes(word.toLowerCase()))
    .filter((one) => one !== word || !inside)
  return { before: text.slice(0, from), list: found.slice(0, MOST) }
}

/** The list under a field. */
const Suggested = memo(function Suggested({
  text,
  suggestions,
  onEnter,
}: Pick<Props, 'suggestions' | 'onEnter'> & { text: string }) {
  const { before, list } = suggestions === undefined ? { before: '', list: [] } : suggested(text, suggestions)
  if (list.length === 0) return null
  return (
    // A press on it takes no focus from the field.
    <ComboboxList className="popover below" onMouseDown={(event) => event.preventDefault()}>
      {list.map((one) => (
        <ComboboxItem
          key={one}
          className="item"
          value={`${before}${one}`}
          selectValueOnClick
          onClick={() => {
            if (suggestions?.inside !== true) onEnter(one)
          }}
        >
          {one}
        </ComboboxItem>
      ))}
    </ComboboxList>
  )
})

/** A text with what may stand in it: one name, or names and functions inside an expression. */
export function TextField({ id, label, value, isNew = false, suggestions, onType, onEnter }: Props) {
  const [text, setText] = useState(value)
  const [isOpen, setOpen] = useState(false)
  const [isFocused, setFocused] = useState(false)
  useHoldWhile(isOpen && suggestions !== undefined)
  const field = useRef<HTMLInputElement>(null)
  /** Leaving the field enters what differs from here. */
  const entered = useRef(value)
  useEffect(() => {
    setText(value)
    entered.current = value
  }, [value])
  useEffect(() => {
    if (isNew) field.current?.focus()
  }, [isNew])
  const listbox = (): Element | null | undefined =>
    field.current?.parentElement?.querySelector('[role=listbox]:not([hidden])')
  const change = (next: string): void => {
    setText(next)
    onType?.(next, () => listbox() != null)
  }
  const enter = (next: string): void => {
    const own = next.trim()
    if (own === entered.current) return
    entered.current = own
    onEnter(own)
  }
  // The list follows when there is time: it holds up no typing.
  const typed = useDeferredValue(text)
  useEffect(() => {
    // The list scrolls with the form: below the edge nobody would see it.
    if (isOpen) listbox()?.scrollIntoView({ block: 'nearest' })
  }, [isOpen, typed])
  const last = useRef(enter)
  last.current = enter
  const chosen = useCallback((one: string) => last.current(one), [])
  return (
    <ComboboxProvider value={text} setValue={change} open={isOpen} setOpen={setOpen} resetValueOnHide={false}>
      <div className="box">
        <Combobox
          ref={field}
          {...(id !== undefined && { id })}
          {...(label !== undefined && { 'aria-label': label })}
          autoComplete="list"
          className="field"
          onFocus={() => setFocused(true)}
          onBlur={() => {
            setFocused(false)
            setOpen(false)
            enter(text)
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && !event.defaultPrevented) {
              setOpen(false)
              enter(text)
            }
            if (event.key === 'Escape') change(value)
          }}
        />
        {/* A form has many fields, and each edit would render the closed lists of all of them. */}
        {isFocused && <Suggested text={typed} suggestions={suggestions} onEnter={chosen} />}
      </div>
    </ComboboxProvider>
  )
}
