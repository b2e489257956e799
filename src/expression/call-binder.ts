import type { SENTENCES } from '../problem/catalogue/sentences.js'
import type { CommonCode } from '../problem/problem.js'
import type { Bound, Type } from './bound.js'
import type { Setting } from './setting.js'
import type { Tree } from './tree.js'

/** What the binding of a call needs from the binder of the surrounding expression. */
export interface CallBinder {
  readonly setting: Setting
  /** The aggregate that is being bound, if any. */
  inAggregate: string | undefined
  bind(tree: Tree): Bound
  /** Binds a tree that must be a number; `what` is the subject of the problem. */
  number(tree: Tree, what: string): Bound
  /** Binds a tree that must be a condition. */
  condition(tree: Tree, what: string): Bound
  /** The common type of two values. */
  joined(a: Type, b: Type, at: Tree, verb: string): Type
  /** Reports `where` and `within` at a call that does not take them. */
  refuseClauses(tree: Tree & { op: 'call' }, advice: string): void
  wrong(tree: Tree, what: string, expected: string, type: Type): void
  tell<C extends CommonCode>(code: C, at: Tree, params: Parameters<(typeof SENTENCES)[C]>[0]): void
  /** The placeholder of a part that cannot be bound. */
  lost(): Bound
}
