import { themeColor, type Workbench, type WorkbenchState } from 'acuarela/workbench'
import { useEffect, useState } from 'react'
import { calls } from './bench.js'
import { useHeldValue } from './layout-shift.js'

type Rehearsed = Awaited<ReturnType<Workbench['rehearse']>>

/** A rest before samples are asked for, so that a drag does not wait for them. */
const REST_MS = 250

/** The rule tried on values around its limits, painted as it would paint them. */
export function Samples({ state, index }: { state: WorkbenchState | null; index: number }) {
  const [rehearsed, setRehearsed] = useState<Rehearsed>([])
  useEffect(() => {
    let isOld = false
    const wait = setTimeout(() => {
      if (state?.isShown === true)
        calls.rehearse(index).then(
          (next) => {
            if (!isOld) setRehearsed(next)
          },
          () => setRehearsed([]),
        )
    }, REST_MS)
    return () => {
      isOld = true
      clearTimeout(wait)
    }
  }, [state, index])
  const [first] = useHeldValue(rehearsed)
  if (first === undefined || first.trials.length === 0) return null
  return (
    <table className="samples">
      <caption>Tried on values around its limits</caption>
      <tbody>
        {first.trials.slice(0, 12).map(({ text, what, gave, style }) => (
          <tr key={`${text} ${what}`}>
            <td
              className="number"
              style={{
                background: style.fill === null ? undefined : themeColor(style.fill),
                color: style.ink === null ? undefined : themeColor(style.ink, style.fill),
                fontWeight: style.weight === 'bold' ? 700 : undefined,
              }}
            >
              {text}
            </td>
            <td>{what}</td>
            <td>{gave ?? '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
