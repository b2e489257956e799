import { type BoundAggregate, type Reference, walk } from './bound.js'
import type { Names } from './setting.js'

type Base = string | undefined

/**
 * Sets the source whose rows an aggregate reads: the one of its columns, or the one whose rows know
 * all of them. Columns of lookup tables beside its own are named as that source knows them.
 *
 * @returns the sources that it names if no row knows all of its columns; home is undefined
 */
export function readByOne(bound: BoundAggregate, names: Names | undefined): readonly Base[] | undefined {
  const refs: Reference[] = []
  eachField(bound, (ref) => {
    refs.push(ref)
    return ref
  })
  const sources = [...new Set(refs.map((ref) => ref.source))]
  const known = (base: Base, { name, source }: Reference): boolean =>
    source === base || (source !== undefined && names?.attribute?.(base, name, source) !== undefined)
  const base = sources.find((source) => refs.every((ref) => known(source, ref)))
  // Rows of home are read only where one of its own columns is named.
  if (sources.length > 0 && (!sources.includes(base) || !refs.every((ref) => known(base, ref)))) return sources
  eachField(bound, (ref) => {
    if (ref.source === base) return ref
    return { kind: 'field', name: `${ref.source}.${ref.name}`, ...(base !== undefined && { source: base }) }
  })
  if (base !== undefined) bound.source = base
  return undefined
}

/** Visits the columns of an aggregate and of its condition; what `visit` gives replaces each. */
function eachField({ of, where }: BoundAggregate, visit: (ref: Reference) => Reference): void {
  for (const part of [of, where])
    if (part !== undefined)
      walk(part, (inner) => {
        if (inner.op === 'name' && inner.ref.kind === 'field') inner.ref = visit(inner.ref)
      })
}
