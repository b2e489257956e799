import type { Diagnostics } from '../../../problem/diagnostics.js'
import type { BarSpec } from '../../../spec/rules.js'
import { type BarStyle, NO_EFFECT } from '../../../style/cell-style.js'
import { resolveColor } from '../../../style/effect.js'
import type { BoundText } from '../../model.js'
import type { Check, Checker } from '../check.js'
import type { BarPlan } from './run.js'

export const check: Check<BarPlan> = (spec, checker, at) => {
  const bar = spec.bar
  const here = at.at('bar')
  if (bar === undefined) return undefined
  checker.needNumber('bar', here)
  const end = (key: 'from' | 'to' | 'base'): BoundText | undefined => {
    const limit = bar[key]
    return limit === undefined ? undefined : checker.limit(limit, here.at(key), true)
  }
  const [from, to, base] = [end('from'), end('to'), end('base')]
  const positive = styleOf(bar, 'color', 'stone', checker, here)
  const negative = bar.negative === undefined ? positive : styleOf(bar, 'negative', 'stone', checker, here)
  if (positive === undefined || negative === undefined) return undefined
  const right = checker.gives({ ...NO_EFFECT, bar: positive })
  const left = negative === positive ? right : checker.gives({ ...NO_EFFECT, bar: negative })
  return { positive, negative, right, left, from, to, base }
}

function styleOf(
  bar: BarSpec,
  key: 'color' | 'negative',
  fallback: string,
  checker: Checker,
  at: Diagnostics,
): BarStyle | undefined {
  const name = bar[key] ?? fallback
  const color = resolveColor(name, 'body', checker.palette)
  if (color === undefined) checker.unknownColor(name, at.at(key))
  return color === undefined ? undefined : { name, color, finish: bar.finish ?? 'solid' }
}
