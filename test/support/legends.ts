/** A legend of a page, or of painted data. */
interface ShownLegend {
  rule: string
  measure: string
  population: string
  entries: readonly { label: string; limit: string }[]
  ramp?: unknown
}

/**
 * The exhibit that shows a legend, if the one directly above has the same, whatever it counts; it
 * may name one above it in turn. Undefined where the exhibit shows it itself.
 */
export function shownAbove<T extends { legends: readonly ShownLegend[] }>(
  legend: ShownLegend,
  exhibit: T,
  exhibits: readonly T[],
): T | undefined {
  const above = exhibits[exhibits.indexOf(exhibit) - 1]
  const key = ({ rule, measure, population, entries, ramp }: ShownLegend): string =>
    JSON.stringify([rule, measure, population, entries.map(({ label, limit }) => [label, limit]), ramp])
  const same = above?.legends.find((other) => key(other) === key(legend))
  return same === undefined ? undefined : (shownAbove(same, above, exhibits) ?? above)
}
