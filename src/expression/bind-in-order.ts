import type { Problem } from '../problem/problem.js'
import { type Binding, bindExpression, didBind, type Setting } from './bind.js'

/** What each of some named expressions comes to, and what is done on the way. */
export interface NamedExpressions<T> {
  /** The expressions by name. */
  texts: ReadonlyMap<string, string>
  setting: Setting
  /** What an expression comes to once it is bound; undefined where it is of no use. */
  finish(name: string, binding: Binding): T | undefined
  /** Expressions that need each other; the last name is the first one again. */
  circle(names: readonly string[]): void
  /** Whether an expression means something else by its own name, such as the column that it reads. */
  isOther?(name: string): boolean
  refused(name: string, problems: readonly Problem[]): void
}

/** Expressions that may name each other, each bound when it is first needed. */
export interface OrderedBinding<T> {
  /** Binds one, unless it is bound, and what it needs before it. */
  need(name: string): void
  /** Whether one is settled: bound, refused or in a circle. */
  isSettled(name: string): boolean
  /** What one came to; undefined for one that is refused or not settled. */
  get(name: string): T | undefined
  /** Binds all; gives those that came to something, each after those that it needs. */
  all(): Map<string, T>
}

export function bindInOrder<T>(own: NamedExpressions<T>): OrderedBinding<T> {
  const settled = new Map<string, T | undefined>()
  const open: string[] = []
  const need = (name: string): void => {
    if (settled.has(name)) return
    if (open.includes(name)) {
      if (open.at(-1) === name && own.isOther?.(name) === true) return
      own.circle([...open.slice(open.indexOf(name)), name])
      settled.set(name, undefined)
      return
    }
    open.push(name)
    const binding = bindExpression(own.texts.get(name) ?? '', own.setting)
    open.pop()
    // It turned out to be in a circle.
    if (settled.has(name)) return
    if (!didBind(binding)) own.refused(name, binding)
    settled.set(name, didBind(binding) ? own.finish(name, binding) : undefined)
  }
  return {
    need,
    isSettled: (name) => settled.has(name),
    get: (name) => settled.get(name),
    all() {
      for (const name of own.texts.keys()) need(name)
      return new Map([...settled].filter((entry): entry is [string, T] => entry[1] !== undefined))
    },
  }
}
