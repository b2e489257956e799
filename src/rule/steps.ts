/** Sorts values into steps: how many of the rising cuts a value reaches. Missing ones have a step of their own, the last. */
export interface Steps {
  readonly values: Float64Array
  /** Rising, each once. */
  readonly cuts: Float64Array
  /** One more than there are cuts, and one for missing. */
  readonly count: number
}

/** Beyond so many cuts it is quicker to halve than to count. */
export const FEW_CUTS = 8

export function createSteps(values: Float64Array, cuts: readonly number[]): Steps {
  const sorted = Float64Array.from(new Set(cuts)).sort()
  return { values, cuts: sorted, count: sorted.length + 2 }
}

/** A value of each step: the cut that begins it, one below all cuts, and missing. */
export function representatives({ cuts }: Steps): Float64Array {
  return Float64Array.from([Number.NEGATIVE_INFINITY, ...cuts, Number.NaN])
}

/** What each step gives, cell by cell. */
export function spreadSteps<T extends Int16Array | Int32Array>(steps: Steps, gives: T): T {
  const Made = gives.constructor as new (length: number) => T
  const out = new Made(steps.values.length)
  fillSteps(steps, gives, out)
  return out
}

/** One pass: a value is compared with every cut, which is quicker than to guess which one it is. */
function fillSteps({ values, cuts, count }: Steps, gives: Int16Array | Int32Array, out: Int16Array | Int32Array): void {
  const { length } = values
  const missing = gives[count - 1]
  if (cuts.length <= 4) {
    const [a, b, c, d] = padded(cuts)
    for (let i = 0; i < length; i++) {
      const v = values[i]
      const step = (v >= a ? 1 : 0) + (v >= b ? 1 : 0) + (v >= c ? 1 : 0) + (v >= d ? 1 : 0)
      // biome-ignore lint/suspicious/noSelfCompare: NaN alone is not itself, and this is twice as fast as asking
      out[i] = v === v ? gives[step] : missing
    }
    return
  }
  for (let i = 0; i < length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: as above
    out[i] = v === v ? gives[stepOf(cuts, v)] : missing
  }
}

/** The step of a value that is not missing. */
export function stepOf(cuts: Float64Array, v: number): number {
  if (cuts.length <= FEW_CUTS) {
    let step = 0
    for (let k = 0; k < cuts.length; k++) step += v >= cuts[k] ? 1 : 0
    return step
  }
  let [from, to] = [0, cuts.length]
  while (from < to) {
    const middle = (from + to) >> 1
    if (v >= cuts[middle]) from = middle + 1
    else to = middle
  }
  return from
}

/** Up to four cuts as four: those that are not there are never reached. */
export function padded(cuts: Float64Array): [number, number, number, number] {
  const at = (k: number): number => (k < cuts.length ? cuts[k] : Number.POSITIVE_INFINITY)
  return [at(0), at(1), at(2), at(3)]
}
