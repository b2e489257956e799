import { useEffect, useState } from 'react'
import type { Bench } from './bench.js'

/** The file itself, edited beside the page. */
export function FilePanel({ bench: { state, write } }: { bench: Bench }) {
  const text = state?.draft.text ?? ''
  const [typed, setTyped] = useState(text)
  useEffect(() => setTyped(text), [text])
  useEffect(() => {
    if (typed === text) return
    const wait = setTimeout(() => void write(typed), 250)
    return () => clearTimeout(wait)
  }, [typed, text, write])
  return (
    <section aria-label="File" className="file">
      <textarea
        aria-label="Text of the file"
        value={typed}
        spellCheck={false}
        onChange={(event) => setTyped(event.target.value)}
      />
      <ul className="problems">
        {state?.problems.map((problem) => (
          <li key={`${problem.place.line} ${problem.message}`}>
            {problem.place.line === undefined ? '' : `line ${problem.place.line}: `}
            {problem.message}
          </li>
        ))}
      </ul>
    </section>
  )
}
