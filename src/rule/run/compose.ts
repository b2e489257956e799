import { applyStyle, type CellStyle, type Effect, finished, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Extents, Painted } from '../../style/painting.js'
import type { Pairs, RuleResult, StyleCache } from '../model.js'
import { fillClasses, renumber } from './kernels.js'
import { stepAndClassIds, stepIds, type ValueCuts } from './value-cuts.js'

/** The result of a rule for composing styles. */
export type Layer = Pick<RuleResult, 'rule' | 'effects' | 'bars'> & {
  /** A class for each cell; not read if there are `stepClasses`. */
  classes: Int16Array
  /** The class of each step, if the value alone decides in steps. */
  stepClasses?: Int16Array
}

/** How many of them are cached. */
const MAX_STYLE_PAIRS = 16

export function createStyleCache(): StyleCache {
  return { looks: new Map(), pairs: [] }
}

/**
 * Composes the rules of one measure in order. Each cell gets an id: the step of its value combined
 * with the classes of the other rules. The style of each id that occurs is computed once, by
 * `layOn`.
 */
export function composeStyles(
  layers: readonly Layer[],
  length: number,
  steps?: ValueCuts,
  cache?: StyleCache,
): Painted {
  const settle = createSettler(layers, cache)
  const ids = new Int32Array(length)
  const stepped = layers.flatMap((layer, k) => (layer.stepClasses === undefined ? [] : [k]))
  let others = layers.flatMap((layer, k) => (layer.stepClasses === undefined ? [k] : []))
  /** The classes of each id so far, by layer, -1 for none; undefined for ids without cells. */
  let tuples: (Int16Array | undefined)[] = [new Int16Array(layers.length).fill(-1)]
  if (steps !== undefined && stepped.length > 0) {
    tuples = Array.from({ length: steps.count }, (_, step) => {
      const tuple = new Int16Array(layers.length).fill(-1)
      for (const k of stepped) tuple[k] = layers[k].stepClasses?.[step] ?? -1
      return tuple
    })
    const [first, ...rest] = others
    if (first === undefined) {
      const met = stepIds(steps, ids)
      tuples = tuples.map((tuple, step) => (met[step] === 1 ? tuple : undefined))
    } else {
      const { classes, effects: givens } = layers[first]
      const width = givens.length + 1
      const met = stepAndClassIds(steps, classes, width, ids)
      if (rest.length === 0) return withBars(layers, { ids, styles: pairLooks(layers, tuples, met, first, cache) })
      tuples = crossed(tuples, met, width, first)
      others = rest
    }
  }
  for (const k of others) {
    const { classes, effects: givens } = layers[k]
    const width = givens.length + 1
    const dense = tuples.filter((tuple) => tuple !== undefined)
    if (dense.length < tuples.length) {
      let next = 0
      renumber(
        ids,
        Int32Array.from(tuples, (tuple) => (tuple === undefined ? -1 : next++)),
      )
    }
    const met = new Uint8Array(dense.length * width)
    fillClasses(classes, width, ids, met)
    tuples = crossed(dense, met, width, k)
  }
  const styles = tuples.map((tuple) => (tuple === undefined ? PLAIN_STYLE : settle(tuple)))
  const stepsAlone = stepped.length > 0 && others.length === 0
  return withBars(layers, { ids, styles, ...(stepsAlone && { stepped: true }) })
}

function withBars(layers: readonly Layer[], painted: Painted): Painted {
  const bars = barsOf(layers, painted)
  return bars === undefined ? painted : { ...painted, bars }
}

/**
 * The styles of steps and one more rule. If the steps are the same as before, known styles are
 * reused.
 */
function pairLooks(
  layers: readonly Layer[],
  tuples: readonly (Int16Array | undefined)[],
  met: Uint8Array,
  k: number,
  cache: StyleCache | undefined,
): CellStyle[] {
  const settle = createSettler(layers, cache)
  const width = layers[k].effects.length + 1
  const kept = cache !== undefined && isFixed(layers) ? cache : undefined
  let pair: Pairs | undefined = kept?.pairs.find(
    (candidate) => candidate.looks.length === met.length && sameTuples(candidate.tuples, tuples),
  )
  if (pair === undefined) {
    pair = { tuples, looks: new Array<CellStyle | undefined>(met.length) }
    if (kept?.pairs.unshift(pair) === MAX_STYLE_PAIRS + 1) kept.pairs.pop()
  }
  const { looks: cachedLooks, last } = pair
  if (last !== undefined && sameBytes(last.met, met)) return last.looks
  const looks = new Array<CellStyle>(met.length)
  for (let id = 0; id < met.length; id++) {
    let look: CellStyle | undefined = PLAIN_STYLE
    if (met[id] === 1) {
      look = cachedLooks[id]
      if (look === undefined) {
        const tuple = tuples[Math.floor(id / width)]?.slice() ?? new Int16Array(layers.length).fill(-1)
        tuple[k] = (id % width) - 1
        look = settle(tuple)
        cachedLooks[id] = look
      }
    }
    looks[id] = look
  }
  pair.last = { met, looks }
  return looks
}

/** Bytes alone: a loop over lists of several types is many times slower. */
function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false
  return true
}

function sameTuples(a: Pairs['tuples'], b: Pairs['tuples']): boolean {
  if (a.length !== b.length) return false
  for (let i = 0; i < a.length; i++) {
    const [first, other] = [a[i], b[i]]
    if (first === undefined || other === undefined) {
      if (first !== other) return false
    } else for (let k = 0; k < first.length; k++) if (first[k] !== other[k]) return false
  }
  return true
}

/** Effects of `fromColumn` and of arrows depend on the data, and are not cached. */
function isFixed(layers: readonly Layer[]): boolean {
  return layers.every(({ rule, effects: givens }) => givens === rule.effects)
}

/** Combines each tuple with each class of one more layer, for pairs that occur. */
function crossed(
  tuples: readonly (Int16Array | undefined)[],
  met: Uint8Array,
  width: number,
  k: number,
): (Int16Array | undefined)[] {
  return Array.from(met, (some, id) => {
    const tuple = some === 1 ? tuples[Math.floor(id / width)]?.slice() : undefined
    if (tuple !== undefined) tuple[k] = (id % width) - 1
    return tuple
  })
}

/** Integers are exact up to here. */
const WHOLE = 2 ** 53

/** The style of some classes, with rules applied in order. */
function createSettler(layers: readonly Layer[], cache: StyleCache | undefined): (tuple: Int16Array) => CellStyle {
  const space = layers.reduce((product, { effects: givens }) => product * (givens.length + 1), 1)
  const looks = isFixed(layers) && space < WHOLE ? cache?.looks : undefined
  return (tuple) => {
    let key = 0
    if (looks !== undefined) {
      for (let k = 0; k < tuple.length; k++) key = key * (layers[k].effects.length + 1) + tuple[k] + 1
      const style = looks.get(key)
      if (style !== undefined) return style
    }
    let look: CellStyle = PLAIN_STYLE
    for (let k = 0; k < tuple.length; k++) {
      const given: Effect | undefined = tuple[k] < 0 ? undefined : layers[k].effects[tuple[k]]
      const { rule } = layers[k]
      if (given !== undefined) look = applyStyle(look, given, rule.name, rule.final)
    }
    const finishedLook = finished(look)
    looks?.set(key, finishedLook)
    return finishedLook
  }
}

/** The bar of a cell is that of the rule that set the channel. */
function barsOf(layers: readonly Layer[], { ids, styles: looks }: Painted): Extents | undefined {
  const drawn = layers.filter((layer) => layer.bars !== undefined)
  if (drawn.length < 2) return drawn[0]?.bars
  const { length } = ids
  const bars = { from: new Float32Array(length).fill(Number.NaN), to: new Float32Array(length).fill(Number.NaN) }
  for (const { rule, bars: extents } of drawn) {
    if (extents === undefined) continue
    const won = Uint8Array.from(looks, (look) => Number(look.paintedBy.bar === rule.name))
    for (let i = 0; i < length; i++)
      if (won[ids[i]] === 1) {
        bars.from[i] = extents.from[i]
        bars.to[i] = extents.to[i]
      }
  }
  return bars
}
