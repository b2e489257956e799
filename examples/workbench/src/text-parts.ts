import { ensureSyntaxTree } from '@codemirror/language'
import { EditorSelection, type EditorState, type SelectionRange, StateEffect, StateField } from '@codemirror/state'
import { Decoration, type DecorationSet, EditorView } from '@codemirror/view'

/** Where the parts of a report stand in its text, by the tree that the editor has of it. */

type Path = readonly (string | number)[]
type TreeNode = NonNullable<ReturnType<typeof ensureSyntaxTree>>['topNode']

/** A text that takes longer to parse is left without marks, in milliseconds. */
const PARSE_MS = 100

/** An entry of a map or list, by its key or its index. */
interface Entry {
  key: string | number
  node: TreeNode
}

function rootOf(state: EditorState): TreeNode | null {
  const tree = ensureSyntaxTree(state, state.doc.length, PARSE_MS)
  return tree?.topNode.getChild('Document') ?? null
}

/** The entries of the map or list inside a node. */
function entriesOf(state: EditorState, node: TreeNode): Entry[] {
  const map = node.getChild('BlockMapping') ?? node.getChild('FlowMapping')
  if (map !== null)
    return map.getChildren('Pair').map((pair) => ({ key: keyOf(state, pair.getChild('Key')), node: pair }))
  const list = node.getChild('BlockSequence') ?? node.getChild('FlowSequence')
  return list?.getChildren('Item').map((item, index) => ({ key: index, node: item })) ?? []
}

function keyOf(state: EditorState, key: TreeNode | null): string {
  const text = key === null ? '' : state.sliceDoc(key.from, key.to)
  if (/^'.*'$/.test(text)) return text.slice(1, -1).replaceAll("''", "'")
  return /^".*"$/.test(text) ? text.slice(1, -1) : text
}

/** The first and last line of a part; undefined where the text has none. */
function linesOf(state: EditorState, path: Path): { first: number; last: number } | undefined {
  let node = rootOf(state)
  for (const key of path) {
    if (node === null) return undefined
    node = entriesOf(state, node).find((entry) => entry.key === key)?.node ?? null
  }
  if (node === null) return undefined
  const text = state.sliceDoc(node.from, node.to)
  const from = node.from + (text.length - text.trimStart().length)
  const to = node.from + text.trimEnd().length
  return { first: state.doc.lineAt(from).number, last: state.doc.lineAt(Math.max(from, to)).number }
}

/** The part that a place of the text is in: two steps deep, as the lists have them. */
export function pathAt(state: EditorState, place: number): Path {
  const line = state.doc.lineAt(place)
  const path: (string | number)[] = []
  let node = rootOf(state)
  while (node !== null && path.length < 2) {
    const entry = entriesOf(state, node).find(({ node: { from, to } }) => from <= line.to && to >= line.from)
    if (entry === undefined) break
    path.push(entry.key)
    node = entry.node
  }
  return path
}

/** Lines as a range that begins with the last one: the first is in view even if not all fit. */
function rangeOf({ doc }: EditorState, { first, last }: { first: number; last: number }): SelectionRange {
  return EditorSelection.range(doc.line(last).to, doc.line(first).from)
}

const setMarked = StateEffect.define<Path | null>()

const PART_LINE = Decoration.line({ class: 'part-line' })

/** The lines of the part that is pointed at. */
export const markedLines = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(before, transaction) {
    const effect = transaction.effects.find((one) => one.is(setMarked))
    // While it is typed the lines only move along: to parse the text would hold up typing.
    if (effect === undefined) return before.map(transaction.changes)
    const lines = effect.value === null ? undefined : linesOf(transaction.state, effect.value as Path)
    if (lines === undefined) return Decoration.none
    const marks = []
    for (let n = lines.first; n <= lines.last; n++) marks.push(PART_LINE.range(transaction.state.doc.line(n).from))
    return Decoration.set(marks)
  },
  provide: (own) => EditorView.decorations.from(own),
})

/** Marks the lines of a part, and brings them into view where `scrolls`. */
export function markPart(view: EditorView, path: Path | null, scrolls: boolean): void {
  const lines = path === null ? undefined : linesOf(view.state, path)
  view.dispatch({
    effects: [
      setMarked.of(path),
      ...(scrolls && lines !== undefined
        ? [EditorView.scrollIntoView(rangeOf(view.state, lines), { y: 'nearest', yMargin: 40 })]
        : []),
    ],
  })
}
