import { Combobox, ComboboxItem, ComboboxPopover, ComboboxProvider } from '@ariakit/react'
import { useEffect, useRef, useState } from 'react'
import type { Suggestions } from './names.js'

interface Props {
  id?: string
  label?: string
  value: string
  isNew?: boolean
  suggestions: Suggestions | undefined
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

/** A text with what may stand in it: one name, or names and functions inside an expression. */
export function TextField({ id, label, value, isNew = false, suggestions, onEnter }: Props) {
  const [text, setText] = useState(value)
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
  const enter = (next: string): void => {
    const own = next.trim()
    if (own === entered.current) return
    entered.current = own
    onEnter(own)
  }
  const inside = suggestions?.inside === true
  const { word, from } = inside ? wordBefore(text) : { word: text, from: 0 }
  const isWhole = suggestions?.list.includes(text) === true
  const list =
    suggestions === undefined || (inside && word === '')
      ? []
      : suggestions.list
          .filter((one) => isWhole || one.toLowerCase().includes(word.toLowerCase()))
          .filter((one) => one !== word || !inside)
          .slice(0, MOST)
  return (
    <ComboboxProvider value={text} setValue={setText} resetValueOnHide={false}>
      <Combobox
        ref={field}
        {...(id !== undefined && { id })}
        {...(label !== undefined && { 'aria-label': label })}
        autoComplete="list"
        className="field"
        onBlur={() => enter(text)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && !event.defaultPrevented) enter(text)
          if (event.key === 'Escape') setText(value)
        }}
      />
      {list.length > 0 && (
        <ComboboxPopover gutter={4} sameWidth className="popover">
          {list.map((one) => (
            <ComboboxItem
              key={one}
              className="item"
              value={`${text.slice(0, from)}${one}`}
              selectValueOnClick
              onClick={() => {
                if (!inside) enter(one)
              }}
            >
              {one}
            </ComboboxItem>
          ))}
        </ComboboxPopover>
      )}
    </ComboboxProvider>
  )
}
