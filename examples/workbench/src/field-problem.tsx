import type { Edit, Problem } from 'acuarela/edit'
import { useEffect, useRef, useState } from 'react'
import { calls } from './bench.js'

/** A text that is typed rests for so long before it is tried, in milliseconds. */
const TRY_MS = 400

/** So many characters of a text are shown around its problem, and so many of them before it. */
const SHOWN = 28
const BEFORE = 16

export interface Trial {
  /** The problem of the text that is typed. */
  problem: Problem | undefined
  /**
   * Tries an edit once the typing rests; undefined: the text is the entered one.
   *
   * @param isBusy whether the list under the field is open by then: whoever goes through it is not
   *   done, and nothing may move under the pointer.
   */
  tryOut(text: string, edit: Edit | undefined, isBusy: () => boolean): void
  /** The text is entered: what is shown of it stays until the report has its own answer. */
  stop(): void
}

/** What is wrong with a text before it is entered; `entered` is the value of the report. */
export function useTrial(entered: unknown): Trial {
  const [problem, setProblem] = useState<Problem | undefined>(undefined)
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined)
  const turn = useRef(0)
  useEffect(() => setProblem(undefined), [entered])
  const stop = (): void => {
    clearTimeout(wait.current)
    turn.current++
  }
  const tryOut: Trial['tryOut'] = (text, edit, isBusy) => {
    stop()
    if (edit === undefined) {
      setProblem(undefined)
      return
    }
    const own = turn.current
    wait.current = setTimeout(async () => {
      const problems = await calls.check(edit).catch(() => [])
      if (own === turn.current && !isBusy()) setProblem(problems.find(({ place }) => place.text === text))
    }, TRY_MS)
  }
  return { problem, tryOut, stop }
}

/** A problem under its field: where it is in the text, and what it is. */
export function FieldProblem({ problem: { message, place }, isEntered }: { problem: Problem; isEntered: boolean }) {
  const { text = '', from } = place
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // What is entered is left where it is: its field is in view, and the pointer on its way.
    if (!isEntered) box.current?.scrollIntoView({ block: 'nearest' })
  }, [isEntered])
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
