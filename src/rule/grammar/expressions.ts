import { ExpressionReader, isTree, parseExpression } from '../../expression/parse.js'
import { printExpression, printSum } from '../../expression/print.js'
import { RESERVED } from '../../expression/reserved.js'
import { type Tree, treeParts } from '../../expression/tree.js'
import { ordinal } from '../../format/ordinal.js'
import { ProblemError } from '../../problem/problem.js'
import type { Limit } from '../../spec/rules.js'
import type { Leaf } from './productions.js'
import type { SentenceReader } from './reader.js'
import { nameInSentence, namesInSentence, WORDS } from './words.js'

const STATISTICS: Readonly<Record<string, string>> = {
  mean: 'average',
  median: 'median',
  lowest: 'lowest',
  highest: 'highest',
}
const BY_WORD = new Map(Object.entries(STATISTICS).map(([name, word]) => [word, name]))

/** Reads an expression inside a sentence, with the words that sentences add to it. */
class LimitReader extends ExpressionReader {
  /** Whether the text differs from that of an expression. */
  reworded = false

  constructor(private readonly reader: SentenceReader) {
    super(reader.text, reader.tokens, reader.at)
  }

  protected override share(): Tree {
    const { at } = this
    const token = this.peek()
    if (token.kind === 'percent' && this.wordAt(1, 'of') && this.wordAt(2, 'the') && this.wordAt(3, 'range')) {
      this.at += 4
      this.reworded = true
      const share: Tree = {
        op: 'number',
        value: Number(token.text) / 100,
        percent: true,
        from: token.from,
        to: token.to,
      }
      return { op: 'call', name: 'ofRange', args: [share], from: token.from, to: this.tokens[at + 3].to }
    }
    return super.share()
  }

  protected override primary(): Tree {
    const token = this.peek()
    if (token.kind === 'name' && token.text.toLowerCase() === 'the') {
      const found = this.statistic()
      if (found !== undefined) return found
    }
    const { reader } = this
    if (token.kind === 'quoted' || (token.kind === 'name' && !RESERVED.has(token.text) && !this.isCallOrSource())) {
      reader.at = this.at
      const name = reader.name('values', 'a name')
      if (name !== undefined) {
        this.at = reader.at
        if (name !== token.text || token.kind === 'quoted') this.reworded = true
        return { op: 'name', name, from: token.from, to: this.tokens[this.at - 1].to }
      }
      throw new ProblemError([reader.problem()])
    }
    return super.primary()
  }

  protected override needName(): string {
    const token = this.peek()
    if (token.kind !== 'quoted') return super.needName()
    this.at++
    this.reworded = true
    return token.text
  }

  private isCallOrSource(): boolean {
    const next = this.tokens[Math.min(this.at + 1, this.tokens.length - 1)]
    return next.kind === 'sign' && (next.text === '(' || next.text === '.')
  }

  private wordAt(ahead: number, word: string): boolean {
    const token = this.tokens[Math.min(this.at + ahead, this.tokens.length - 1)]
    return token.kind === 'name' && token.text.toLowerCase() === word
  }

  /** `the average of revenue within region`, `the 95th percentile`. */
  private statistic(): Tree | undefined {
    const from = this.peek().from
    const next = this.tokens[Math.min(this.at + 1, this.tokens.length - 1)]
    const isPercentile = next.kind === 'ordinal' && this.wordAt(2, 'percentile')
    const name = isPercentile ? 'percentile' : BY_WORD.get(next.text.toLowerCase())
    if (name === undefined || (next.kind !== 'name' && next.kind !== 'ordinal')) return undefined
    this.at += isPercentile ? 3 : 2
    this.reworded = true
    const { reader } = this
    let of = 'value'
    if (this.takeWord('of')) {
      reader.at = this.at
      const written = reader.name('values', 'a name')
      if (written === undefined) throw new ProblemError([reader.problem()])
      of = written
      this.at = reader.at
    }
    const place = { from, to: this.tokens[this.at - 1].to }
    const args: Tree[] = [{ op: 'name', name: of, ...place }]
    if (isPercentile) args.push({ op: 'number', value: Number(next.text) / 100, percent: true, ...place })
    const call: Tree & { op: 'call' } = { op: 'call', name, args, ...place }
    if (this.takeWord('within')) {
      call.within = this.keys()
      call.to = this.tokens[this.at - 1].to
    }
    return call
  }

  private keys(): string[] {
    if (this.takeWord('all')) return []
    const { reader } = this
    reader.at = this.at
    const names = readNames(reader, 'values', true)
    if (names === undefined) throw new ProblemError([reader.problem()])
    this.at = reader.at
    return names
  }
}

/**
 * `a`, `a and b`, `a, b and c`.
 *
 * @param inTest inside a test another one may follow: then a word of the grammar ends the names.
 * @param what what is expected, for messages and completion.
 */
export function readNames(
  reader: SentenceReader,
  kind: 'values' | 'exhibits' = 'values',
  inTest = false,
  what = kind === 'values' ? 'a name' : 'an exhibit',
): string[] | undefined {
  const names: string[] = []
  for (;;) {
    const name = reader.attempt(() => reader.name(kind, what))
    if (name === undefined) return names.length === 0 ? undefined : names
    names.push(name)
    const more = reader.attempt(() => {
      if (!reader.sign(',') && !reader.words('and')) return undefined
      const { kind: next, text } = reader.peek()
      if (inTest && next === 'name' && WORDS.has(text.toLowerCase())) return undefined
      return next === 'name' || next === 'quoted' ? true : undefined
    })
    if (more === undefined) return names
  }
}

/** Reads an expression from where the reader stands; its text is that of an expression. */
function readTree(
  reader: SentenceReader,
  what: string,
  read: (inner: LimitReader) => Tree,
): { tree: Tree; text: string } | undefined {
  const { at } = reader
  const first = reader.peek()
  if (first.kind === 'mark' || first.kind === 'end' || (first.kind === 'name' && NOT_FIRST.has(first.text))) {
    reader.miss(what)
    return undefined
  }
  const inner = new LimitReader(reader)
  try {
    const tree = read(inner)
    reader.at = inner.at
    const own = reader.text.slice(first.from, reader.tokens[inner.at - 1].to)
    // What stands there is the expression's own text, unless the sentence has other words for it.
    return { tree, text: inner.reworded || own.includes('"') ? printExpression(tree) : own }
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    reader.at = at
    const [problem] = error.problems
    return reader.fail(problem)
  }
}

const NOT_FIRST: ReadonlySet<string> = new Set(['of', 'and', 'or', 'then', 'else', 'where', 'within'])

function parsed(text: Limit): Tree | undefined {
  // A number without an exponent: an expression would read its sign as arithmetic.
  const tree = parseExpression(String(text).replace('e+', 'e'))
  return isTree(tree) ? tree : undefined
}

/** What sentences add to the smallest parts of an expression. */
export const LIMIT_EBNF =
  '… | name | percent "of" "the" "range" | "the" ( "average" | "median" | "lowest" | "highest" | ordinal "percentile" ) [ "of" name ] [ "within" ( "all" | names ) ]'

/** A limit: a number, a name, a statistic of the judged values in words, or a sum. */
export const limit: Leaf<Limit> = {
  ebnf: 'limit',
  read(reader) {
    const found = readTree(reader, 'a limit', (inner) => inner.sum())
    if (found === undefined) return undefined
    return found.tree.op === 'number' && !found.tree.percent ? found.tree.value : found.text
  },
  write(value) {
    const tree = parsed(value)
    if (tree === undefined) return String(value)
    if (tree.op === 'name' && tree.source === undefined)
      return isEnd(tree.name) ? `the ${tree.name}` : nameInSentence(tree.name)
    return statisticInWords(tree) ?? printSum(tree)
  },
}

function isEnd(name: string): boolean {
  return name === 'lowest' || name === 'highest'
}

/** An end of a scale: like a limit, but `lowest` and `highest` have no article. */
export const end: Leaf<Limit> = {
  ebnf: '( "lowest" | "highest" | limit )',
  read(reader) {
    for (const name of ['lowest', 'highest']) if (reader.words(name)) return name
    return limit.read(reader)
  },
  write(value) {
    const text = limit.write(value)
    return text === 'the lowest' || text === 'the highest' ? text.slice(4) : text
  },
}

/** The expression of `judge`: in brackets if it contains a call. */
export const judged: Leaf<string> = {
  ebnf: 'sum',
  read: (reader) => readTree(reader, 'an expression', (inner) => inner.sum())?.text,
  write(text) {
    const tree = parsed(text)
    if (tree === undefined) return text
    if (tree.op === 'name' && tree.source === undefined) return nameInSentence(tree.name)
    return treeParts(tree).some(({ op }) => op === 'call') ? `(${printExpression(tree)})` : printSum(tree)
  },
}

/** A condition after `where` or `when`. */
export const condition: Leaf<string> = {
  ebnf: 'condition',
  read: (reader) => readTree(reader, 'a condition', (inner) => inner.or())?.text,
  write: (text) => conditionInSentence(text),
}

export function conditionInSentence(text: string): string {
  const tree = parsed(text)
  return tree === undefined ? text : printExpression(tree)
}

function statisticInWords(tree: Tree): string | undefined {
  if (tree.op !== 'call' || tree.where !== undefined) return undefined
  const [of, share] = tree.args
  if (
    tree.name === 'ofRange' &&
    tree.args.length === 1 &&
    of.op === 'number' &&
    of.percent &&
    tree.within === undefined
  )
    return `${Number((of.value * 100).toPrecision(12))}% of the range`
  if (of?.op !== 'name' || of.source !== undefined) return undefined
  const isPercentile = tree.name === 'percentile' && share?.op === 'number' && share.percent
  // A percentile in words is a whole one.
  const statistic = isPercentile
    ? Number.isInteger(Number((share.value * 100).toPrecision(12)))
      ? `${ordinal(share.value * 100)} percentile`
      : undefined
    : tree.args.length === 1 && Object.hasOwn(STATISTICS, tree.name)
      ? STATISTICS[tree.name]
      : undefined
  if (statistic === undefined) return undefined
  const whose = of.name === 'value' ? '' : ` of ${nameInSentence(of.name)}`
  const { within } = tree
  const group = within === undefined ? '' : ` within ${within.length === 0 ? 'all' : namesInSentence(within)}`
  return `the ${statistic}${whose}${group}`
}
