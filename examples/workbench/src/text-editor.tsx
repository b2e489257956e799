import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands'
import { yaml } from '@codemirror/lang-yaml'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { type Diagnostic, lintGutter, setDiagnostics } from '@codemirror/lint'
import { searchKeymap } from '@codemirror/search'
import { EditorState, Transaction } from '@codemirror/state'
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import type { WorkbenchState } from 'acuarela/workbench'
import { useEffect, useRef } from 'react'
import type { Pointed } from './pointed.js'
import { markedLines, markPart, pathAt } from './text-parts.js'

interface Props {
  text: string
  problems: WorkbenchState['problems']
  pointed: Pointed | null
  /** The cursor is in a part. */
  onPoint(path: Pointed['path']): void
  onWrite(text: string): Promise<void>
}

const LOOKS = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], class: 'y-key' },
  { tag: [tags.string, tags.content], class: 'y-text' },
  { tag: tags.comment, class: 'y-comment' },
  { tag: [tags.punctuation, tags.separator], class: 'y-mark' },
])

/** A text rests for so long before it is taken over, in milliseconds. */
const REST_MS = 250

/** The text of the file: what is typed becomes one entry of the history, edits come back into it. */
export function TextEditor({ text, problems, pointed, onPoint, onWrite }: Props) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(undefined)
  const write = useRef(onWrite)
  write.current = onWrite
  const point = useRef(onPoint)
  point.current = onPoint
  /** The text that was last sent, so that its echo is told from another edit. */
  const sent = useRef(text)
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    let pointing: ReturnType<typeof setTimeout> | undefined
    if (host.current === null) return
    const own = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: sent.current,
        extensions: [
          lineNumbers(),
          lintGutter(),
          history(),
          drawSelection(),
          highlightActiveLine(),
          yaml(),
          syntaxHighlighting(LOOKS),
          // Tab leaves the editor until something is typed in it: Escape, then Tab.
          keymap.of([...defaultKeymap, ...historyKeymap, ...searchKeymap, indentWithTab]),
          EditorView.contentAttributes.of({ 'aria-label': 'Text of the file', spellcheck: 'false' }),
          markedLines,
          EditorView.updateListener.of((update) => {
            const isTyped = update.transactions.some((one) => one.annotation(Transaction.userEvent) !== undefined)
            if (!isTyped) return
            if (update.selectionSet) {
              clearTimeout(pointing)
              pointing = setTimeout(() => {
                if (view.current === own) point.current(pathAt(own.state, own.state.selection.main.head))
              }, REST_MS)
            }
            if (!update.docChanged) return
            clearTimeout(timer)
            timer = setTimeout(() => {
              sent.current = update.state.doc.toString()
              void write.current(sent.current)
            }, REST_MS)
          }),
        ],
      }),
    })
    // What scrolls can be scrolled by keys.
    own.scrollDOM.tabIndex = 0
    view.current = own
    return () => {
      clearTimeout(timer)
      clearTimeout(pointing)
      own.destroy()
    }
  }, [])
  useEffect(() => {
    const own = view.current
    if (own === undefined || text === sent.current || own.state.doc.toString() === text) return
    sent.current = text
    own.dispatch({ changes: difference(own.state.doc.toString(), text), scrollIntoView: false })
  }, [text])
  useEffect(() => {
    const own = view.current
    if (own === undefined) return
    const marks = problems.flatMap(({ place, message }): Diagnostic[] => {
      if (place.line === undefined || place.line > own.state.doc.lines) return []
      const line = own.state.doc.line(place.line)
      const from = Math.min(line.to, line.from + Math.max(0, (place.column ?? 1) - 1))
      return [{ from, to: line.to, severity: 'error', message }]
    })
    own.dispatch(setDiagnostics(own.state, marks))
  }, [problems])
  const last = useRef<Pointed | null>(null)
  useEffect(() => {
    // A text that was edited is marked again, and scrolled only to what is newly pointed at.
    const isNew = pointed !== last.current
    last.current = pointed
    if (view.current !== undefined) markPart(view.current, pointed?.path ?? null, isNew && pointed?.from === 'lists')
  }, [pointed, text])
  return <div ref={host} className="text" />
}

/** The part of a text that differs from another: the cursor stays where it is outside of it. */
function difference(before: string, after: string): { from: number; to: number; insert: string } {
  let start = 0
  while (start < before.length && start < after.length && before[start] === after[start]) start++
  let [end, other] = [before.length, after.length]
  while (end > start && other > start && before[end - 1] === after[other - 1]) {
    end--
    other--
  }
  return { from: start, to: end, insert: after.slice(start, other) }
}
