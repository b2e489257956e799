/**
 * The loops over all cells. Each is a function of its own that takes plain arrays and numbers:
 * inside larger functions the compiled code was discarded whenever something else in them changed
 * type (measured: 5 to 8 times as long). Several loops repeat lines on purpose, as a call for each
 * cell would cost more. `v !== v` tests for NaN; calling Number.isNaN takes twice as long.
 */

/**
 * The steps of values by a grid over the cuts; see `Steps`. Missing values get the step `missing`.
 * Steps that occur are marked.
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

/** The same combined with the classes of one more rule: an id is a step and a class. */
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
 * The steps of values that are in bins already: the grid is over the bins, with one for missing
 * values.
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

/** The same combined with the classes of one more rule. */
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

/** Existing ids combined with the classes of one more rule. */
export function fillClasses(classes: Int16Array, width: number, ids: Int32Array, met: Uint8Array): void {
  for (let i = 0; i < ids.length; i++) {
    const id = ids[i] * width + classes[i] + 1
    ids[i] = id
    met[id] = 1
  }
}

/** The entry of each id. */
export function gatherClasses(ids: Int32Array, from: Int16Array, out: Int16Array): void {
  for (let i = 0; i < ids.length; i++) out[i] = from[ids[i]]
}

/** Renumbers ids. */
export function renumber(ids: Int32Array, numbers: Int32Array): void {
  for (let i = 0; i < ids.length; i++) ids[i] = numbers[ids[i]]
}
