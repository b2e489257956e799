import { CYCLES, PERIOD_UNITS, STATISTICS, type WorkbenchState } from 'acuarela/workbench'
import { isMap, type Path, pattern } from './values.js'

/** What a report can name, for completion and for what a new part begins with. */
export interface Names {
  measures: readonly string[]
  parameters: readonly string[]
  statuses: readonly string[]
  pigments: readonly string[]
  icons: readonly string[]
  exhibits: readonly string[]
  /** Columns and fields of the first source. */
  columns: readonly string[]
  /** Those of them that can split a table. */
  keys: readonly string[]
  numbers: readonly string[]
  dates: readonly string[]
}

/** Statistics of a rule are over the cells of its population. */
const OF_CELLS = ['mean(value)', 'median(value)', 'lowest(value)', 'highest(value)', 'value']
const FORMATS = [
  'number 0',
  'number 1',
  'money EUR 0',
  'money EUR 0 compact',
  'percent 0',
  'percent 1',
  'number 0 signed',
]

function keysOf(value: unknown): string[] {
  return isMap(value) ? Object.keys(value) : []
}

export function namesOf(
  { draft: { spec }, sources }: WorkbenchState,
  icons: readonly string[],
  pigments: readonly string[],
): Names {
  const [home] = sources
  const fields = keysOf(isMap(spec.fields) ? spec.fields[home?.name ?? ''] : undefined)
  const columns = home?.columns ?? []
  const exhibits = (Array.isArray(spec.exhibits) ? spec.exhibits : []).flatMap((one: unknown) =>
    isMap(one) && typeof one.name === 'string' ? [one.name] : [],
  )
  return {
    measures: keysOf(spec.measures),
    parameters: keysOf(spec.parameters),
    statuses: keysOf(spec.statuses),
    pigments: [...keysOf(spec.pigments), ...pigments],
    icons: [...keysOf(spec.icons), ...icons],
    exhibits,
    columns: [...columns.map(({ name }) => name), ...fields],
    keys: [
      ...columns.filter(({ type }) => type === 'text' || type === 'condition').map(({ name }) => name),
      ...fields,
      ...PERIOD_UNITS,
      ...CYCLES,
    ],
    numbers: columns.filter(({ type }) => type === 'number').map(({ name }) => name),
    dates: columns.filter(({ type }) => type === 'date').map(({ name }) => name),
  }
}

/** How a text is completed: as one name, or word by word inside an expression. */
export interface Suggestions {
  inside: boolean
  list: readonly string[]
}

const RULES: readonly (readonly [RegExp, (names: Names) => Suggestions])[] = [
  [
    /^measures\.[^.]+(\.formula)?$/,
    (n) => expression([...STATISTICS.map((f) => `${f}(`), ...n.numbers, ...n.measures]),
  ],
  [/^fields\.|(^|\.)where$|\.among$/, (n) => expression([...n.columns, ...n.measures, 'and', 'or', 'not'])],
  [
    /\.(judge|atLeast|above|atMost|below|when|from|to|middle|base|at)$/,
    (n) => expression([...n.parameters, ...n.measures, ...OF_CELLS]),
  ],
  [/\.(status|missing|otherwise)(\.#)?$/, (n) => one(n.statuses)],
  [/\.(wash|fill|ink|color|negative|ramp)(\.#)?$/, (n) => one(n.pigments)],
  [/\.(icon|icons)(\.#)?$/, (n) => one(n.icons)],
  [/\.only(\.#)?$|\.beside$/, (n) => one(n.exhibits)],
  [/\.paint(\.#)?$/, (n) => one(['row', 'all', ...n.measures, ...n.columns])],
  [/\.(show|of|versus|measure|sort)(\.#)?(\.show)?$/, (n) => one(n.measures)],
  [/\.(rows|columns|along|by|within|grain|series|panels|group|key)(\.#)?(\.key)?$|^filters\.#$/, (n) => one(n.keys)],
  [/^sources\.[^.]+\.date$/, (n) => one(n.dates)],
  [/\.format$/, () => one(FORMATS)],
  [/^strip$/, (n) => one(n.exhibits.flatMap((exhibit) => n.measures.map((measure) => `${exhibit}.${measure}`)))],
]

function one(list: readonly string[]): Suggestions {
  return { inside: false, list: [...new Set(list)] }
}

function expression(list: readonly string[]): Suggestions {
  return { inside: true, list: [...new Set(list)] }
}

/** What may stand at a path. */
export function suggestions(path: Path, names: Names): Suggestions | undefined {
  const at = pattern(path)
  return RULES.find(([where]) => where.test(at))?.[1](names)
}

/** What a new entry of a list or map begins with: something that can be painted at once. */
export function starting(path: Path, names: Names): unknown {
  const at = pattern(path)
  const [status = 'good', second = status] = names.statuses
  const measure = names.measures[0] ?? ''
  if (/\.bands(\.#)?$/.test(at))
    return at.endsWith('#') ? { atLeast: 0, status } : [{ atLeast: 0, status }, { otherwise: second }]
  if (/\.rank$/.test(at)) return { top: 3, status }
  if (/\.split(\.#)?$/.test(at)) return at.endsWith('#') ? { share: '10%', status } : [{ share: '10%', status }]
  if (/\.gradient$/.test(at)) return { ramp: names.pigments[0] ?? 'aqua' }
  if (/\.bar$/.test(at)) return { color: names.pigments[0] ?? 'aqua' }
  if (/\.fromColumn$/.test(at)) return { status: names.keys[0] ?? '' }
  if (/\.style$|\.missing$|\.otherwise$/.test(at)) return { weight: 'bold' }
  if (/\.cards(\.#)?$/.test(at)) return at.endsWith('#') ? { show: measure } : [{ show: measure }]
  if (/\.(table|heatmap|list)$/.test(at)) return { rows: names.keys[0] ?? '', show: [measure] }
  if (/\.chart$/.test(at)) return { along: names.keys[0] ?? '', show: [measure] }
  if (/\.records$/.test(at)) return { show: names.columns.slice(0, 4) }
  if (/\.totals$/.test(at)) return { rows: 'bottom' }
  if (/\.references(\.#)?$/.test(at)) return at.endsWith('#') ? { at: '0' } : [{ at: '0' }]
  if (/^parameters\.[^.]+$/.test(at)) return { value: 0 }
  const list = suggestions([...path, 0], names)?.list ?? suggestions(path, names)?.list
  return list?.[0]
}
