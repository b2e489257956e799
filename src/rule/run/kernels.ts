/**
 * The loops over all cells, each a function of its own that is given plain arrays and numbers:
 * compiled once, it stays so. Written into functions that do more, they were thrown back to slow
 * code whenever something else in these turned out otherwise (measured: 5 to 8 times as long). That
 * several share their lines is on purpose: a call for each cell would cost more than the line. `v
 * !== v` is how NaN is met: it alone is not itself, and asking a function takes twice as long.
 */

/**
 * Steps of values by a grid over the cuts; see `Steps`. Missing values take `missing`. What is met
 * is marked.
 */
export function fillSteps(
  values: Float64Array,
  cuts: Float64Array,
  grid: Int16Array,
  scale: number,
  missing: number,
  ids: Int32Array,
  met: Uint8Array,
): void {
  const first = cuts.length === 0 ? 0 : cuts[0]
  const most = grid.length - 1
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: see above
    let step = v === v ? grid[Math.min(most, Math.max(0, (v - first) * scale + 1)) | 0] : missing
    if (step < 0) {
      step = 0
      for (let k = 0; k < cuts.length; k++) if (v >= cuts[k]) step++
    }
    ids[i] = step
    met[step] = 1
  }
}

/** The same together with the classes of one more rule: an id is a step and a class. */
export function fillStepsAndClasses(
  values: Float64Array,
  cuts: Float64Array,
  grid: Int16Array,
  scale: number,
  missing: number,
  classes: Int16Array,
  width: number,
  ids: Int32Array,
  met: Uint8Array,
): void {
  const first = cuts.length === 0 ? 0 : cuts[0]
  const most = grid.length - 1
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: see above
    let step = v === v ? grid[Math.min(most, Math.max(0, (v - first) * scale + 1)) | 0] : missing
    if (step < 0) {
      step = 0
      for (let k = 0; k < cuts.length; k++) if (v >= cuts[k]) step++
    }
    const id = step * width + classes[i] + 1
    ids[i] = id
    met[id] = 1
  }
}

/**
 * Steps of values that were sorted into bins before: the grid is over these, and has a place for
 * missing values, too.
 */
export function fillPlaced(
  values: Float64Array,
  places: Uint16Array,
  cuts: Float64Array,
  grid: Int16Array,
  ids: Int32Array,
  met: Uint8Array,
): void {
  for (let i = 0; i < values.length; i++) {
    let step = grid[places[i]]
    if (step < 0) {
      step = 0
      for (let k = 0; k < cuts.length; k++) if (values[i] >= cuts[k]) step++
    }
    ids[i] = step
    met[step] = 1
  }
}

/** The same together with the classes of one more rule. */
export function fillPlacedAndClasses(
  values: Float64Array,
  places: Uint16Array,
  cuts: Float64Array,
  grid: Int16Array,
  classes: Int16Array,
  width: number,
  ids: Int32Array,
  met: Uint8Array,
): void {
  for (let i = 0; i < values.length; i++) {
    let step = grid[places[i]]
    if (step < 0) {
      step = 0
      for (let k = 0; k < cuts.length; k++) if (values[i] >= cuts[k]) step++
    }
    const id = step * width + classes[i] + 1
    ids[i] = id
    met[id] = 1
  }
}

/** Ids so far, each with a class of one more rule. */
export function fillClasses(classes: Int16Array, width: number, ids: Int32Array, met: Uint8Array): void {
  for (let i = 0; i < ids.length; i++) {
    const id = ids[i] * width + classes[i] + 1
    ids[i] = id
    met[id] = 1
  }
}

/** What stands for each id. */
export function gatherClasses(ids: Int32Array, from: Int16Array, out: Int16Array): void {
  for (let i = 0; i < ids.length; i++) out[i] = from[ids[i]]
}

/** Ids by other numbers. */
export function renumber(ids: Int32Array, numbers: Int32Array): void {
  for (let i = 0; i < ids.length; i++) ids[i] = numbers[ids[i]]
}
