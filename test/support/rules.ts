import { type BandSpec, fromColumns, type PaintSpec, type RuleSpec } from 'acuarela'
import fc from 'fast-check'

export const STATUSES: NonNullable<PaintSpec['statuses']> = {
  ahead: { label: 'Ahead', verdict: 'good', wash: 'aqua', icon: 'tick' },
  close: { label: 'Near', verdict: 'fair', wash: 'straw', flag: '{value} {status}' },
  behind: { label: 'Behind', verdict: 'bad', wash: 'coral', weight: 'bold' },
  gone: { label: 'Gone', ink: 'stone' },
}
export const NAMES = ['ahead', 'close', 'behind']
export const LEVELS = ['ahead', 'close', 'behind', 'gone', null]

/** Few distinct values, so that ties and values at limits occur often. */
const value = fc.oneof(
  { weight: 9, arbitrary: fc.integer({ min: -6, max: 6 }) },
  { weight: 1, arbitrary: fc.constant(Number.NaN) },
)

export interface Row {
  x: number
  y: number
  region: string | null
  state: string | null
}

export const rows: fc.Arbitrary<Row[]> = fc.array(
  fc.record({
    x: value,
    y: value,
    region: fc.constantFrom('Coast', 'Valley', null),
    state: fc.constantFrom('ahead', 'Near', 'nobody', null),
  }),
  { minLength: 1, maxLength: 24 },
)

export function tableOf(list: readonly Row[]) {
  return fromColumns(
    {
      x: Float64Array.from(list, (row) => row.x),
      y: Float64Array.from(list, (row) => row.y),
      region: list.map((row) => row.region),
      state: list.map((row) => row.state),
    },
    { columns: { x: { better: 'higher' }, y: { better: 'lower' } } },
  )
}

const limit = fc.oneof(
  fc.integer({ min: -6, max: 6 }),
  fc.constantFrom('target', '50% of target', 'y', 'mean(value)', 'mean(x) within region', 'percentile(value, 60%)'),
)
const band = fc
  .record({ atLeast: limit, above: limit, atMost: limit, below: limit }, { requiredKeys: [] })
  .filter((band) => Object.keys(band).length > 0)

const bands: fc.Arbitrary<Partial<RuleSpec>> = fc
  .tuple(fc.array(band, { minLength: 1, maxLength: 3 }), fc.boolean(), fc.boolean())
  .map(([list, otherwise, missing]) => {
    const bands: BandSpec[] = list.map((band, i) => ({ ...band, status: NAMES[i] }))
    if (otherwise) bands.push({ otherwise: 'gone' })
    if (missing) bands.push({ missing: 'gone' })
    return { bands }
  })

const size = fc.oneof(
  fc.integer({ min: 1, max: 8 }),
  fc.integer({ min: 1, max: 100 }).map((p) => `${p}%`),
)
const rank: fc.Arbitrary<Partial<RuleSpec>> = fc
  .tuple(fc.constantFrom('top', 'bottom', 'best', 'worst'), size, fc.constantFrom(...NAMES))
  .map(([end, count, status]) => ({ rank: { [end]: count, status } }))
const gradient: fc.Arbitrary<Partial<RuleSpec>> = fc.constantFrom(
  { gradient: { ramp: ['coral', 'paper', 'aqua'] } },
  { gradient: { ramp: 'indigo', from: 0 } },
  { gradient: { ramp: ['sky', 'violet'], steps: 4 } },
  { gradient: { as: 'ink' as const, ramp: 'badToGood' } },
  { gradient: { icons: 'arrows', steps: 5 } },
)
const bar: fc.Arbitrary<Partial<RuleSpec>> = fc.constantFrom(
  { bar: { color: 'indigo' } },
  { bar: { color: 'aqua', negative: 'coral', finish: 'fading' as const } },
  { bar: { from: -3, to: 'target', base: 1 } },
)
const borrow: fc.Arbitrary<Partial<RuleSpec>> = fc.constant({ fromColumn: { status: 'state' } })
const styled: fc.Arbitrary<Partial<RuleSpec>> = fc.constant({
  bands: [{ above: 0, style: { icon: 'bySign', hide: 'value' as const } }, { otherwise: { icon: 'bySign' } }],
})

/** A rule of each kind, over each target, with and without groups and conditions. */
export const rule: fc.Arbitrary<RuleSpec> = fc
  .record({
    kind: fc.oneof(bands, rank, gradient, bar, borrow, styled),
    paint: fc.constantFrom('x', 'y', 'all', 'row', ['x', 'y']),
    within: fc.option(fc.constant('region'), { nil: undefined }),
    where: fc.option(fc.constantFrom("region = 'Coast'", 'x > 0', 'true'), { nil: undefined }),
    among: fc.option(fc.constantFrom("region != 'Valley'", 'y >= 0'), { nil: undefined }),
    seal: fc.boolean(),
    together: fc.boolean(),
  })
  .map(
    ({ kind, paint, within, where, among, seal, together }) =>
      ({
        paint,
        ...kind,
        ...(paint === 'row' && kind.fromColumn === undefined ? { judge: 'x' } : {}),
        ...(within === undefined || kind.fromColumn !== undefined ? {} : { within }),
        ...(where === undefined ? {} : { where }),
        ...(among === undefined ? {} : { among }),
        ...(seal ? { final: true } : {}),
        // The direction differs between the two, so they cannot be on one scale.
        ...(together && Array.isArray(paint) ? { oneScale: true } : {}),
      }) as RuleSpec,
  )

export const rules: fc.Arbitrary<RuleSpec[]> = fc.array(rule, { minLength: 1, maxLength: 4 })

/** What a table is painted with, its rules in keys. */
export type KeyedSpec = Omit<PaintSpec, 'rules'> & { rules: readonly RuleSpec[] }

export function specOf(list: readonly RuleSpec[], target = 2): KeyedSpec {
  return { statuses: STATUSES, parameters: { target }, rules: list.map((spec, i) => ({ name: `r${i}`, ...spec })) }
}
