import type { Problem } from '../problem/problem.js'
import { type Binding, bindExpression, didBind, type Setting } from './bind.js'

/** Some named expressions and the callbacks of binding them. */
export interface NamedExpressions<T> {
  /** The expressions by name. */
  texts: ReadonlyMap<string, string>
  setting: Setting
  /** Makes the result of a bound expression; undefined to leave it out. */
  finish(name: string, binding: Binding): T | undefined
  /** Reports expressions that need each other; the last name is the first one again. */
  circle(names: readonly string[]): void
  /** Whether a name inside its own expression means something else, such as a column. */
  isOther?(name: string): boolean
  refused(name: string, problems: readonly Problem[]): void
}

/** Expressions that may name each other, each bound on first need. */
export interface OrderedBinding<T> {
  /** Binds one and what it needs, unless it is bound already. */
  need(name: string): void
  /** Whether one is bound, refused or part of a circle. */
  isSettled(name: string): boolean
  /** The result of one; undefined for one that was refused or is not bound yet. */
  get(name: string): T | undefined
  /** Binds all and returns the results, each after those that it needs. */
  all(): Map<string, T>
}

export function bindInOrder<T>(named: NamedExpressions<T>): OrderedBinding<T> {
  const settled = new Map<string, T | undefined>()
  const open: string[] = []
  const need = (name: string): void => {
    if (settled.has(name)) return
    if (open.includes(name)) {
      if (open.at(-1) === name && named.isOther?.(name) === true) return
      named.circle([...open.slice(open.indexOf(name)), name])
      settled.set(name, undefined)
      return
    }
    open.push(name)
    const binding = bindExpression(named.texts.get(name) ?? '', named.setting)
    open.pop()
    // It is part of a circle.
    if (settled.has(name)) return
    if (!didBind(binding)) named.refused(name, binding)
    settled.set(name, didBind(binding) ? named.finish(name, binding) : undefined)
  }
  return {
    need,
    isSettled: (name) => settled.has(name),
    get: (name) => settled.get(name),
    all() {
      for (const name of named.texts.keys()) need(name)
      return new Map([...settled].filter((entry): entry is [string, T] => entry[1] !== undefined))
    },
  }
}
