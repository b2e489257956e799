import { type Looks, themeColor, type WorkbenchState } from 'acuarela/workbench'
import { lazy, memo, Suspense, useState } from 'react'
import type { Bench } from './bench.js'
import type { FindingList } from './findings.js'
import type { Names } from './names.js'
import { isMap } from './values.js'

// Forms and the field with its completions come after the first page.
const RuleEditor = lazy(() => import('./rule-editor.js').then((part) => ({ default: part.RuleEditor })))
const SayLine = lazy(() => import('./say-line.js').then((part) => ({ default: part.SayLine })))

interface Props {
  bench: Bench
  names: Names
  looks: Looks | null
  findings: FindingList
  /** The first page is on the screen: what is needed next may be loaded. */
  isRested: boolean
  selected: number | null
  onSelect(index: number | null): void
}

type Told = WorkbenchState['rules'][number]

/** A rule of the list: as it is written, and what is known of it. */
interface Item {
  /** Its index in the file; -1 for a rule of an included file. */
  index: number
  key: string
  title: string
  paused: boolean
  /** Left out while the text cannot be painted and the rule is a new one. */
  told: Told | undefined
}

/** The rules of the file, then those that it includes. */
function itemsOf({ rules, draft, isShown }: WorkbenchState): Item[] {
  const written: readonly unknown[] = Array.isArray(draft.spec.rules) ? draft.spec.rules : []
  // What was last shown is right for a text with as many rules, even if it cannot be painted now.
  const known = isShown || rules.length >= written.length ? rules : []
  const own = written.map((rule, index): Item => {
    const told: Told | undefined = known[index]
    const name = isMap(rule) ? (rule.title ?? rule.name) : undefined
    const isDerived = told === undefined || (told.title === told.rule && /^\w+-\d+$/.test(told.rule))
    return {
      index,
      // A name that is made of the title or kind changes while these are edited.
      key: isMap(rule) && typeof rule.name === 'string' ? `named ${rule.name}` : `rule ${index}`,
      title: isDerived ? String(name ?? 'Rule') : told.title,
      paused: isMap(rule) && rule.paused === true,
      told,
    }
  })
  const more = known.slice(written.length).map((told): Item => {
    return { index: -1, key: `included ${told.rule}`, title: told.title, paused: told.paused, told }
  })
  return [...own, ...more]
}

/** The rules in order of precedence, and the line in which a new one is said. */
export const RuleList = memo(function RuleList({ bench, names, looks, findings, isRested, selected, onSelect }: Props) {
  const [dragged, setDragged] = useState<number | null>(null)
  const { state, edit } = bench
  const items = state === null ? [] : itemsOf(state)
  const own = items.filter(({ index }) => index >= 0).length
  return (
    <section aria-label="Rules" className="rules">
      <h2>Rules</h2>
      <Suspense fallback={<div className="say waiting" />}>
        {!isRested && <div className="say waiting" />}
        {isRested && <SayLine bench={bench} names={names} onDone={() => onSelect(0)} />}
      </Suspense>
      <ol>
        {items.map(({ index, key, title, paused, told }) => {
          const painted = told?.places.reduce((sum, place) => sum + place.painted, 0) ?? 0
          const path = ['rules', index]
          const move = (to: number): void => {
            if (index < 0 || to < 0 || to >= own) return
            void edit({ do: 'move', path, to }).then(() => onSelect(to))
          }
          return (
            <li
              key={key}
              className={paused ? 'paused' : ''}
              draggable={index >= 0 && selected !== index}
              onDragStart={() => setDragged(index)}
              onDragOver={(event) => {
                if (dragged !== null && index >= 0) event.preventDefault()
              }}
              onDrop={(event) => {
                if (dragged === null || index < 0) return
                event.preventDefault()
                event.stopPropagation()
                if (dragged !== index) void edit({ do: 'move', path: ['rules', dragged], to: index })
                setDragged(null)
              }}
              onDragEnd={() => setDragged(null)}
            >
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
                <b>{title}</b>
                <small>{paused ? 'off' : told === undefined ? 'new' : `${painted.toLocaleString('en')} cells`}</small>
                <Swatches rule={state === null || index < 0 ? undefined : ownRule(state, index)} looks={looks} />
                <span className="sentence">{told?.sentence}</span>
              </button>
              {selected === index && index >= 0 && (
                <div className="acts">
                  <button type="button" disabled={index === 0} onClick={() => move(index - 1)}>
                    Up
                  </button>
                  <button type="button" disabled={index === own - 1} onClick={() => move(index + 1)}>
                    Down
                  </button>
                  <button
                    type="button"
                    onClick={() =>
                      void edit(
                        paused
                          ? { do: 'unset', path: [...path, 'paused'] }
                          : { do: 'set', path: [...path, 'paused'], value: true },
                      )
                    }
                  >
                    {paused ? 'Switch on' : 'Switch off'}
                  </button>
                  <button type="button" onClick={() => void edit({ do: 'duplicate', path })}>
                    Duplicate
                  </button>
                  <button type="button" onClick={() => void edit({ do: 'remove', path }).then(() => onSelect(null))}>
                    Remove
                  </button>
                </div>
              )}
              {selected === index && index >= 0 && (
                <Suspense fallback={null}>
                  <RuleEditor {...{ bench, index, names, findings }} />
                </Suspense>
              )}
            </li>
          )
        })}
      </ol>
    </section>
  )
})

function ownRule({ draft }: WorkbenchState, index: number): unknown {
  return Array.isArray(draft.spec.rules) ? draft.spec.rules[index] : undefined
}

/** The colours that a rule names, as small squares. */
function Swatches({ rule, looks }: { rule: unknown; looks: Looks | null }) {
  const named = new Set<string>()
  const collect = (value: unknown): void => {
    if (typeof value === 'string') named.add(value)
    else if (Array.isArray(value)) value.forEach(collect)
    else if (isMap(value)) Object.values(value).forEach(collect)
  }
  collect(rule)
  const colors = [
    ...(looks?.statuses ?? []).map(({ name, fill }) => ({ name, color: fill })),
    ...(looks?.pigments ?? []).map(({ name, body }) => ({ name, color: body })),
  ].filter(({ name, color }) => named.has(name) && color !== null)
  if (colors.length === 0) return null
  return (
    <span className="swatches" aria-hidden="true">
      {colors.map(({ name, color }) => (
        <i key={name} className="swatch" style={{ background: themeColor(color ?? '') }} />
      ))}
    </span>
  )
}
