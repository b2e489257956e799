import { isStatistic } from '../../column/statistic.js'
import { isTree, parseExpression } from '../../expression/parse.js'
import { nameText } from '../../expression/print.js'
import { RESERVED } from '../../expression/reserved.js'
import { tokenize } from '../../expression/token.js'
import type { Tree } from '../../expression/tree.js'

/** A name that is looked for in an expression, and what stands there instead. */
export interface Renaming {
  /** Whether a name at a place is the one: outside or inside an aggregate, or as a key. */
  isMeant(name: string, source: string | undefined, at: 'outside' | 'inside' | 'key'): boolean
  /** The new name; of a source, the part before the dot. */
  to: string
  part: 'name' | 'source'
}

/**
 * Renames in an expression by the positions of its names; everything else keeps its spelling. An
 * expression that cannot be read stays as it is.
 */
export function renamedExpression(text: string, renaming: Renaming): string {
  const tree = parseExpression(text)
  if (!isTree(tree)) return text
  const edits: { from: number; to: number; written: string }[] = []
  collect(tree, false, text, renaming, edits)
  edits.sort((a, b) => b.from - a.from)
  let made = text
  for (const { from, to, written } of edits) made = made.slice(0, from) + written + made.slice(to)
  return made
}

function collect(
  tree: Tree,
  isInside: boolean,
  text: string,
  renaming: Renaming,
  edits: { from: number; to: number; written: string }[],
): void {
  const at = isInside ? 'inside' : 'outside'
  switch (tree.op) {
    case 'name':
      if (renaming.isMeant(tree.name, tree.source, at)) edits.push(...namePlaces(text, tree, renaming))
      return
    case 'call': {
      const inner = isInside || isStatistic(tree.name)
      for (const arg of tree.args) collect(arg, inner, text, renaming, edits)
      if (tree.where !== undefined) collect(tree.where, inner, text, renaming, edits)
      if (tree.within !== undefined && tree.withinAt !== undefined)
        edits.push(...keyPlaces(text, tree.withinAt, renaming))
      return
    }
    case 'negate':
    case 'not':
    case 'missing':
      collect(tree.of, isInside, text, renaming, edits)
      return
    case 'in':
      for (const part of [tree.of, ...tree.list]) collect(part, isInside, text, renaming, edits)
      return
    case 'if':
      for (const part of [tree.test, tree.yes, tree.no]) collect(part, isInside, text, renaming, edits)
      return
    default:
      if ('left' in tree) for (const part of [tree.left, tree.right]) collect(part, isInside, text, renaming, edits)
  }
}

/** Where a name stands inside its span, which may have brackets around it. */
function namePlaces(
  text: string,
  { from, to, name, source }: Tree & { op: 'name' },
  { to: next, part }: Renaming,
): { from: number; to: number; written: string }[] {
  const span = text.slice(from, to)
  const tokens = tokenize(span)
  if (!Array.isArray(tokens)) return []
  const first = tokens.findIndex(({ kind }) => kind === 'name')
  if (first < 0) return []
  const own = tokens[first]
  const place = (a: number, b: number, written: string): { from: number; to: number; written: string }[] => [
    { from: from + a, to: from + b, written },
  ]
  if (source !== undefined) {
    const second = tokens[first + 2]
    return part === 'source' ? place(own.from, own.to, next) : place(second.from, second.to, next)
  }
  // `column('Net sales')`: whole, also where the new name needs no quotes.
  const isCall = own.text === 'column' && name !== 'column'
  const close = isCall ? tokens.findIndex(({ text: mark }, i) => i > first && mark === ')') : first
  return place(own.from, tokens[close].to, nameText(next))
}

/** The keys behind `within`: names, or a table and its column. */
function keyPlaces(
  text: string,
  { from, to }: { from: number; to: number },
  renaming: Renaming,
): { from: number; to: number; written: string }[] {
  const tokens = tokenize(text.slice(from, to))
  if (!Array.isArray(tokens)) return []
  const edits: { from: number; to: number; written: string }[] = []
  for (let i = 0; i < tokens.length; i++) {
    if (tokens[i].kind !== 'name') continue
    const isDotted = tokens[i + 1]?.text === '.' && tokens[i + 2]?.kind === 'name'
    const source = isDotted ? tokens[i].text : undefined
    const name = isDotted ? tokens[i + 2].text : tokens[i].text
    if (renaming.isMeant(name, source, 'key')) {
      const token = isDotted && renaming.part === 'name' ? tokens[i + 2] : tokens[i]
      edits.push({ from: from + token.from, to: from + token.to, written: renaming.to })
    }
    if (isDotted) i += 2
  }
  return edits
}

/** Whether a name can stand in an expression without quotes. */
export function isPlainName(name: string): boolean {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && !RESERVED.has(name)
}

/** Renames between braces: `{growth} on last year`. */
export function renamedBraces(text: string, isMeant: (name: string) => boolean, to: string): string {
  return text.replace(/\{([^{}]*)\}/g, (whole, inner: string) =>
    isMeant(inner.trim()) ? whole.replace(inner.trim(), () => to) : whole,
  )
}
