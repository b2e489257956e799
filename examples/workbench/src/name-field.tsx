import { useState } from 'react'

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
