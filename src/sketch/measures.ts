import { averages } from './averages.js'
import type { ColumnFacts } from './facts.js'
import { createNames, labelOf, written } from './names.js'
import type { Role, RoleOf } from './roles.js'
import { type ByRole, betterOf, formatOf, type Naming, type StarterMeasure, simple } from './starter-measure.js'
import { means, wordsOf } from './words.js'

/** The measures of a starter and their parts in the report. */
export interface Measures {
  main: StarterMeasure
  /** The column that the main measure is made of; undefined for rows, and price times quantity. */
  column: ColumnFacts | undefined
  /** Whether the main measure is a mean, so that limits are not amounts. */
  isMean: boolean
  plan: StarterMeasure | undefined
  gap: StarterMeasure | undefined
  lastYear: StarterMeasure | undefined
  growth: StarterMeasure | undefined
  margin: StarterMeasure | undefined
  /** The others, in order of use. */
  others: readonly StarterMeasure[]
  /** Fields per row of the first source. */
  fields: readonly { name: string; formula: string; because: string }[]
}

/** A target or amount of a further source. */
export interface OtherColumn {
  source: string
  facts: ColumnFacts
  isPlan: boolean
}

/** What amounts in several currencies are multiplied by, to be in one. */
export interface Rate {
  /** As written: `rates.rate`. */
  formula: string
  currency: string
}

interface MeasureOptions {
  long: boolean
  reserved: readonly string[]
  rate?: Rate | undefined
  answers: { main?: string | undefined }
}

const PRIMARY =
  /^(revenues?|sales|turnover|takings|income|receipts?|earnings|umsatz|umsatze|erlose?|einnahmen|ventas?|ingresos?|facturacion|ventes?|recettes?|ca|ricav[oi]|fatturato|vendit[ae]|incass[oi]|vendas?|receitas?|omzet|opbrengst|amounts?|betrag|importes?|montant|importo|bedrag|monto)$/

export function chooseMeasures(
  roles: readonly RoleOf[],
  further: readonly OtherColumn[],
  { long, reserved, rate, answers }: MeasureOptions,
): Measures {
  const name = createNames([...reserved, ...roles.map(({ facts }) => facts.name)])
  const of = (...kinds: Role[]): ColumnFacts[] =>
    roles.flatMap(({ role, facts }) => (kinds.includes(role) ? [facts] : []))
  const fields: { name: string; formula: string; because: string }[] = []
  const chosen = inOneCurrency(mainOf(of, name, fields, answers.main), of, rate, name, fields)
  const { main, column, isMean } = chosen
  // Amounts in several currencies do not add up: only the main one is converted.
  const amounts = rate === undefined ? of('amount').filter((each) => each !== column) : []
  const [cost] = rate === undefined ? of('cost').filter((each) => each !== column) : []
  const margin = marginOf(column, cost, name)
  const plan = planOf(of('target'), further, main, column, name)
  const gap = plan && gapOf(main, plan, name)
  const [previous] = of('previous')
  const lastYear =
    previous !== undefined && !isMean
      ? simple(
          name('before'),
          `sum(${written(previous.name)})`,
          labelOf(previous.name),
          main.format,
          'neither',
          'an earlier value beside it',
        )
      : long
        ? simple(
            name('lastYear'),
            `lag(${main.name}, 1 year)`,
            'Last year',
            main.format,
            'neither',
            'the same days a year before',
          )
        : undefined
  const growth =
    lastYear &&
    simple(
      name('growth'),
      `percentChange(${main.name}, ${lastYear.name})`,
      previous === undefined ? 'On last year' : 'Change',
      'percent 1 signed',
      main.better,
      'missing where there was nothing before',
    )
  const others = [
    ...otherAdditive(of, column, cost, amounts, name),
    ...(rate === undefined ? averages(of, column, [column, ...amounts, cost], isMean, name, fields) : []),
    ...further.filter(({ isPlan }) => !isPlan).map((each) => furtherMeasure(each, name)),
  ]
  return { main, column, isMean, plan, gap, lastYear, growth, margin, others, fields }
}

interface Chosen {
  main: StarterMeasure
  column: ColumnFacts | undefined
  isMean: boolean
}

/** The main measure with the amount of each row converted at its rate. */
function inOneCurrency(
  chosen: Chosen,
  of: ByRole,
  rate: Rate | undefined,
  name: Naming,
  fields: { name: string; formula: string; because: string }[],
): Chosen {
  const { main, column, isMean } = chosen
  if (rate === undefined || isMean || column === undefined || of('quantity').includes(column)) return chosen
  const field = name(`${column.name} in ${rate.currency}`)
  fields.push({
    name: field,
    formula: `${written(column.name)} * ${rate.formula}`,
    because: `at the rate of its date; divide if a rate says what one ${rate.currency} buys`,
  })
  const format = formatOf({ ...column, currency: rate.currency }, column.sum)
  return { ...chosen, main: { ...main, formula: `sum(${field})`, format, because: `added up in ${rate.currency}` } }
}

/**
 * The measure that a report is about: an amount, price times quantity, a quantity, a mean, or rows.
 */
function mainOf(
  of: ByRole,
  name: Naming,
  fields: { name: string; formula: string; because: string }[],
  asked: string | undefined,
): Chosen {
  const summed = (column: ColumnFacts) => ({ main: sumOf(column, name), column, isMean: false })
  const wanted = of('amount', 'quantity', 'cost', 'target', 'previous').find((column) => column.name === asked)
  if (wanted !== undefined) return summed(wanted)
  const amounts = [...of('amount')].sort((a, b) => amountRank(a) - amountRank(b))
  const [price] = of('price')
  const quantities = of('quantity')
  const [quantity] = quantities
  const named = amounts.filter((column) => amountRank(column) < 3)
  if (named.length === 0 && price !== undefined && quantity !== undefined && means(quantity.name, 'quantity')) {
    const field = name('line amount')
    fields.push({
      name: field,
      formula: `${written(price.name)} * ${written(quantity.name)}`,
      because: 'price times quantity',
    })
    const main = simple(
      name('revenue'),
      `sum(${field})`,
      'Revenue',
      formatOf(price),
      'higher',
      'price times quantity of each row, added up',
    )
    return { main, column: undefined, isMean: false }
  }
  if (amounts.length > 0) return summed(amounts[0])
  if (quantity !== undefined) return summed(quantities.find((each) => means(each.name, 'quantity')) ?? quantity)
  const [cost] = of('cost')
  if (cost !== undefined) return summed(cost)
  const [level] = of('level', 'price', 'rate')
  if (level !== undefined)
    return {
      main: simple(
        name(level.name, 'mean'),
        `mean(${written(level.name)})`,
        labelOf(level.name),
        formatOf({ ...level, whole: false }),
        betterOf(level),
        'not additive: its mean',
      ),
      column: level,
      isMean: true,
    }
  return {
    main: simple(
      name('rows'),
      'count()',
      'Rows',
      'number 0',
      'neither',
      'there is nothing to add up: rows are counted',
    ),
    column: undefined,
    isMean: false,
  }
}

function amountRank(column: ColumnFacts): number {
  const words = wordsOf(column.name)
  if (words.some((word) => PRIMARY.test(word)))
    return words.some((word) => /^(tax|vat|discount|rabatt|descuento|shipping|fee|fees)$/.test(word)) ? 3 : 0
  if (means(column.name, 'amount')) return 1
  return column.currency === undefined ? 3 : 2
}

function marginOf(
  main: ColumnFacts | undefined,
  cost: ColumnFacts | undefined,
  name: Naming,
): StarterMeasure | undefined {
  if (main === undefined || cost === undefined || means(main.name, 'quantity')) return undefined
  const share = cost.sum / main.sum
  // A cost of another size is not the cost of these sales.
  if (!(share > 0.05 && share < 1.3)) return undefined
  const [a, b] = [written(main.name), written(cost.name)]
  const known = cost.missing > 0 ? `(sum(${a}) where ${b} is not missing)` : `sum(${a})`
  const cover = cost.missing > 0 ? 'of the rows with a cost' : 'of all rows together, not a mean of rates'
  return simple(name('margin'), `(${known} - sum(${b})) / ${known}`, 'Margin', 'percent 1', 'higher', cover)
}

/** A plan beside what was reached: a column of the rows, or of a further source. */
function planOf(
  targets: readonly ColumnFacts[],
  further: readonly OtherColumn[],
  main: StarterMeasure,
  column: ColumnFacts | undefined,
  name: Naming,
): StarterMeasure | undefined {
  const other = further.find(({ isPlan }) => isPlan)
  if (other !== undefined)
    return simple(
      name('plan', 'amount'),
      `sum(${written(other.facts.name, other.source)})`,
      'Plan',
      main.format,
      'neither',
      `from ${other.source}`,
    )
  const near = targets.filter((target) => {
    const size = column === undefined ? 1 : target.sum / column.sum
    return size > 0.2 && size < 5
  })
  const [target] = near
  return (
    target &&
    simple(
      name('plan', 'amount'),
      `sum(${written(target.name)})`,
      labelOf(target.name),
      main.format,
      'neither',
      'a plan beside it',
    )
  )
}

function gapOf(main: StarterMeasure, plan: StarterMeasure, name: Naming): StarterMeasure {
  return simple(
    name('againstPlan'),
    `percentChange(${main.name}, ${plan.name})`,
    'Against plan',
    'percent 1 signed',
    main.better,
    'how far it is from the plan',
  )
}

/** A quantity, and one more amount. */
function otherAdditive(
  of: ByRole,
  main: ColumnFacts | undefined,
  cost: ColumnFacts | undefined,
  amounts: readonly ColumnFacts[],
  name: Naming,
): StarterMeasure[] {
  const quantities = of('quantity').filter((each) => each !== main && means(each.name, 'quantity'))
  return [
    ...quantities.slice(0, 1),
    ...amounts.filter((each) => each !== cost && amountRank(each) < 3).slice(0, 1),
  ].map((column) => sumOf(column, name))
}

/** A column added up. */
function sumOf(column: ColumnFacts, name: Naming): StarterMeasure {
  return simple(
    name(column.name, 'total'),
    `sum(${written(column.name)})`,
    labelOf(column.name),
    formatOf(column, column.sum),
    betterOf(column),
    'added up',
  )
}

function furtherMeasure({ source, facts }: OtherColumn, name: Naming): StarterMeasure {
  return simple(
    name(`${source} ${facts.name}`),
    `sum(${written(facts.name, source)})`,
    labelOf(`${source} ${facts.name}`),
    formatOf(facts),
    'neither',
    `from ${source}`,
  )
}
