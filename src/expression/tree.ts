import type { PeriodUnit } from '../time/period.js'

/** An expression as written. `from` and `to` are its span in the text. */
export type Tree = { from: number; to: number } & (
  | { op: 'number'; value: number; percent: boolean }
  | { op: 'text'; value: string }
  | { op: 'truth'; value: boolean }
  | { op: 'period'; text: string }
  | { op: 'duration'; count: number; unit: PeriodUnit }
  | { op: 'name'; name: string; source?: string }
  | {
      op: 'call'
      name: string
      args: Tree[]
      where?: Tree
      within?: string[]
      /** The span of the names of `within`. */
      withinAt?: { from: number; to: number }
    }
  | { op: 'negate' | 'not'; of: Tree }
  | { op: Binary; left: Tree; right: Tree }
  | { op: 'in'; of: Tree; list: Tree[]; not: boolean }
  | { op: 'missing'; of: Tree; not: boolean }
  | { op: 'if'; test: Tree; yes: Tree; no: Tree }
)

export type Arithmetic = '+' | '-' | '*' | '/' | 'of'
export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>='
export type Binary = Arithmetic | Comparison | 'contains' | 'and' | 'or'

export function isArithmetic(op: string): op is Arithmetic {
  return op === '+' || op === '-' || op === '*' || op === '/' || op === 'of'
}

export function isComparison(op: string): op is Comparison {
  return op === '=' || op === '!=' || op === '<' || op === '<=' || op === '>' || op === '>='
}

/** A tree and all its parts, outermost first. */
export function treeParts(tree: Tree): Tree[] {
  return [tree, ...operandsOfTree(tree).flatMap(treeParts)]
}

function operandsOfTree(tree: Tree): Tree[] {
  switch (tree.op) {
    case 'call':
      return tree.where === undefined ? tree.args : [...tree.args, tree.where]
    case 'negate':
    case 'not':
    case 'missing':
      return [tree.of]
    case 'in':
      return [tree.of, ...tree.list]
    case 'if':
      return [tree.test, tree.yes, tree.no]
    default:
      return 'left' in tree ? [tree.left, tree.right] : []
  }
}
