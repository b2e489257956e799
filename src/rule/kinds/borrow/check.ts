import type { Check } from '../check.js'
import { type BorrowPlan, CHANNELS } from './run.js'

export const checkBorrow: Check<BorrowPlan> = (spec, checker, at) => {
  const own = spec.borrow ?? {}
  const here = [...at, 'borrow']
  if (Object.keys(own).length === 0) checker.tell('borrow-nothing', { known: CHANNELS }, here)
  const columns = CHANNELS.flatMap((channel) => {
    const name = own[channel]
    const text = name === undefined ? undefined : checker.texts(name, [...here, channel])
    return text === undefined ? [] : [{ channel, text }]
  })
  return { columns, palette: checker.palette, statuses: checker.statuses(), hide: checker.hide }
}
