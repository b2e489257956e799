import { finished, type Given, type Look, layOn, PLAIN_LOOK } from '../look/look.js'
import type { Extents, Painted } from '../look/painting.js'
import type { RuleResult } from './run.js'
import { padded, type Steps, stepOf } from './steps.js'

/** What a rule gave, as far as looks need it. */
export type Layer = Pick<RuleResult, 'rule' | 'givens' | 'bars'> & {
  /** A class a cell; not read where `stepClasses` are there. */
  classes: Int16Array
  /** Where steps of the value decide alone: the class of each step. */
  stepClasses?: Int16Array
}

/** Looks that were settled before, by the classes that make them: the same report is painted again and again. */
export type LookCache = Map<number, Look>

/**
 * Lays the rules of one measure on each other, in their order. A cell is a small number: which step its value is on, together with what
 * the other rules gave it. Each number is settled once, by `layOn`, and every further cell that meets it is a table look-up.
 */
export function layAll(layers: readonly Layer[], length: number, steps?: Steps, cache?: LookCache): Painted {
  const settle = createSettler(layers, cache)
  const stepped = layers.map((layer, k) => (layer.stepClasses === undefined ? -1 : k)).filter((k) => k >= 0)
  const others = layers.map((layer, k) => (layer.stepClasses === undefined ? k : -1)).filter((k) => k >= 0)
  const ids = new Int32Array(length)
  /** The classes of each id so far, by layer; -1 where a layer has none yet. */
  let tuples: Int16Array[] = [new Int16Array(layers.length).fill(-1)]
  const [first, ...rest] = others
  if (steps !== undefined && stepped.length > 0) {
    const starts = Array.from({ length: steps.count }, (_, step) => {
      const tuple = new Int16Array(layers.length).fill(-1)
      for (const k of stepped) tuple[k] = layers[k].stepClasses?.[step] ?? -1
      return tuple
    })
    tuples =
      first === undefined ? layStepsAlone(ids, steps, starts) : laySteps(ids, steps, starts, layers[first], first)
    for (const k of rest) tuples = layOne(ids, tuples, layers[k], k)
  } else for (const k of others) tuples = layOne(ids, tuples, layers[k], k)
  const painted: Painted = { ids, looks: tuples.map(settle) }
  const bars = barsOf(layers, painted)
  return bars === undefined ? painted : { ...painted, bars }
}

/** Steps and nothing else: the ids are those of the steps; one that no cell is on is plain, for nobody wears its look. */
function layStepsAlone(ids: Int32Array, steps: Steps, starts: Int16Array[]): Int16Array[] {
  const { values, cuts, count } = steps
  const missing = count - 1
  const worn = new Uint8Array(count)
  const few = cuts.length <= 4
  const [a, b, c, d] = padded(cuts)
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    const reached = few ? (v >= a ? 1 : 0) + (v >= b ? 1 : 0) + (v >= c ? 1 : 0) + (v >= d ? 1 : 0) : stepOf(cuts, v)
    // biome-ignore lint/suspicious/noSelfCompare: NaN alone is not itself, and this is twice as fast as asking
    const step = v === v ? reached : missing
    ids[i] = step
    worn[step] = 1
  }
  return starts.map((tuple, step) => (worn[step] === 1 ? tuple : tuple.map(() => -1)))
}

/** Steps and one more rule in a single pass. */
function laySteps(ids: Int32Array, steps: Steps, starts: Int16Array[], layer: Layer, k: number): Int16Array[] {
  const { values, cuts, count } = steps
  const { classes } = layer
  const width = layer.givens.length + 1
  const settled = new Int32Array(count * width).fill(-1)
  const tuples: Int16Array[] = []
  const missing = count - 1
  const meet = (slot: number): number => {
    const tuple = starts[Math.floor(slot / width)].slice()
    tuple[k] = (slot % width) - 1
    settled[slot] = tuples.push(tuple) - 1
    return settled[slot]
  }
  const few = cuts.length <= 4
  const [a, b, c, d] = padded(cuts)
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    const reached = few ? (v >= a ? 1 : 0) + (v >= b ? 1 : 0) + (v >= c ? 1 : 0) + (v >= d ? 1 : 0) : stepOf(cuts, v)
    // biome-ignore lint/suspicious/noSelfCompare: NaN alone is not itself, and this is twice as fast as asking
    const slot = (v === v ? reached : missing) * width + classes[i] + 1
    const id = settled[slot]
    ids[i] = id < 0 ? meet(slot) : id
  }
  return tuples
}

function layOne(ids: Int32Array, before: readonly Int16Array[], layer: Layer, k: number): Int16Array[] {
  const { classes } = layer
  const width = layer.givens.length + 1
  const settled = new Int32Array(before.length * width).fill(-1)
  const tuples: Int16Array[] = []
  const { length } = ids
  const meet = (slot: number): number => {
    const tuple = before[Math.floor(slot / width)].slice()
    tuple[k] = (slot % width) - 1
    settled[slot] = tuples.push(tuple) - 1
    return settled[slot]
  }
  for (let i = 0; i < length; i++) {
    const slot = ids[i] * width + classes[i] + 1
    const id = settled[slot]
    ids[i] = id < 0 ? meet(slot) : id
  }
  return tuples
}

/** Numbers up to here are whole. */
const WHOLE = 2 ** 53

/** The look that classes make together, rules laid on in their order. */
function createSettler(layers: readonly Layer[], cache: LookCache | undefined): (tuple: Int16Array) => Look {
  // What a borrowed look or an arrow gives depends on the data, and is not to be remembered.
  const fixed = layers.every(({ rule, givens }) => givens === rule.givens)
  const space = layers.reduce((product, { givens }) => product * (givens.length + 1), 1)
  const known = fixed && space < WHOLE ? cache : undefined
  return (tuple) => {
    let key = 0
    if (known !== undefined) {
      for (let k = 0; k < tuple.length; k++) key = key * (layers[k].givens.length + 1) + tuple[k] + 1
      const found = known.get(key)
      if (found !== undefined) return found
    }
    let look: Look = PLAIN_LOOK
    for (let k = 0; k < tuple.length; k++) {
      const given: Given | undefined = tuple[k] < 0 ? undefined : layers[k].givens[tuple[k]]
      const { rule } = layers[k]
      if (given !== undefined) look = layOn(look, given, rule.name, rule.seal)
    }
    const made = finished(look)
    known?.set(key, made)
    return made
  }
}

/** Each cell's bar is that of the rule which won the channel there. */
function barsOf(layers: readonly Layer[], { ids, looks }: Painted): Extents | undefined {
  const drawn = layers.filter((layer) => layer.bars !== undefined)
  if (drawn.length < 2) return drawn[0]?.bars
  const { length } = ids
  const bars = { from: new Float32Array(length).fill(Number.NaN), to: new Float32Array(length).fill(Number.NaN) }
  for (const { rule, bars: own } of drawn) {
    if (own === undefined) continue
    const won = Uint8Array.from(looks, (look) => Number(look.paintedBy.bar === rule.name))
    for (let i = 0; i < length; i++)
      if (won[ids[i]] === 1) {
        bars.from[i] = own.from[i]
        bars.to[i] = own.to[i]
      }
  }
  return bars
}
