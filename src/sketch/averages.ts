import type { ColumnFacts } from './facts.js'
import { labelOf, written } from './names.js'
import { type ByRole, betterOf, formatOf, type Naming, type StarterMeasure, simple } from './starter-measure.js'

/**
 * Rates as ratios of two amounts if one divides to them, else weighted; prices and levels as means.
 */
export function averages(
  of: ByRole,
  main: ColumnFacts | undefined,
  amounts: readonly (ColumnFacts | undefined)[],
  isMean: boolean,
  name: Naming,
  fields: { name: string; formula: string; because: string }[],
): StarterMeasure[] {
  const rates = of('rate')
    .filter((each) => each !== main)
    .slice(0, 2)
  const quantities = of('quantity')
  const known = [...amounts, ...quantities].filter((each) => each !== undefined)
  const measures = rates.map((rate) => {
    const format = formatOf({ ...rate, role: 'rate' })
    const ratio = ratioOf(rate, known)
    const label = labelOf(rate.name)
    if (ratio !== undefined)
      return simple(
        name(rate.name, 'rate'),
        ratio.formula,
        label,
        'percent 1',
        'higher',
        `a ratio of two sums: ${ratio.because}`,
      )
    if (main === undefined || isMean)
      return simple(
        name(rate.name, 'mean'),
        `mean(${written(rate.name)})`,
        label,
        format,
        'neither',
        'not additive: its mean',
      )
    const of = weightOf(rate, quantities, main)
    const field = name(`weighted ${rate.name}`)
    const weight = written(of.name)
    fields.push({ name: field, formula: `${written(rate.name)} * ${weight}`, because: `weighted by ${of.name}` })
    const over = rate.missing > 0 ? `(sum(${weight}) where ${written(rate.name)} is not missing)` : `sum(${weight})`
    return simple(
      name(rate.name, 'rate'),
      `sum(${field}) / ${over}`,
      label,
      format,
      'neither',
      `a mean weighted by ${of.name}`,
    )
  })
  const levels = of('price', 'level')
    .filter((each) => each !== main)
    .slice(0, measures.length > 0 ? 1 : 2)
    .map((level) =>
      simple(
        name(level.name, 'mean'),
        `mean(${written(level.name)})`,
        labelOf(level.name),
        formatOf({ ...level, whole: false }),
        betterOf(level) === 'lower' ? 'lower' : 'neither',
        'not additive: its mean',
      ),
    )
  return [...measures, ...levels]
}

/** What a rate is a rate of: visitors for a conversion, else the main amount. */
function weightOf({ name }: ColumnFacts, quantities: readonly ColumnFacts[], main: ColumnFacts): ColumnFacts {
  if (!/conver|click|response|return|show.?up|abschluss|taux de (trans|rebond)/i.test(name)) return main
  return (
    quantities.find((quantity) => /visit|besuch|guest|session|lead|call|contact|bezoek/i.test(quantity.name)) ?? main
  )
}

/** Whether a rate is one amount divided by another, or what is left of it, in nearly all rows. */
function ratioOf(rate: ColumnFacts, amounts: readonly ColumnFacts[]): { formula: string; because: string } | undefined {
  const size = !rate.percent && rate.high > 1.5 ? 100 : 1
  for (const a of amounts)
    for (const b of amounts) {
      if (a === b) continue
      const [top, bottom] = [written(a.name), written(b.name)]
      if (fits(rate, a, b, size, (x) => x))
        return { formula: `sum(${top}) / sum(${bottom})`, because: `${a.name} by ${b.name}` }
      if (fits(rate, a, b, size, (x) => 1 - x))
        return {
          formula: `(sum(${bottom}) - sum(${top})) / sum(${bottom})`,
          because: `what ${a.name} leaves of ${b.name}`,
        }
    }
  return undefined
}

/** Of so many rows a ratio is tried. */
const MAX_TRIED = 2000

function fits(rate: ColumnFacts, a: ColumnFacts, b: ColumnFacts, size: number, turn: (x: number) => number): boolean {
  const [rates, tops, bottoms] = [rate.values, a.values, b.values]
  if (rates === undefined || tops === undefined || bottoms === undefined) return false
  let [tried, right] = [0, 0]
  const step = Math.max(1, Math.floor(rates.length / MAX_TRIED))
  for (let i = 0; i < rates.length; i += step) {
    const value = turn(tops[i] / bottoms[i])
    if (Number.isNaN(rates[i]) || !Number.isFinite(value)) continue
    tried++
    if (Math.abs(value - rates[i] / size) <= 0.006) right++
  }
  return tried >= 5 && right / tried > 0.95
}
