import type { PopulationPlot } from 'acuarela/workbench'
import { useEffect, useState } from 'react'
import { type Bench, calls } from './bench.js'
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
  if (told === undefined) return null
  return (
    <section aria-label="Rule" className="editor">
      <Sentence
        key={told.sentence}
        sentence={told.sentence}
        onSay={(value) => void edit({ do: 'set', path: ['rules', index, 'say'], value })}
      />
      <p className="said">{told.explanation}</p>
      {plot !== undefined && (
        <Plot
          plot={plot}
          onMove={(handle, value) => {
            if (handle.path === null) return
            const written = handle.isPercent ? `${Number((value * 100).toPrecision(6))}%` : value
            void edit({ do: 'set', path: handle.path, value: written }, true)
          }}
        />
      )}
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
