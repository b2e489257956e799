import { groupRows } from '../column/group.js'
import { quantileSorted } from '../column/quantile.js'
import { sortedByGroup } from '../column/statistic.js'
import { type Bound, walk } from '../expression/bound.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { BoundSource } from '../report/model/bound.js'
import type { TableColumn } from '../table/table.js'
import { finding, type ProofFinding } from './finding.js'

/** Values of two names whose sizes differ by this ratio have different units. */
const MIN_RATIO = 10
/** More names than this are products or places, not figures. */
const MAX_NAMES = 30
/** Usual names of such columns. */
const VALUES = /^(value|values|wert|valor|valeur|waarde|amount|number|figure)$/i
const NAMED =
  /^(figure|measure|metric|indicator|kpi|name|item|field|variable|what|kennzahl|merkmal|indicador|concepto|mesure|indicateur)$/i

/**
 * A sum over pairs of a name and a value that measure different things, without a condition on the
 * name. Rows in a database are not examined.
 */
export function unlikeSums({ report }: DecidedReport): ProofFinding[] {
  const [home] = report.sources
  return report.sources.flatMap((source) => {
    if (source.stack !== undefined || source.table.length === 0) return []
    const pair = pairIn(source)
    if (pair === undefined) return []
    const { name, value, low, high } = pair
    return [...report.measures.values()].flatMap((measure) => {
      let sums = false
      walk(measure.bound, (part) => {
        if (part.op !== 'aggregate' || part.statistic !== 'sum' || (part.source ?? home.name) !== source.name) return
        const reads = part.of?.op === 'name' && part.of.ref.name === value
        if (
          reads &&
          ![...report.where, ...(part.where ? [part.where] : [])].some((condition) => names(condition, name))
        )
          sums = true
      })
      if (!sums) return []
      const message = `${value} holds values such as ${low.word} (usually ${low.size}) and ${high.word} (usually ${high.size}), named by ${name}`
      const out = `select one, as in sum(${value}) where ${name} = '${low.word}', or make columns of them with unstack: { name: ${name}, value: ${value} }`
      const overlap = {
        at: measure.name,
        message,
        numbers: { low: low.size, high: high.size },
        path: ['measures', measure.name],
        fix: out,
      }
      return [finding('unlike-sum', overlap)]
    })
  })
}

interface Pair {
  name: string
  value: string
  low: { word: string; size: number }
  high: { word: string; size: number }
}

/**
 * A column of names and one of values, where each combination of the other columns has every name
 * at most once.
 */
function pairIn({ table, attributes }: BoundSource): Pair | undefined {
  // Columns that it looks up say nothing about its own rows.
  const columns = [...table.columns.values()].filter(({ name }) => !attributes.has(name))
  const values = columns.filter(({ column }) => column.kind === 'number')
  if (values.length !== 1) return undefined
  const [{ name: value, column }] = values
  if (column.kind !== 'number') return undefined
  for (const candidate of columns) {
    if (
      candidate.column.kind !== 'text' ||
      candidate.column.words.length < 2 ||
      candidate.column.words.length > MAX_NAMES
    )
      continue
    if (!VALUES.test(value) && !NAMED.test(candidate.name)) continue
    if (
      !isOnce(
        columns.filter((other) => other !== candidate && other.name !== value),
        candidate,
        table.length,
      )
    )
      continue
    const sizes = sortedByGroup(column.values.map(Math.abs), candidate.column.codes, candidate.column.words.length).map(
      (list) => quantileSorted(list, 0.5),
    )
    const order = sizes
      .map((_, i) => i)
      .filter((i) => sizes[i] > 0)
      .sort((a, b) => sizes[a] - sizes[b])
    const [first, last] = [order[0], order[order.length - 1]]
    if (first === undefined || sizes[last] < MIN_RATIO * sizes[first]) continue
    const endOf = (i: number): Pair['low'] => ({
      word: candidate.column.kind === 'text' ? candidate.column.words[i] : '',
      size: Number(sizes[i].toPrecision(3)),
    })
    return { name: candidate.name, value, low: endOf(first), high: endOf(last) }
  }
  return undefined
}

function isOnce(others: readonly TableColumn[], tested: TableColumn, length: number): boolean {
  if (others.length === 0) return false
  const keys = [...others, tested].map(({ column }) => {
    if (column.kind === 'text') return { codes: column.codes, size: column.words.length }
    const seen = new Map<number, number>()
    for (const x of column.values) if (!seen.has(x)) seen.set(x, seen.size)
    const codes = Int32Array.from(column.values, (x) => seen.get(x) ?? -1)
    return { codes, size: seen.size }
  })
  const all = groupRows(keys, undefined, length).count
  const combinations = groupRows(keys.slice(0, -1), undefined, length).count
  return all === length && combinations < length
}

/** Whether a condition names a column. */
function names(bound: Bound, name: string): boolean {
  let repeated = false
  walk(bound, (part) => {
    if (part.op === 'name' && part.ref.name === name) repeated = true
  })
  return repeated
}
