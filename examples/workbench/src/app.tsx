import { useCallback, useEffect, useRef, useState } from 'react'
import { type OpenedFiles, useBench } from './bench.js'
import { DataPanel } from './data-panel.js'
import { demoFiles } from './demo.js'
import { FilePanel } from './file-panel.js'
import { openedFiles } from './files.js'
import { Findings } from './findings.js'
import { forgetDraft, keepDraft, keptDraft } from './kept.js'
import { ReportPanel } from './report-panel.js'
import { RuleList } from './rule-list.js'
import { TopBar } from './top-bar.js'

const NONE: readonly string[] = []

/** The workbench: data on the left, the report in the middle, rules on the right. */
export function App() {
  const bench = useBench()
  const { state, open, give, undo, redo } = bench
  const missing = state?.missing ?? NONE
  const [selected, setSelected] = useState<number | null>(null)
  const [showsText, setShowsText] = useState(false)
  const [theme, setTheme] = useState<'auto' | 'light' | 'dark'>('auto')
  const files = useRef<OpenedFiles>(undefined)
  const start = useCallback(
    async (opened: OpenedFiles): Promise<void> => {
      files.current = opened
      setSelected(null)
      await open(opened)
    },
    [open],
  )
  useEffect(() => void keptDraft().then((kept) => start(kept ?? demoFiles())), [start])
  useEffect(() => {
    const opened = files.current
    // What is saved needs no draft; one that rests is kept, with its history.
    const wait = setTimeout(() => {
      if (state === null || opened === undefined) return
      void (state.isSaved ? forgetDraft() : keepDraft(opened))
    }, 500)
    return () => clearTimeout(wait)
  }, [state])
  useEffect(() => {
    document.documentElement.dataset.ready = state?.isShown === true ? 'yes' : 'no'
  }, [state])
  useEffect(() => {
    document.documentElement.dataset.theme = theme
  }, [theme])
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const isField = event.target instanceof HTMLTextAreaElement || event.target instanceof HTMLInputElement
      if (!(event.ctrlKey || event.metaKey) || isField) return
      if (event.key === 'z') void (event.shiftKey ? redo() : undo())
      else if (event.key === 'y') void redo()
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [undo, redo])
  const drop = useCallback(
    async (dropped: FileList | File[]): Promise<void> => {
      const opened = await openedFiles([...dropped], missing)
      if (opened === undefined) return
      if (opened.text !== undefined) return start({ ...opened, text: opened.text })
      // Data that was missing.
      if (files.current !== undefined)
        files.current = { ...files.current, files: { ...files.current.files, ...opened.files } }
      await give(opened.files)
    },
    [start, give, missing],
  )
  useEffect(() => {
    const over = (event: DragEvent): void => event.preventDefault()
    const dropped = (event: DragEvent): void => {
      event.preventDefault()
      if (event.dataTransfer !== null) void drop([...event.dataTransfer.files])
    }
    window.addEventListener('dragover', over)
    window.addEventListener('drop', dropped)
    return () => {
      window.removeEventListener('dragover', over)
      window.removeEventListener('drop', dropped)
    }
  }, [drop])
  return (
    <div className="bench">
      <TopBar
        onOpen={start}
        bench={bench}
        onFiles={drop}
        showsText={showsText}
        onText={setShowsText}
        theme={theme}
        onTheme={setTheme}
      />
      <p role="status" className={bench.trouble === '' ? 'trouble none' : 'trouble'}>
        {bench.trouble}
      </p>
      <div className="panels">
        <DataPanel bench={bench} />
        <main className="middle">
          {showsText && <FilePanel bench={bench} />}
          <ReportPanel state={state} theme={theme} />
        </main>
        <aside className="right">
          <RuleList bench={bench} selected={selected} onSelect={setSelected} />
          <Findings bench={bench} />
        </aside>
      </div>
    </div>
  )
}
