import type { Check } from '../check.js'
import { CHANNELS, type FromColumnPlan } from './run.js'

export const check: Check<FromColumnPlan> = (spec, checker, at) => {
  const fromColumn = spec.fromColumn ?? {}
  const here = at.at('fromColumn')
  if (Object.keys(fromColumn).length === 0) here.report('from-column-nothing', { known: CHANNELS })
  const columns = CHANNELS.flatMap((channel) => {
    const name = fromColumn[channel]
    const text = name === undefined ? undefined : checker.texts(name, here.at(channel))
    return text === undefined ? [] : [{ channel, text }]
  })
  return {
    columns,
    palette: checker.palette,
    statuses: checker.statuses(),
    hide: checker.hide,
    iconAfter: checker.iconAfter,
  }
}
