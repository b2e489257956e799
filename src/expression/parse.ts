import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { PERIOD_UNITS, type PeriodUnit } from '../time/period.js'
import { RESERVED } from './reserved.js'
import { span, type Token, tokenize } from './token.js'
import { type Binary, isArithmetic, isComparison, type Tree } from './tree.js'

/** The longest expression, in characters. */
export const MAX_EXPRESSION_LENGTH = 4000
/** The deepest nesting: far below the limit of the stack, far above what people write. */
export const MAX_EXPRESSION_DEPTH = 100

/** Parses a text; returns its tree or its first problem. */
export function parseExpression(text: string): Tree | Problem {
  if (text.length > MAX_EXPRESSION_LENGTH) return problem('expression-too-long', { most: MAX_EXPRESSION_LENGTH })
  if (text.trim() === '') return problem('expression-empty', {}, span(text, 0, 1))
  const tokens = tokenize(text)
  if (!Array.isArray(tokens)) return tokens
  const reader = new ExpressionReader(text, tokens)
  try {
    const tree = reader.expression()
    reader.finish()
    return tree
  } catch (error) {
    // A thrown problem leaves the recursion; it never leaves this function.
    if (error instanceof ProblemError) return error.problems[0]
    throw error
  }
}

export function isTree(parsed: Tree | Problem): parsed is Tree {
  return 'op' in parsed
}

/**
 * Reads an expression from tokens: one method for each level of precedence, the loosest first. A
 * language around expressions reads a part from where it stands, and goes on behind it.
 */
export class ExpressionReader {
  protected depth = 0

  constructor(
    protected readonly text: string,
    protected readonly tokens: readonly Token[],
    /** The next token. */
    public at = 0,
  ) {}

  finish(): void {
    const token = this.peek()
    if (token.kind === 'end') return
    const advice =
      token.kind === 'name' && !RESERVED.has(token.text)
        ? 'is an operator or a comma missing before it?'
        : token.text === ')'
          ? 'no bracket is open'
          : token.text === ','
            ? 'numbers are written plainly: 1200, and 1.5 with a point'
            : undefined
    this.fail(problem('expression-stray', { found: this.raw(token), advice }, this.place(token)))
  }

  expression(): Tree {
    if (++this.depth > MAX_EXPRESSION_DEPTH)
      this.fail(problem('expression-too-deep', { most: MAX_EXPRESSION_DEPTH }, this.place(this.peek())))
    const tree = this.takeWord('if') ? this.choice(this.tokens[this.at - 1].from) : this.or()
    this.depth--
    return tree
  }

  private choice(from: number): Tree {
    const test = this.expression()
    this.needWord('then')
    const yes = this.expression()
    this.needWord('else')
    const no = this.expression()
    return { op: 'if', test, yes, no, from, to: no.to }
  }

  or(): Tree {
    let left = this.and()
    while (this.takeWord('or')) left = this.join('or', left, this.and())
    return left
  }

  private and(): Tree {
    let left = this.negation()
    while (this.takeWord('and')) left = this.join('and', left, this.negation())
    return left
  }

  private negation(): Tree {
    const token = this.peek()
    if (!this.takeWord('not')) return this.comparison()
    this.deeper()
    const of = this.negation()
    this.depth--
    return { op: 'not', of, from: token.from, to: of.to }
  }

  private comparison(): Tree {
    const left = this.sum()
    const token = this.peek()
    if (token.kind === 'sign' && isComparison(token.text)) {
      this.at++
      return this.join(token.text, left, this.sum())
    }
    if (this.takeWord('contains')) return this.join('contains', left, this.sum())
    if (this.takeWord('is')) {
      const not = this.takeWord('not')
      this.needWord('missing')
      return { op: 'missing', of: left, not, from: left.from, to: this.tokens[this.at - 1].to }
    }
    const not = token.text === 'not' && token.kind === 'name'
    if (not) this.at++
    if (this.takeWord('in')) return this.membership(left, not)
    if (not) this.fail(this.expected('in', this.peek()))
    return left
  }

  private membership(of: Tree, not: boolean): Tree {
    this.needSign('(')
    const list = [this.expression()]
    while (this.takeSign(',')) list.push(this.expression())
    const close = this.needSign(')')
    return { op: 'in', of, list, not, from: of.from, to: close.to }
  }

  sum(): Tree {
    return this.chain(['+', '-'], () => this.product())
  }

  private product(): Tree {
    return this.chain(['*', '/'], () => this.share())
  }

  private chain(signs: readonly string[], next: () => Tree): Tree {
    let left = next()
    for (;;) {
      const token = this.peek()
      if (token.kind !== 'sign' || !signs.includes(token.text) || !isArithmetic(token.text)) return left
      this.at++
      left = this.join(token.text, left, next())
    }
  }

  protected share(): Tree {
    const left = this.unary()
    if (!this.takeWord('of')) return left
    // `10% of 50% of x` is 10% of (50% of x).
    this.deeper()
    const right = this.share()
    this.depth--
    return this.join('of', left, right)
  }

  protected unary(): Tree {
    const token = this.peek()
    if (!this.takeSign('-')) return this.primary()
    this.deeper()
    const of = this.unary()
    this.depth--
    return { op: 'negate', of, from: token.from, to: of.to }
  }

  protected primary(): Tree {
    const token = this.peek()
    const { from, to } = token
    if (token.kind === 'number' || token.kind === 'percent') {
      this.at++
      const percent = token.kind === 'percent'
      const unit = percent ? undefined : this.takeUnit()
      // `1 year`: the distance of lag().
      if (unit !== undefined)
        return { op: 'duration', count: Number(token.text), unit, from, to: this.tokens[this.at - 1].to }
      // Dividing the decimal text gives the nearest double: 7% is exactly 0.07.
      return { op: 'number', value: percent ? Number(token.text) / 100 : Number(token.text), percent, from, to }
    }
    if (token.kind === 'text') {
      this.at++
      return { op: 'text', value: token.text, from, to }
    }
    if (token.kind === 'period') {
      this.at++
      return { op: 'period', text: token.text, from, to }
    }
    if (this.takeSign('(')) {
      const inner = this.expression()
      const close = this.needSign(')')
      return { ...inner, from, to: close.to }
    }
    if (token.kind === 'name' && (token.text === 'true' || token.text === 'false')) {
      this.at++
      return { op: 'truth', value: token.text === 'true', from, to }
    }
    if (token.kind === 'name' && token.text === 'if') return this.expression()
    if (token.kind === 'name' && !RESERVED.has(token.text)) return this.named()
    return this.fail(this.expected('a number, a text or a name', token))
  }

  protected named(): Tree {
    const first = this.tokens[this.at++]
    if (this.takeSign('.')) {
      const second = this.peek()
      if (second.kind !== 'name') this.fail(this.expected('a column', second))
      this.at++
      return { op: 'name', name: second.text, source: first.text, from: first.from, to: second.to }
    }
    if (!this.takeSign('(')) return { op: 'name', name: first.text, from: first.from, to: first.to }
    const args: Tree[] = []
    if (!(this.peek().kind === 'sign' && this.peek().text === ')')) {
      args.push(this.expression())
      while (this.takeSign(',')) args.push(this.expression())
    }
    const close = this.needSign(')')
    if (first.text === 'column' && args.length === 1 && args[0].op === 'text')
      return { op: 'name', name: args[0].value, from: first.from, to: close.to }
    return this.clauses({ op: 'call', name: first.text, args, from: first.from, to: close.to })
  }

  private clauses(call: Tree & { op: 'call' }): Tree {
    for (;;) {
      if (call.where === undefined && this.takeWord('where')) {
        // A condition extends as far as possible; brackets around the aggregate end it.
        this.deeper()
        call.where = this.or()
        this.depth--
      } else if (call.within === undefined && this.takeWord('within')) {
        const { from } = this.peek()
        call.within = this.groups()
        call.withinAt = { from, to: this.tokens[this.at - 1].to }
      } else return call
      call.to = this.tokens[this.at - 1].to
    }
  }

  protected groups(): string[] {
    if (this.takeWord('all')) return []
    if (this.peek().kind === 'name' && this.peek().text === 'everything')
      this.fail(problem('renamed', { old: 'within everything', now: 'within all' }, this.place(this.peek())))
    if (!this.takeSign('(')) return [this.keyName()]
    const names = [this.keyName()]
    while (this.takeSign(',')) names.push(this.keyName())
    this.needSign(')')
    return names
  }

  /** A key, maybe of a lookup table: `shops.manager`. */
  private keyName(): string {
    const name = this.needName()
    return this.takeSign('.') ? `${name}.${this.needName()}` : name
  }

  protected join(op: Binary, left: Tree, right: Tree): Tree {
    return { op, left, right, from: left.from, to: right.to } as Tree
  }

  protected deeper(): void {
    if (++this.depth > MAX_EXPRESSION_DEPTH)
      this.fail(problem('expression-too-deep', { most: MAX_EXPRESSION_DEPTH }, this.place(this.peek())))
  }

  protected peek(): Token {
    return this.tokens[this.at]
  }

  protected takeWord(word: string): boolean {
    const token = this.peek()
    if (token.kind !== 'name' || token.text !== word) return false
    this.at++
    return true
  }

  private takeUnit(): PeriodUnit | undefined {
    const token = this.peek()
    if (token.kind !== 'name') return undefined
    const unit = PERIOD_UNITS.find((name) => token.text === name || token.text === `${name}s`)
    if (unit !== undefined) this.at++
    return unit
  }

  protected takeSign(sign: string): boolean {
    const token = this.peek()
    if (token.kind !== 'sign' || token.text !== sign) return false
    this.at++
    return true
  }

  private needWord(word: string): void {
    if (!this.takeWord(word)) this.fail(this.expected(word, this.peek()))
  }

  protected needSign(sign: string): Token {
    const token = this.peek()
    if (!this.takeSign(sign)) this.fail(this.expected(sign, token))
    return token
  }

  protected needName(): string {
    const token = this.peek()
    if (token.kind !== 'name' || RESERVED.has(token.text)) this.fail(this.expected('a name', token))
    this.at++
    return token.text
  }

  protected expected(expected: string, token: Token): Problem {
    if (token.kind === 'end') return problem('expression-end', { expected }, this.place(token))
    return problem('expression-expected', { expected, found: this.raw(token) }, this.place(token))
  }

  protected raw(token: Token): string {
    return this.text.slice(token.from, token.to)
  }

  protected place(token: Token): { text: string; from: number; to: number } {
    return span(this.text, token.from, Math.max(token.to, token.from + 1))
  }

  protected fail(problem: Problem): never {
    throw new ProblemError([problem])
  }
}
