import type { Names } from './names.js'

/** What a new rule paints, where its limits begin. */
export interface RuleStart {
  measure: string
  /** A value that the first limit has. */
  value?: number | undefined
  exhibit?: string | undefined
}

/** The kinds of rules, each with a rule that paints something at once. */
export const RULE_KINDS: Readonly<Record<string, (start: RuleStart, names: Names) => Record<string, unknown>>> = {
  limits: ({ measure, value }, { statuses: [first, second] }) => ({
    paint: measure,
    bands: [
      { atLeast: value ?? 'mean(value)', ...outcome(first, 'bold') },
      { otherwise: second ?? first ?? { weight: 'normal' } },
    ],
  }),
  gradient: ({ measure }, { pigments: [pigment = 'aqua'] }) => ({ paint: measure, gradient: { ramp: pigment } }),
  bar: ({ measure }) => ({ paint: measure, bar: {} }),
  rank: ({ measure }, { statuses: [first] }) => ({ paint: measure, rank: { top: 3, ...outcome(first, 'bold') } }),
  'by a column': ({ measure }, { keys: [key = ''] }) => ({ paint: measure, fromColumn: { status: key } }),
}

function outcome(status: string | undefined, weight: string): Record<string, unknown> {
  return status === undefined ? { style: { weight } } : { status }
}

/** The rule of a kind, for what was pointed at. */
export function newRule(kind: string, { exhibit, ...start }: RuleStart, names: Names): Record<string, unknown> {
  const rule = RULE_KINDS[kind](start, names)
  return exhibit === undefined ? rule : { ...rule, only: [exhibit] }
}
