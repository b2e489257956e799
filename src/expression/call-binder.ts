import type { SENTENCES } from '../problem/catalogue/sentences.js'
import type { ProblemCode } from '../problem/problem.js'
import type { Bound, Type } from './bound.js'
import type { Setting } from './setting.js'
import type { Tree } from './tree.js'

/** What binding a call needs of the binder of the expression around it. */
export interface CallBinder {
  readonly setting: Setting
  /** The aggregate that is being bound, if any. */
  inAggregate: string | undefined
  bind(tree: Tree): Bound
  /** Binds a tree that has to be a number; `what` names who asks, for the problem. */
  number(tree: Tree, what: string): Bound
  /** Binds a tree that has to be a condition. */
  condition(tree: Tree, what: string): Bound
  /** The type of two values that are put together. */
  joined(a: Type, b: Type, at: Tree, verb: string): Type
  /** Reports `where` and `within` at a call that takes none. */
  refuseClauses(tree: Tree & { op: 'call' }, advice: string): void
  wrong(tree: Tree, what: string, expected: string, type: Type): void
  tell<C extends ProblemCode>(code: C, at: Tree, params: Parameters<(typeof SENTENCES)[C]>[0]): void
  /** Stands for what could not be bound. */
  lost(): Bound
}
