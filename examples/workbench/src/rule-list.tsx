import { Combobox, ComboboxItem, ComboboxPopover, ComboboxProvider } from '@ariakit/react'
import type { Completion } from 'acuarela'
import type { Preview, WorkbenchState } from 'acuarela/workbench'
import { useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'
import { RuleEditor } from './rule-editor.js'

interface Props {
  bench: Bench
  selected: number | null
  onSelect(index: number | null): void
}

type Told = WorkbenchState['rules'][number]

/** The index of a told rule in the file; rules of included files have none. */
function indexOf({ rules, draft }: WorkbenchState, told: Told): number {
  const own = Array.isArray(draft.spec.rules) ? draft.spec.rules.length : 0
  const index = rules.indexOf(told)
  return index < own ? index : -1
}

/** The rules in order of precedence, and the line in which a new one is said. */
export function RuleList({ bench, selected, onSelect }: Props) {
  const { state, edit } = bench
  return (
    <section aria-label="Rules" className="rules">
      <h2>Rules</h2>
      <SayLine bench={bench} onDone={() => onSelect(0)} />
      <ol>
        {state?.rules.map((told) => {
          const index = indexOf(state, told)
          const painted = told.places.reduce((sum, place) => sum + place.painted, 0)
          const path = ['rules', index]
          const move = (to: number): void => {
            if (index < 0 || to < 0 || to >= state.rules.length) return
            void edit({ do: 'move', path, to }).then(() => onSelect(to))
          }
          return (
            <li key={told.rule} className={told.paused ? 'paused' : ''}>
              <button
                type="button"
                className="rule"
                aria-pressed={selected === index}
                onClick={() => onSelect(selected === index ? null : index)}
                onKeyDown={(event) => {
                  if (!event.altKey) return
                  if (event.key === 'ArrowUp') move(index - 1)
                  else if (event.key === 'ArrowDown') move(index + 1)
                  else return
                  event.preventDefault()
                }}
              >
                <b>{told.title === told.rule && /^\w+-\d+$/.test(told.rule) ? 'Rule' : told.title}</b>
                <small>{told.paused ? 'off' : `${painted.toLocaleString('en')} cells`}</small>
                <span className="sentence">{told.sentence}</span>
              </button>
              {selected === index && index >= 0 && (
                <div className="acts">
                  <button type="button" disabled={index === 0} onClick={() => move(index - 1)}>
                    Up
                  </button>
                  <button type="button" disabled={index === state.rules.length - 1} onClick={() => move(index + 1)}>
                    Down
                  </button>
                  <button
                    type="button"
                    onClick={() =>
                      void edit(
                        told.paused
                          ? { do: 'unset', path: [...path, 'paused'] }
                          : { do: 'set', path: [...path, 'paused'], value: true },
                      )
                    }
                  >
                    {told.paused ? 'Switch on' : 'Switch off'}
                  </button>
                  <button type="button" onClick={() => void edit({ do: 'duplicate', path })}>
                    Duplicate
                  </button>
                  <button type="button" onClick={() => void edit({ do: 'remove', path }).then(() => onSelect(null))}>
                    Remove
                  </button>
                </div>
              )}
              {selected === index && index >= 0 && <RuleEditor bench={bench} index={index} />}
            </li>
          )
        })}
      </ol>
    </section>
  )
}

/** One line takes a rule as a sentence: completed as it is typed, tried before Enter. */
function SayLine({ bench, onDone }: { bench: Bench; onDone(): void }) {
  const [text, setText] = useState('')
  const [completions, setCompletions] = useState<readonly Completion[]>([])
  const [preview, setPreview] = useState<Preview | null>(null)
  const [problem, setProblem] = useState('')
  useEffect(() => {
    let isOld = false
    const wait = setTimeout(async () => {
      const next = await calls.complete(text, text.length).catch(() => [])
      const tried = text.trim() === '' ? null : await calls.preview(text, 0).catch((error: unknown) => error)
      if (isOld) return
      setCompletions(next.slice(0, 12))
      setPreview(tried instanceof Error ? null : (tried as Preview | null))
      setProblem(tried instanceof Error ? tried.message : '')
    }, 120)
    return () => {
      isOld = true
      clearTimeout(wait)
    }
  }, [text])
  const add = (): void => {
    if (preview === null) return
    void bench.edit({ do: 'insert', path: ['rules'], value: preview.sentence, at: 0 }).then(() => {
      setText('')
      onDone()
    })
  }
  return (
    <div className="say">
      <ComboboxProvider value={text} setValue={setText}>
        <Combobox
          className="field"
          aria-label="Say a rule"
          placeholder="revenue of each shop: below plan → behind"
          onKeyDown={(event) => {
            if (event.key === 'Enter' && preview !== null && !event.defaultPrevented) add()
          }}
        />
        {completions.length > 0 && (
          <ComboboxPopover gutter={4} sameWidth className="popover">
            {completions.map((one) => (
              <ComboboxItem
                key={`${one.from} ${one.text}`}
                className="item"
                value={`${text.slice(0, one.from)}${one.text} `}
                selectValueOnClick
                hideOnClick={false}
              >
                <b>{one.text}</b> <small>{one.about}</small>
              </ComboboxItem>
            ))}
          </ComboboxPopover>
        )}
      </ComboboxProvider>
      <button type="button" disabled={preview === null} onClick={add}>
        Add rule
      </button>
      <div role="status" className="tried">
        {preview !== null && (
          <>
            <span className="sentence">{preview.sentence}</span>
            <Changes preview={preview} />
          </>
        )}
        {preview === null && text.trim() !== '' && <pre className="problem">{problem}</pre>}
      </div>
    </div>
  )
}

/** How many cells a rule paints, and which change. */
export function Changes({ preview: { told, comparison } }: { preview: Preview }) {
  const painted = told?.places.reduce((sum, place) => sum + place.painted, 0) ?? 0
  const { cells, restyled } = comparison
  return (
    <p className="counts">
      paints {painted.toLocaleString('en')} {painted === 1 ? 'cell' : 'cells'}; {cells.length} change their status,{' '}
      {restyled.length} their style
      {cells.slice(0, 3).map((cell) => (
        <span key={JSON.stringify([cell.exhibit, cell.name, cell.measure])} className="change">
          {cell.name} {cell.text}: {cell.before ?? 'nothing'} → {cell.after ?? 'nothing'}
        </span>
      ))}
    </p>
  )
}
