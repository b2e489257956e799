/**
 * Ranks from 1 within each group, the highest value first. Equal values share the better rank and
 * the ranks behind them are skipped (standard competition ranking, 1 2 2 4). Missing values have
 * none: NaN.
 *
 * @param groups the group of each value; -1 for a value that is in none.
 */
export function competitionRanks(values: Float64Array, groups: Int32Array, groupCount: number): Float64Array {
  const members: number[][] = Array.from({ length: groupCount }, () => [])
  for (let i = 0; i < values.length; i++) if (groups[i] >= 0 && !Number.isNaN(values[i])) members[groups[i]].push(i)
  const ranks = new Float64Array(values.length).fill(Number.NaN)
  for (const list of members) {
    list.sort((a, b) => values[b] - values[a])
    list.forEach((i, at) => {
      const before = list[at - 1]
      ranks[i] = at > 0 && values[before] === values[i] ? ranks[before] : at + 1
    })
  }
  return ranks
}

/**
 * Compares two values to sort them, rising (1) or falling (-1); missing ones come last either way.
 */
export function compareMissingLast(a: number, b: number, sign: 1 | -1): number {
  const missing = Number(Number.isNaN(a)) - Number(Number.isNaN(b))
  return missing !== 0 || Number.isNaN(a) ? missing : sign * (a - b)
}
