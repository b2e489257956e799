import { useContext } from 'react'
import type { Bench } from './bench.js'
import { PointedContext } from './pointed.js'
import { TextEditor } from './text-editor.js'

/** The file itself, edited beside the page. */
export function FilePanel({ bench: { state, write } }: { bench: Bench }) {
  const { pointed, point } = useContext(PointedContext)
  return (
    <section aria-label="File" className="file">
      <TextEditor
        text={state?.draft.text ?? ''}
        problems={state?.problems ?? []}
        pointed={pointed}
        onPoint={(path) => point(path.length === 2 ? { path, from: 'text' } : null)}
        onWrite={write}
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
