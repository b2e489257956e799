import type { PlotHandle, PopulationPlot } from 'acuarela/workbench'
import { useEffect, useRef, useState } from 'react'
import { type Bench, calls, shownPage } from './bench.js'
import { Plot } from './plot.js'

/** A rule: its sentence, and the plot of the values that it judges. */
export function RuleEditor({ bench, index }: { bench: Bench; index: number }) {
  const { state, edit } = bench
  const [plot, setPlot] = useState<PopulationPlot | undefined>(undefined)
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
  const move = (handle: PlotHandle, value: number, isDragged: boolean): void => {
    const { path } = handle
    if (path === null) return
    const written = handle.isPercent ? `${Number((value * 100).toPrecision(6))}%` : value
    const write = (): void => void edit({ do: 'set', path, value: written }, true)
    clearTimeout(wait.current)
    if (!isDragged || path[0] !== 'parameters') {
      write()
      return
    }
    // The page has the parameter already; the text follows when the pointer rests.
    void shownPage.now?.act({ do: 'set', parameter: String(path[1]), value })
    wait.current = setTimeout(write, 160)
  }
  if (told === undefined) return null
  return (
    <section aria-label="Rule" className="editor">
      <Sentence
        key={told.sentence}
        sentence={told.sentence}
        onSay={(value) => void edit({ do: 'set', path: ['rules', index, 'say'], value })}
      />
      <p className="said">{told.explanation}</p>
      {plot !== undefined && <Plot plot={plot} onMove={move} />}
      <ul className="places">
        {told.places.map((place) => (
          <li key={`${place.exhibit} ${place.level} ${place.measure}`}>
            {place.exhibit}, {place.level}: {place.painted} of {place.covered} painted
          </li>
        ))}
      </ul>
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
