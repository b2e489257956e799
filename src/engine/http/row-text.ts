import type { Bound } from '../../expression/bound.js'
import { printExpression } from '../../expression/print.js'
import type { Tree } from '../../expression/tree.js'
import { dayText } from '../../time/day.js'

/**
 * The text of an expression over rows, which binds to the same expression again among the same
 * columns. Spans of days are written as comparisons with their first and last day.
 *
 * @throws Error for a part that only measures and rules have.
 */
export function rowText(bound: Bound): string {
  return printExpression(treeOf(bound))
}

/** Positions mean nothing in a tree that is printed. */
const AT = { from: 0, to: 0 }

function treeOf(bound: Bound): Tree {
  switch (bound.op) {
    case 'number':
      return numberTree(bound.value, bound.type.kind === 'number' && bound.type.unit.is === 'percent')
    case 'text':
      return { ...AT, op: 'text', value: bound.value }
    case 'truth':
      return { ...AT, op: 'truth', value: bound.value }
    case 'name':
      return { ...AT, op: 'name', name: bound.ref.name }
    case 'call':
      return call(bound.name, ...bound.args)
    case 'wording':
      return call(bound.name, bound.of)
    case 'dated':
      return call(bound.unit, bound.of)
    case 'negate':
    case 'not':
      return { ...AT, op: bound.op, of: treeOf(bound.of) }
    case 'arithmetic':
    case 'compare':
      return { ...AT, op: bound.sign, left: treeOf(bound.left), right: treeOf(bound.right) }
    case 'and':
    case 'or':
      return { ...AT, op: bound.op, left: treeOf(bound.left), right: treeOf(bound.right) }
    case 'during':
      return duringTree(bound)
    case 'contains':
      return { ...AT, op: 'contains', left: treeOf(bound.of), right: { ...AT, op: 'text', value: bound.text } }
    case 'in':
      return { ...AT, op: 'in', of: treeOf(bound.of), list: bound.list.map(treeOf), not: bound.not }
    case 'missing':
      return { ...AT, op: 'missing', of: treeOf(bound.of), not: bound.not }
    case 'if':
      return { ...AT, op: 'if', test: treeOf(bound.test), yes: treeOf(bound.yes), no: treeOf(bound.no) }
    default:
      throw new Error(`${bound.op} is not worked out for rows`)
  }
}

function call(name: string, ...args: readonly Bound[]): Tree {
  return { ...AT, op: 'call', name, args: args.map(treeOf) }
}

function numberTree(value: number, percent: boolean): Tree {
  const size: Tree = { ...AT, op: 'number', value: Math.abs(value), percent }
  return value < 0 ? { ...AT, op: 'negate', of: size } : size
}

function duringTree({ sign, of, span }: Bound & { op: 'during' }): Tree {
  const compared = (how: '<' | '<=' | '>' | '>=', day: number): Tree => ({
    ...AT,
    op: how,
    left: treeOf(of),
    right: { ...AT, op: 'period', text: dayText(day) },
  })
  if (sign === '=' || sign === '!=') {
    const inside: Tree = { ...AT, op: 'and', left: compared('>=', span.from), right: compared('<=', span.to) }
    return sign === '=' ? inside : { ...AT, op: 'not', of: inside }
  }
  return compared(sign, sign === '<' || sign === '>=' ? span.from : span.to)
}
