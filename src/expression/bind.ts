import { type Problem, problem } from '../problem/problem.js'
import { Binder } from './binder.js'
import { type Bound, isOpen, type Type } from './bound.js'
import { isTree, parseExpression } from './parse.js'
import { type Setting, typeText } from './setting.js'
import type { Tree } from './tree.js'

export { type Found, type Names, type Setting, typeText } from './setting.js'

/** A bound expression with the tree that it was bound from. */
export interface Binding {
  bound: Bound
  tree: Tree
}

/** Parses and binds; the tree is kept for printing. Returns all problems of the text. */
export function bindExpression(text: string, setting: Setting): Binding | Problem[] {
  const tree = parseExpression(text)
  if (!isTree(tree)) return [tree]
  const binder = new Binder(text, setting)
  const bound = binder.bind(tree)
  return binder.problems.length > 0 ? binder.problems : { bound, tree }
}

/** Like `bindExpression`, and checks the kind of the result. */
export function bindAs(text: string, setting: Setting, kind: Type['kind'], what: string): Binding | Problem[] {
  const result = bindExpression(text, setting)
  if (Array.isArray(result) || isOpen(result.bound.type) || result.bound.type.kind === kind) return result
  const { from, to } = result.tree
  const expected = kind === 'condition' ? 'a condition, true or false' : `a ${kind}`
  const advice = kind === 'condition' ? 'compare it with something' : undefined
  return [problem('wrong-type', { what, expected, found: typeText(result.bound.type), advice }, { text, from, to })]
}

export function didBind(result: Binding | Problem[]): result is Binding {
  return !Array.isArray(result)
}
