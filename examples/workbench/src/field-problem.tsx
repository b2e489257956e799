import type { Edit, Problem } from 'acuarela/edit'
import { useEffect, useRef, useState } from 'react'
import { calls } from './bench.js'

/** A text that is typed rests for so long before it is tried, in milliseconds. */
const TRY_MS = 400

/** So many characters of a text are shown around its problem, and so many of them before it. */
const SHOWN = 28
const BEFORE = 16

/** The problem of a text while it is typed, before it is entered. */
export function useTrial(): { trial: Problem | undefined; tryOut(text: string, edit: Edit | undefined): void } {
  const [trial, setTrial] = useState<Problem | undefined>(undefined)
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined)
  const turn = useRef(0)
  const tryOut = (text: string, edit: Edit | undefined): void => {
    clearTimeout(wait.current)
    const own = ++turn.current
    if (edit === undefined) {
      setTrial(undefined)
      return
    }
    wait.current = setTimeout(
      () =>
        calls.check(edit).then(
          (problems) => {
            if (own === turn.current) setTrial(problems.find(({ place }) => place.text === text))
          },
          () => undefined,
        ),
      TRY_MS,
    )
  }
  return { trial, tryOut }
}

/** A problem under its field: where it is in the text, and what it is. */
export function FieldProblem({ problem: { message, place }, isEntered }: { problem: Problem; isEntered: boolean }) {
  const { text = '', from } = place
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    box.current?.scrollIntoView({ block: 'nearest' })
  }, [message])
  const [start, to] = [Math.max(0, (from ?? 0) - BEFORE), place.to ?? (from ?? 0) + 1]
  const cut = start === 0 ? '' : '…'
  return (
    <div ref={box} role={isEntered ? 'alert' : 'status'} className="problem">
      {from !== undefined && !text.includes('\n') && (
        <code aria-hidden="true">
          {cut}
          {text.slice(start, start + SHOWN)}
          {'\n'}
          {' '.repeat(cut.length + from - start)}
          {'^'.repeat(Math.max(1, Math.min(to, start + SHOWN) - from))}
        </code>
      )}
      {message}
    </div>
  )
}
