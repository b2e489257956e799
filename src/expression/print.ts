import { RESERVED } from './reserved.js'
import { isArithmetic, isComparison, type Tree } from './tree.js'

/** The precedence of an operator; a lower one inside a higher one gets brackets. */
const IF = 0
const OR = 1
const AND = 2
const NOT = 3
const COMPARE = 4
const SUM = 5
const PRODUCT = 6
const OF = 7
const UNARY = 8
const ATOM = 9

/**
 * The canonical text of an expression: single spaces, brackets only where needed. Parsing it gives
 * the same tree.
 */
export function printExpression(tree: Tree): string {
  return print(tree, IF)
}

/** The same where the grammar allows only sums: logic, comparisons and `if` get brackets. */
export function printSum(tree: Tree): string {
  return print(tree, SUM)
}

function print(tree: Tree, holds: number): string {
  const strength = strengthOf(tree)
  const text = write(tree)
  return strength < holds ? `(${text})` : text
}

function strengthOf(tree: Tree): number {
  const { op } = tree
  if (op === 'if') return IF
  if (op === 'or') return OR
  if (op === 'and') return AND
  if (op === 'not') return NOT
  if (op === 'in' || op === 'missing' || op === 'contains' || isComparison(op)) return COMPARE
  if (op === '+' || op === '-') return SUM
  if (op === '*' || op === '/') return PRODUCT
  if (op === 'of') return OF
  if (op === 'negate') return UNARY
  // A clause extends as far as possible, so a call that has one gets brackets wherever something
  // follows.
  if (op === 'call' && tree.where !== undefined) return IF
  return ATOM
}

function write(tree: Tree): string {
  switch (tree.op) {
    case 'number':
      return tree.percent ? `${percentText(tree.value)}%` : plainNumber(tree.value)
    case 'text':
      return quoteText(tree.value)
    case 'truth':
      return String(tree.value)
    case 'period':
      return tree.text
    case 'duration':
      return `${plainNumber(tree.count)} ${tree.unit}${tree.count === 1 ? '' : 's'}`
    case 'name':
      return tree.source === undefined ? nameText(tree.name) : `${tree.source}.${tree.name}`
    case 'call':
      return writeCall(tree)
    case 'negate':
      return `-${print(tree.of, UNARY)}`
    case 'not':
      return `not ${print(tree.of, NOT)}`
    case 'in':
      return `${print(tree.of, SUM)} ${tree.not ? 'not ' : ''}in (${tree.list.map((t) => print(t, IF)).join(', ')})`
    case 'missing':
      return `${print(tree.of, SUM)} is ${tree.not ? 'not ' : ''}missing`
    case 'if':
      return `if ${print(tree.test, IF)} then ${print(tree.yes, IF)} else ${print(tree.no, IF)}`
    default:
      return writeBinary(tree)
  }
}

function writeBinary(tree: Tree & { left: Tree; right: Tree }): string {
  const strength = strengthOf(tree)
  // Arithmetic and logic are left-associative, `of` is right-associative, comparisons do not chain.
  const leansRight = tree.op === 'of'
  const chains = isArithmetic(tree.op) || tree.op === 'and' || tree.op === 'or'
  const left = print(tree.left, leansRight || !chains ? strength + 1 : strength)
  const right = print(tree.right, leansRight ? strength : strength + 1)
  return `${left} ${tree.op} ${right}`
}

function writeCall(tree: Tree & { op: 'call' }): string {
  const parts = [`${tree.name}(${tree.args.map((t) => print(t, IF)).join(', ')})`]
  if (tree.within !== undefined) {
    const groups = tree.within
    parts.push(`within ${groups.length === 0 ? 'all' : groups.length === 1 ? groups[0] : `(${groups.join(', ')})`}`)
  }
  if (tree.where !== undefined) parts.push(`where ${print(tree.where, OR)}`)
  return parts.join(' ')
}

/** A name as written in an expression: in quotes if it is not a plain word. */
export function nameText(name: string): string {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && !RESERVED.has(name) ? name : `column(${quoteText(name)})`
}

/** A text as written in an expression. */
export function quoteText(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** Digits without an exponent: the grammar could read its sign as arithmetic. */
function plainNumber(value: number): string {
  return String(value).replace('e+', 'e')
}

/** The shortest percent that is exactly `value`. */
function percentText(value: number): string {
  const whole = Math.round(value * 100)
  if (whole / 100 === value && whole < 1000) return String(whole)
  const short = String(Number((value * 100).toPrecision(15)))
  return (Number(short) / 100 === value ? short : String(value * 100)).replace('e+', 'e')
}
