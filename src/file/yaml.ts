import {
  type Document,
  isAlias,
  isMap,
  isPair,
  isScalar,
  isSeq,
  Lexer,
  type Node,
  type Pair,
  type Scalar,
  visit,
} from 'yaml'
import { type Place, type Problem, problem } from '../problem/problem.js'
import { isParsed, parsedYaml } from './parsed.js'

/** The longest report file, in characters. */
export const MAX_FILE_LENGTH = 1_000_000
/** The deepest nesting of a report file. A normal report has 8 levels. */
export const MAX_FILE_DEPTH = 64

/** A report file as a tree, and the map from paths in the tree to places in the file. */
export interface ReadFile {
  tree: unknown
  problems: Problem[]
  /** Adds file, line and column to a problem that has a path. */
  place(problem: Problem): Problem
}

/**
 * Reads YAML 1.2 (core schema) or JSON. Text that YAML reads otherwise than its writer means is
 * recognised and explained.
 */
export function readYaml(text: string, file: string | undefined): ReadFile {
  const only = (p: Problem): ReadFile => {
    const located = file === undefined ? p : { ...p, place: { ...p.place, file } }
    return { tree: undefined, problems: [located], place: (q) => q }
  }
  if (text.length > MAX_FILE_LENGTH) return only(problem('file-too-long', { most: MAX_FILE_LENGTH }))
  if (text.trim() === '') return only(problem('file-empty', {}))
  const deep = isParsed(text) ? undefined : tooDeep(text)
  if (deep !== undefined) return only(problem('file-too-deep', { most: MAX_FILE_DEPTH }, lineOf(text, deep)))
  const { doc, lines } = parsedYaml(text)
  const at = (offset: number, more: Place = {}): Place => {
    const { line, col } = lines.linePos(offset)
    return { ...more, ...(file === undefined ? {} : { file }), line, column: col }
  }
  const problems: Problem[] = []
  for (const error of doc.errors) problems.push(unclosedText(error, doc, at) ?? syntaxProblem(error, text, at))
  problems.push(...traps(doc, text, at))
  // What the checks below explain is not reported again in the words of the library; in a broken
  // text a missing value means nothing.
  const broken = doc.errors.length > 0
  const serious = problems.filter((p) => p.code !== 'yaml-broken' && !(broken && p.code === 'yaml-null'))
  const shown = broken && serious.length === 0 ? problems.filter((p) => p.code === 'yaml-broken') : serious
  const unread = broken || serious.some((p) => p.code === 'yaml-alias')
  const tree = unread ? undefined : doc.toJS({ maxAliasCount: 0 })
  return {
    tree,
    problems: onceEach(shown),
    place: (p) => locateProblem(p, doc, at),
  }
}

/** The library may report one value twice. */
function onceEach(problems: readonly Problem[]): Problem[] {
  const seen = new Set<string>()
  return problems.filter(({ code, place }) => {
    const isOwn = code === 'yaml-null' || code === 'yaml-key-twice'
    const id = `${code} ${place.line} ${isOwn || code === 'yaml-leading-zero' ? place.column : ''}`
    return seen.has(id) ? false : seen.add(id)
  })
}

/**
 * The offset where brackets or indentation nest too deeply, found before anything recursive reads
 * the text.
 */
function tooDeep(text: string): number | undefined {
  let flow = 0
  let offset = 0
  let indent = ''
  for (const token of new Lexer().lex(text)) {
    // The lexer marks tokens with control characters that are not part of the text.
    if (token === '\u0002' || token === '\u0018' || token === '\u001f') continue
    if (token === '[' || token === '{') flow++
    if (token === ']' || token === '}') flow--
    if (flow > MAX_FILE_DEPTH) return offset
    if (/^ +$/.test(token)) indent = token
    if (indent.length > MAX_FILE_DEPTH * 8 || /^(?:- ){64}/.test(text.slice(offset, offset + 160))) return offset
    offset += token.length
  }
  return undefined
}

function lineOf(text: string, offset: number): Place {
  const before = text.slice(0, offset).split('\n')
  return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 }
}

/**
 * A text without its closing quote is reported where it begins; the place where the quote is
 * missing may be lines away.
 */
function unclosedText(error: { code: string; message: string }, doc: Document.Parsed, at: At): Problem | undefined {
  if (error.code !== 'MISSING_CHAR' || !error.message.includes('quote')) return undefined
  let last: Scalar | undefined
  visit(doc, {
    Scalar(_, node) {
      if (node.type === 'QUOTE_SINGLE' || node.type === 'QUOTE_DOUBLE') last = node
    },
  })
  if (last === undefined) return undefined
  const quote = last.type === 'QUOTE_SINGLE' ? "'" : '"'
  return problem('yaml-unclosed', { quote }, at(startOf(last)))
}

function syntaxProblem(
  error: { code: string; message: string; pos: [number, number] },
  text: string,
  at: (offset: number) => Place,
): Problem {
  const [from] = error.pos
  const start = text.lastIndexOf('\n', from - 1) + 1
  const end = text.indexOf('\n', start)
  const line = text.slice(start, end < 0 ? undefined : end)
  const value = (pattern: RegExp): { text: string; at: number } | undefined => {
    const match = pattern.exec(line)
    return match === null ? undefined : { text: match[1].trim(), at: start + line.indexOf(match[1], match.index) }
  }
  const block = value(/:\s+([>|]\s*[^\s+\-\d#].*)$/)
  if (block !== undefined) return problem('yaml-block-text', { text: block.text }, at(block.at))
  const operator = value(/:\s+([<>]=?\s*[-\w.%][^,}\]]*)/)
  if (operator !== undefined) return problem('yaml-operator', { text: operator.text }, at(operator.at))
  const braces = value(/:\s+(\{[A-Za-z_]\w*\}.+)$/)
  if (braces !== undefined) return problem('yaml-braces', { text: braces.text }, at(braces.at))
  if (ARROW.test(line)) {
    const quoted = /^\s*(?:-|\w+:)\s+'(.*)'\s*$/.exec(line)
    if (quoted !== null) return problem('yaml-sentence-quotes', { text: quoted[1] }, at(from))
    const said = /^\s*-\s+([^'"{[].*:\s.*:\s.*)$/.exec(line)
    if (said !== null) return problem('yaml-sentence-colon', { text: said[1] }, at(from))
  }
  const [why] = error.message.split(/ at line \d+/)
  return problem('yaml-broken', { why: why.charAt(0).toLowerCase() + why.slice(1) }, at(from))
}

type At = (offset: number, more?: Place) => Place

/** Text that YAML reads otherwise than its writer means. */
/** Keys that stand before in the same map. */
function keysTwice(items: readonly Pair[]): { key: string; offset: number }[] {
  const seen = new Set<string>()
  return items.flatMap(({ key }) => {
    if (!isScalar(key)) return []
    const name = String(key.value)
    if (seen.has(name)) return [{ key: name, offset: startOf(key) }]
    seen.add(name)
    return []
  })
}

function traps(doc: Document.Parsed, text: string, at: At): Problem[] {
  const problems: Problem[] = []
  const explained = new Set<unknown>()
  visit(doc, {
    Alias(_, node) {
      problems.push(problem('yaml-alias', {}, at(startOf(node))))
    },
    Map(_, map) {
      for (const { key, offset } of keysTwice(map.items))
        problems.push(problem('yaml-key-twice', { key: key.trim() === '' ? 'an empty key' : key }, at(offset)))
      const braces = bracesText(map, text)
      if (braces !== undefined) {
        problems.push(problem('yaml-braces', { text: braces }, at(startOf(map))))
        for (const item of map.items) explained.add(item)
      }
      if (map.flow)
        for (const cut of decimalCommas(map.items, text)) {
          problems.push(problem('yaml-decimal-comma', { text: cut.value }, at(cut.offset)))
          explained.add(cut.item)
        }
      if (map.flow)
        for (const cut of cutsAtComma(map.items, text)) {
          problems.push(problem('yaml-cut-at-comma', { value: cut.value }, at(cut.offset)))
          for (const item of cut.items) explained.add(item)
        }
    },
    Pair(_, pair) {
      if (explained.has(pair) || !isNothing(pair.value)) return
      const hash = hashBehind(pair, text)
      const offset = isNode(pair.key) ? startOf(pair.key) : 0
      if (hash !== undefined) problems.push(problem('yaml-cut-at-hash', { rest: hash }, at(offset)))
      else problems.push(problem('yaml-null', { key: keyText(pair) }, at(offset)))
    },
    Seq(_, seq) {
      seq.items.forEach((item, i) => {
        if (isNothing(item))
          problems.push(
            problem('yaml-null', { key: `item ${i + 1} of the list` }, at(isNode(item) ? startOf(item) : startOf(seq))),
          )
      })
    },
    Scalar(key, node) {
      problems.push(...scalarTraps(key, node, text, at))
    },
  })
  return problems
}

function scalarTraps(key: unknown, node: Scalar, text: string, at: At): Problem[] {
  const { source } = node
  if (typeof node.value === 'number' && source !== undefined && /^[-+]?0\d/.test(source))
    return [problem('yaml-leading-zero', { text: source, value: node.value }, at(startOf(node)))]
  const end = node.range?.[1]
  if (key === 'key' || end === undefined || node.type !== 'PLAIN' || isNothing(node)) return []
  // A space before and none after: `Shop #1` is meant as text, `Shop # the first` as a comment.
  const behind = /^[ \t]+#([^\s#!-][^\n]*)/.exec(text.slice(end, end + 200))
  return behind === null ? [] : [problem('yaml-cut-at-hash', { rest: `${source} #${behind[1]}` }, at(startOf(node)))]
}

/** `{growth} on last year` and `{growth}`: a flow map whose one key has no value. */
function bracesText(
  map: { flow?: boolean; items: Pair[]; range?: [number, number, number] | null },
  text: string,
): string | undefined {
  const [item] = map.items
  if (!map.flow || map.items.length !== 1 || item.value !== null || !map.range) return undefined
  return text.slice(map.range[0], map.range[1])
}

/** `{ atLeast: 1,5 }` gives atLeast 1 and a key 5 without a value. */
function decimalCommas(items: readonly Pair[], text: string): { value: string; offset: number; item: Pair }[] {
  return items.flatMap((item, i) => {
    const before = items[i - 1]?.value
    if (!isNothing(item.value) || !isNode(item.key) || !isScalar(before) || before.range == null) return []
    const value = text.slice(startOf(before), item.key.range?.[1] ?? 0)
    return /^[-+]?\d+,\d+%?$/.test(value) ? [{ value, offset: startOf(before), item }] : []
  })
}

/**
 * `{ formula: percentile(amount, 90%), label: … }` gives formula `percentile(amount` and a key
 * `90%)` without a value.
 */
function cutsAtComma(items: readonly Pair[], text: string): { value: string; offset: number; items: Pair[] }[] {
  const cuts: { value: string; offset: number; items: Pair[] }[] = []
  for (let i = 0; i < items.length; i++) {
    const { value } = items[i]
    if (!isScalar(value) || typeof value.value !== 'string' || value.type !== 'PLAIN') continue
    const isSentence = ARROW.test(value.value)
    if (!isSentence && !unclosed(value.value)) continue
    const rest: Pair[] = []
    let end = value.range?.[1] ?? 0
    let whole = value.value
    for (let k = i + 1; k < items.length && items[k].value === null && (isSentence || unclosed(whole)); k++) {
      rest.push(items[k])
      end = isNode(items[k].key) ? ((items[k].key as Node).range?.[1] ?? end) : end
      whole = text.slice(startOf(value), end)
    }
    // A sentence without quotes begins with the key.
    const begin = isSentence && i === 0 && isNode(items[i].key) ? startOf(items[i].key as Node) : startOf(value)
    if (rest.length > 0) cuts.push({ value: text.slice(begin, end), offset: begin, items: rest })
  }
  return cuts
}

/** An arrow stands in sentences of rules alone. */
const ARROW = /→|->|=>/

function unclosed(text: string): boolean {
  let open = 0
  let quoted = false
  for (const c of text) {
    if (c === "'") quoted = !quoted
    if (!quoted && c === '(') open++
    if (!quoted && c === ')') open--
  }
  return open > 0 || quoted
}

/** `wash: #f4a19e`: no value, and a comment that begins without a space. */
function hashBehind(pair: Pair, text: string): string | undefined {
  const end = isNode(pair.key) ? pair.key.range?.[1] : undefined
  if (end === undefined) return undefined
  const match = /^\s*:[ \t]+(#[^\s#][^\n]*)/.exec(text.slice(end, end + 200))
  return match?.[1]
}

function isNothing(value: unknown): boolean {
  return value === null || (isScalar(value) && value.value === null)
}

function keyText(pair: Pair): string {
  const text = isScalar(pair.key) ? String(pair.key.value) : String(pair.key)
  return text.trim() === '' ? 'an empty key' : text
}

function isNode(value: unknown): value is Node {
  return isScalar(value) || isMap(value) || isSeq(value) || isAlias(value)
}

function startOf(node: Node): number {
  return node.range?.[0] ?? 0
}

/** Follows the path down the document; a missing place is reported at its nearest parent. */
function locateProblem(p: Problem, doc: Document.Parsed, at: At): Problem {
  const path = p.place.path
  if (path === undefined || p.place.line !== undefined) return p
  let node: unknown = doc.contents
  let offset = isNode(node) ? startOf(node) : 0
  let whole = true
  let key: Node | undefined
  for (const step of path) {
    if (isMap(node)) {
      const pair: Pair | undefined = node.items.find(
        (item) => isPair(item) && isScalar(item.key) && String(item.key.value) === String(step),
      )
      if (pair === undefined) {
        whole = false
        break
      }
      key = isNode(pair.key) ? pair.key : undefined
      offset = key === undefined ? offset : startOf(key)
      node = pair.value
    } else if (isSeq(node) && typeof step === 'number') {
      node = node.items[step]
      if (isNode(node)) offset = startOf(node)
    } else {
      whole = false
      break
    }
  }
  // A problem with a span is about the value; one without is about the key.
  if (isScalar(node) && p.place.from !== undefined)
    offset = inEntry(key, node, p.place) ?? spanStart(node, p.place, whole)
  else if (isScalar(node) && whole && aboutValue(p)) offset = startOf(node)
  return { ...p, place: at(offset, p.place) }
}

function aboutValue(p: Problem): boolean {
  return (
    p.code !== 'unknown-key' &&
    p.code !== 'two-of-a-name' &&
    p.code !== 'name-taken' &&
    p.code !== 'bad-name' &&
    p.code !== 'unknown-source'
  )
}

/** The place of a span of a text whose first part is a key: `revenue: at least target → ahead`. */
function inEntry(key: Node | undefined, node: Scalar, { text, from = 0 }: Place): number | undefined {
  if (!isScalar(key) || text !== `${key.value}: ${node.value}`) return undefined
  const before = String(key.value).length
  if (from <= before) return startOf(key) + from
  return spanStart(node, { text: String(node.value), from: from - before - 2 }, true)
}

/**
 * The place of a span of text in the file: exact in plain and simply quoted values, else the start
 * of the value.
 */
function spanStart(node: Scalar, place: Place, whole: boolean): number {
  const start = startOf(node)
  if (!whole && typeof node.value !== 'string') return start
  const from = place.from ?? 0
  if (node.value !== place.text) return start
  if (node.type === 'PLAIN' && !String(node.source).includes('\n')) return start + from
  const quoted = node.type === 'QUOTE_SINGLE' || node.type === 'QUOTE_DOUBLE'
  const simple = node.range != null && node.range[1] - start - 2 === String(node.value).length
  return quoted && simple ? start + 1 + from : start
}
