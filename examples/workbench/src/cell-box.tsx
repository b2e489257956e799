import type { ShownCell } from 'acuarela/live'
import type { Workbench } from 'acuarela/workbench'
import { useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'
import type { Names } from './names.js'
import { newRule, RULE_KINDS } from './rule-kinds.js'

type WhyAnswer = Awaited<ReturnType<Workbench['why']>>

interface Props {
  bench: Bench
  cell: ShownCell
  names: Names
  onRule(index: number): void
  onClose(): void
}

/** The cell that was pointed at: the rules that reach it, and new ones for it. */
export function CellBox({ bench, cell, names, onRule, onClose }: Props) {
  const { state, edit } = bench
  const [answer, setAnswer] = useState<WhyAnswer | null>(null)
  const [isAsking, setAsking] = useState(false)
  const { exhibit } = cell
  const { measure, measureLabel, text, name, row, column } = cell.cell
  const keys = JSON.stringify(Object.fromEntries([...row, ...column].map((key) => [key.name, key.value ?? ''])))
  useEffect(() => {
    let isOld = false
    if (state?.isShown === true)
      calls.why({ exhibit, measure, keys: JSON.parse(keys) as Record<string, string> }).then(
        (next) => {
          if (!isOld) setAnswer(next)
        },
        () => setAnswer(null),
      )
    return () => {
      isOld = true
    }
  }, [state, exhibit, measure, keys])
  const why = answer !== null && 'why' in answer ? answer.why : null
  const value = typeof why?.value === 'number' ? Number(why.value.toPrecision(3)) : undefined
  const add = (kind: string): void => {
    setAsking(false)
    const rule = newRule(kind, { measure, value }, names)
    const first = !Array.isArray(state?.draft.spec.rules)
    void edit(
      first ? { do: 'set', path: ['rules'], value: [rule] } : { do: 'insert', path: ['rules'], value: rule, at: 0 },
    ).then(() => onRule(0))
  }
  return (
    <section aria-label="Cell" className="cell-box">
      <h2>
        {name || measureLabel} <b>{text}</b>
        <button type="button" className="remove" aria-label="Close the cell" onClick={onClose}>
          ×
        </button>
      </h2>
      {why !== null && (
        <ul className="reasons">
          {why.rules.map((rule, i) => {
            const index = state?.rules.findIndex((one) => one.rule === rule.rule) ?? -1
            return (
              <li key={`${rule.rule} ${i}`}>
                <button type="button" className="link" disabled={index < 0} onClick={() => onRule(index)}>
                  {rule.sentence}
                </button>
              </li>
            )
          })}
          {why.rules.length === 0 && <li>No rule reaches it.</li>}
        </ul>
      )}
      <div className="acts">
        <button type="button" aria-expanded={isAsking} onClick={() => setAsking(!isAsking)}>
          Rule for this…
        </button>
        {isAsking &&
          Object.keys(RULE_KINDS).map((kind) => (
            <button key={kind} type="button" onClick={() => add(kind)}>
              {kind}
            </button>
          ))}
      </div>
    </section>
  )
}
