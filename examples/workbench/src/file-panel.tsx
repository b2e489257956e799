import { lazy, Suspense, useContext } from 'react'
import type { Bench } from './bench.js'
import { PointedContext } from './pointed.js'

// The editor comes when the text is wanted.
const TextEditor = lazy(async () => ({ default: (await import('./text-editor.js')).TextEditor }))

/** The file itself, edited beside the page. */
export function FilePanel({ bench: { state, write } }: { bench: Bench }) {
  const { pointed, point } = useContext(PointedContext)
  return (
    <section aria-label="File" className="file">
      <Suspense fallback={<div className="text waiting" />}>
        <TextEditor
          text={state?.draft.text ?? ''}
          problems={state?.problems ?? []}
          pointed={pointed}
          onPoint={(path) => point(path.length === 2 ? { path, from: 'text' } : null)}
          onWrite={write}
        />
      </Suspense>
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
