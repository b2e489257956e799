import type { PlotHandle, PopulationPlot, Workbench } from 'acuarela/workbench'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import { type Bench, calls, shownPage } from './bench.js'
import { FindingLine } from './finding-line.js'
import { Field } from './form.js'
import { useHeldValue } from './layout-shift.js'
import { Name } from './name-field.js'
import type { Names } from './names.js'
import { PickMenu } from './pick-menu.js'
import { Samples } from './samples.js'
import { branches, nodeAt } from './schema.js'
import { Form } from './single-field.js'
import { isMap } from './values.js'

// Plots come when a rule is selected.
const Plot = lazy(async () => ({ default: (await import('./plot.js')).Plot }))

type Finding = Awaited<ReturnType<Workbench['findings']>>[number]

interface Props {
  bench: Bench
  index: number
  names: Names
  findings: readonly Finding[]
}

/** A rule: its sentence, its form, the plot of the values that it judges, and its results. */
export function RuleEditor({ bench, index, names, findings }: Props) {
  const { state, edit } = bench
  const [newest, setPlot] = useState<PopulationPlot | undefined>(undefined)
  const plot = useHeldValue(newest)
  const told = state?.rules[index]
  useEffect(() => {
    let isOld = false
    if (state?.isShown === true)
      calls.plot(index).then(
        (next) => {
          if (!isOld) setPlot(next)
        },
        () => undefined,
      )
    return () => {
      isOld = true
    }
  }, [state, index])
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined)
  const element = useRef<HTMLElement>(null)
  // A rule that was just selected is seen whole, or from its head.
  useEffect(() => {
    const item = element.current?.closest('li')
    if (index >= 0) item?.scrollIntoView({ block: 'start' })
  }, [index])
  const move = (handle: PlotHandle, value: number, drag: number): void => {
    const { path } = handle
    if (path === null) return
    const written = handle.isPercent ? `${Number((value * 100).toPrecision(6))}%` : value
    const write = (): void => void edit({ do: 'set', path, value: written }, drag)
    clearTimeout(wait.current)
    if (drag === 0 || path[0] !== 'parameters') {
      write()
      return
    }
    // The page has the parameter already; the text follows when the pointer rests.
    void shownPage.now?.act({ do: 'set', parameter: String(path[1]), value })
    wait.current = setTimeout(write, 160)
  }
  const rules = state?.draft.spec.rules
  const written: unknown = Array.isArray(rules) ? rules[index] : undefined
  const [node] = branches(nodeAt(['rules', index]) ?? {})
  const own = isMap(written) ? written : undefined
  const about = findings.filter(({ at }) => told !== undefined && (at === told.rule || at.startsWith(`${told.rule}.`)))
  const copyTo = names.measures.filter((one) => one !== own?.paint)
  return (
    <section ref={element} aria-label="Rule" className="editor">
      {told !== undefined && (
        <>
          <Sentence
            key={told.sentence}
            sentence={told.sentence}
            onSay={(value) => void edit({ do: 'set', path: ['rules', index, 'say'], value })}
          />
          <p className="said">{told.explanation}</p>
        </>
      )}
      {plot !== undefined && (
        <Suspense fallback={null}>
          <Plot plot={plot} onMove={move} />
        </Suspense>
      )}
      <Samples state={state} index={index} />
      <ul className="places">
        {told?.places.map((place) => (
          <li key={`${place.exhibit} ${place.level} ${place.measure}`}>
            {place.exhibit}, {place.level}: {place.painted} of {place.covered} painted
          </li>
        ))}
      </ul>
      {about.map((finding) => (
        <FindingLine key={`${finding.code} ${finding.message}`} finding={finding} bench={bench} />
      ))}
      {own !== undefined && (
        <details className="form" open>
          <summary>Form</summary>
          <Form bench={bench} names={names}>
            {typeof own.name === 'string' && (
              <Name
                name={own.name}
                onRename={(to) => void edit({ do: 'rename', kind: 'rule', from: String(own.name), to })}
              />
            )}
            <Field node={node} value={own} path={['rules', index]} label="Rule" />
          </Form>
          {copyTo.length > 0 && (
            <PickMenu
              label="Copy to another measure"
              className="add"
              picks={copyTo.map((value) => ({ value }))}
              onPick={(measure) => void edit({ do: 'copyRule', rule: index, measure })}
            />
          )}
        </details>
      )}
    </section>
  )
}

/** The rule as its sentence: Enter says it. */
function Sentence({ sentence, onSay }: { sentence: string; onSay(sentence: string): void }) {
  const [text, setText] = useState(sentence)
  return (
    <textarea
      aria-label="The rule as a sentence"
      className="field"
      rows={3}
      value={text}
      spellCheck={false}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setText(sentence)
        if (event.key !== 'Enter' || event.shiftKey) return
        event.preventDefault()
        if (text.trim() !== sentence) onSay(text.trim())
      }}
    />
  )
}
