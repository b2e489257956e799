import { Combobox, ComboboxItem, ComboboxPopover, ComboboxProvider } from '@ariakit/react'
import type { Completion } from 'acuarela'
import type { Preview } from 'acuarela/workbench'
import { useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'
import type { Names } from './names.js'
import { newRule, RULE_KINDS } from './rule-kinds.js'

/** One line takes a rule as a sentence: completed as it is typed, tried before Enter. */
export function SayLine({ bench, names, onDone }: { bench: Bench; names: Names; onDone(): void }) {
  const [text, setText] = useState('')
  const [completions, setCompletions] = useState<readonly Completion[]>([])
  const [preview, setPreview] = useState<Preview | null>(null)
  const [problem, setProblem] = useState('')
  const [isAsking, setAsking] = useState(false)
  /** What may stand next is listed while the field has the focus. */
  const [isIn, setIn] = useState(false)
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
    const isFirst = !Array.isArray(bench.state?.draft.spec.rules)
    const { sentence } = preview
    const made = bench.edit(
      isFirst
        ? { do: 'set', path: ['rules'], value: [sentence] }
        : { do: 'insert', path: ['rules'], value: sentence, at: 0 },
    )
    void made.then(() => {
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
          onFocus={() => setIn(true)}
          // A click on the list takes the focus for a moment.
          onBlur={() =>
            setTimeout(() => setIn(document.activeElement?.getAttribute('aria-label') === 'Say a rule'), 200)
          }
          placeholder="revenue of each shop: below plan → behind"
          onKeyDown={(event) => {
            if (event.key === 'Enter' && preview !== null && !event.defaultPrevented) add()
          }}
        />
        {isIn && text.trim() !== '' && completions.length > 0 && (
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
      <button
        type="button"
        disabled={preview === null && text.trim() !== ''}
        aria-expanded={isAsking}
        onClick={() => (preview === null ? setAsking(!isAsking) : add())}
      >
        Add rule
      </button>
      {isAsking && (
        <NewRule
          names={names}
          onAdd={(rule) => {
            setAsking(false)
            const isFirst = !Array.isArray(bench.state?.draft.spec.rules)
            void bench
              .edit(
                isFirst
                  ? { do: 'set', path: ['rules'], value: [rule] }
                  : { do: 'insert', path: ['rules'], value: rule, at: 0 },
              )
              .then(onDone)
          }}
        />
      )}
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
function Changes({ preview: { told, comparison } }: { preview: Preview }) {
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

/** A new rule by its measure and kind, for people who point. */
function NewRule({ names, onAdd }: { names: Names; onAdd(rule: Record<string, unknown>): void }) {
  const [measure, setMeasure] = useState(names.measures[0] ?? '')
  return (
    <div className="new-rule">
      <label className="field-line">
        <span>Measure of a new rule</span>
        <select value={measure} onChange={(event) => setMeasure(event.target.value)}>
          {[...names.measures, 'row', 'all', ...names.columns].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      <fieldset className="acts" aria-label="Kind of a new rule">
        {Object.keys(RULE_KINDS).map((kind) => (
          <button key={kind} type="button" onClick={() => onAdd(newRule(kind, { measure }, names))}>
            {kind}
          </button>
        ))}
      </fieldset>
    </div>
  )
}
