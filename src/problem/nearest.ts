/**
 * The candidate that a misspelt name most likely means; undefined if none is near. Distance:
 * optimal string alignment (insert, delete, replace, swap of neighbours), case ignored; near is at
 * most one edit for each three characters, and at least one.
 */
export function nearest(name: string, candidates: Iterable<string>): string | undefined {
  const wanted = name.toLowerCase()
  // A very long name has no near candidate, and the table below grows with its square.
  if (wanted.length > 64) return undefined
  const allowed = Math.max(1, Math.floor(wanted.length / 3))
  let best: string | undefined
  let bestDistance = allowed + 1
  for (const candidate of candidates) {
    if (Math.abs(candidate.length - wanted.length) > allowed) continue
    const distance = alignment(wanted, candidate.toLowerCase())
    if (distance < bestDistance) {
      best = candidate
      bestDistance = distance
    }
  }
  return best
}

function alignment(a: string, b: string): number {
  let before: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, j) => j)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1
      let cost = Math.min(last[j] + 1, row[j - 1] + 1, last[j - 1] + same)
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) cost = Math.min(cost, before[j - 2] + 1)
      row.push(cost)
    }
    before = last
    last = row
  }
  return last[b.length]
}
