import type { ShownCell } from 'acuarela/live'
import type { Looks, Workbench } from 'acuarela/workbench'
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from 'react'
import { type Bench, calls, shownPage, useBench } from './bench.js'
import { DataPanel } from './data-panel.js'
import { useDocument } from './document.js'
import { filesOfDrop, type GivenFile } from './files.js'
import { Findings, useFindings } from './findings.js'
import { home } from './home.js'
import { useHeldValue } from './layout-shift.js'
import { namesOf } from './names.js'
import { type Pointed, PointedContext } from './pointed.js'
import { ReportPanel } from './report-panel.js'
import { RuleList } from './rule-list.js'
import { type Looking, TopBar } from './top-bar.js'

// What is seldom seen comes when it is.
const CellBox = lazy(() => import('./cell-box.js').then((part) => ({ default: part.CellBox })))
const Changes = lazy(() => import('./changes.js').then((part) => ({ default: part.Changes })))
const FilePanel = lazy(() => import('./file-panel.js').then((part) => ({ default: part.FilePanel })))
const Dialogs = lazy(() => import('./dialogs.js').then((part) => ({ default: part.Dialogs })))

/** All parts of the page: its server may end before they are needed. */
async function loadAll(): Promise<void> {
  await Promise.all([
    calls.prepare(),
    import('./cell-box.js'),
    import('./changes.js'),
    import('./marks.js'),
    import('./paper.js'),
    import('./file-panel.js'),
    import('./dialogs.js'),
    import('./exhibit-editor.js'),
    import('./export.js'),
    import('./part-editor.js'),
    import('./plot.js'),
    import('./rule-editor.js'),
    import('./sort-files.js'),
    import('./vision.js'),
  ]).catch(() => undefined)
}

/** Undo and redo by keys, the list of keys by `?`; not where something is typed. */
function useKeys({ undo, redo }: Bench, save: () => void, help: () => void): void {
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const { target } = event
      const isField =
        target instanceof HTMLElement &&
        (target.isContentEditable || ['TEXTAREA', 'INPUT', 'SELECT'].includes(target.tagName))
      const isCommand = event.ctrlKey || event.metaKey
      // With Shift, or Caps Lock, it is a capital.
      const key = event.key.toLowerCase()
      if (isCommand && key === 's') save()
      else if (isField) return
      else if (isCommand && key === 'z') void (event.shiftKey ? redo() : undo())
      else if (isCommand && key === 'y') void redo()
      else if (!isCommand && key === '?') help()
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [undo, redo, save, help])
}

/** Files may be dropped anywhere. */
function useDrop(give: (files: readonly GivenFile[]) => Promise<void>): void {
  useEffect(() => {
    const over = (event: DragEvent): void => event.preventDefault()
    const dropped = (event: DragEvent): void => {
      event.preventDefault()
      if (event.dataTransfer?.types.includes('Files')) void filesOfDrop(event.dataTransfer).then(give)
    }
    window.addEventListener('dragover', over)
    window.addEventListener('drop', dropped)
    return () => {
      window.removeEventListener('dragover', over)
      window.removeEventListener('drop', dropped)
    }
  }, [give])
}

/** The first page is looked at before anything else is loaded, in milliseconds. */
const REST_MS = 600

/** Whether the first page is on the screen and has rested. */
function useRested(): boolean {
  const [isRested, setRested] = useState(false)
  useEffect(() => {
    const look = setInterval(() => {
      if (shownPage.now === null) return
      clearInterval(look)
      setTimeout(() => setRested(true), REST_MS)
    }, 100)
    return () => clearInterval(look)
  }, [])
  return isRested
}

/** Statuses and colours of the report, asked for after it is shown. */
function useLooks({ state }: Bench, isRested: boolean): Looks | null {
  const [looks, setLooks] = useState<Looks | null>(null)
  const key = JSON.stringify([isRested && state?.isShown, state?.draft.spec.statuses, state?.draft.spec.pigments])
  useEffect(() => {
    if (key.startsWith('[true')) calls.looks().then(setLooks, () => undefined)
  }, [key])
  return looks
}

type Comparison = Awaited<ReturnType<Workbench['compared']>>

/** What differs from the saved report, while that is asked for. */
function useComparison({ state }: Bench, isAsked: boolean): Comparison | null {
  const [comparison, setComparison] = useState<Comparison | null>(null)
  useEffect(() => {
    let isOld = false
    if (!isAsked) setComparison(null)
    else if (state?.isShown === true)
      calls.compared().then(
        (next) => {
          if (!isOld) setComparison(next)
        },
        () => undefined,
      )
    return () => {
      isOld = true
    }
  }, [state, isAsked])
  return comparison
}

/** The workbench: data on the left, the report in the middle, rules on the right. */
export function App() {
  const bench = useBench()
  const { state } = bench
  const open = useDocument(bench)
  const [selected, setSelected] = useState<number | null>(null)
  const [pointed, point] = useState<Pointed | null>(null)
  const pointing = useMemo(() => ({ pointed, point }), [pointed])
  const select = useCallback((rule: number | null): void => {
    setSelected(rule)
    point(rule === null ? null : { path: ['rules', rule], from: 'lists' })
  }, [])
  useEffect(() => {
    const [section, rule] = pointed?.from === 'text' ? pointed.path : []
    if (section === 'rules' && typeof rule === 'number') setSelected(rule)
  }, [pointed])
  const [cell, setCell] = useState<ShownCell | null>(null)
  const [showsKeys, setShowsKeys] = useState(false)
  const [looking, setLooking] = useState<Looking>({
    showsText: false,
    comparesSaved: false,
    theme: 'auto',
    view: 'as it is',
  })
  const isRested = useRested()
  const looks = useLooks(bench, isRested)
  useEffect(() => {
    if (!isRested) return
    // What makes edits is loaded before the first one.
    calls.history().catch(() => undefined)
    if (home.isServer) void loadAll()
  }, [isRested])
  const findings = useFindings(isRested ? state : null)
  const shownFindings = useHeldValue(findings)
  const shownState = useHeldValue(state)
  const lists = useMemo(() => ({ ...bench, state: shownState }), [bench, shownState])
  const comparison = useComparison(bench, looking.comparesSaved)
  const names = useMemo(
    () =>
      state === null ? undefined : namesOf(state, looks?.icons ?? [], looks?.pigments.map(({ name }) => name) ?? []),
    [state, looks],
  )
  useEffect(() => {
    select(null)
    setCell(null)
  }, [open.id, select])
  const save = useCallback(() => void open.save(), [open.save])
  useKeys(
    bench,
    save,
    useCallback(() => setShowsKeys(true), []),
  )
  useDrop(open.give)
  useEffect(() => {
    document.documentElement.dataset.ready = state?.isShown === true ? 'yes' : 'no'
  }, [state])
  useEffect(() => {
    document.documentElement.dataset.theme = looking.theme
  }, [looking.theme])
  const onRule = useCallback(
    (name: string) => {
      const index = state?.rules.findIndex(({ rule }) => rule === name) ?? -1
      if (index >= 0) select(index)
    },
    [state, select],
  )
  const needsDialog = open.naming !== null || open.choice !== null || open.conflict !== null || showsKeys
  return (
    <PointedContext.Provider value={pointing}>
      <div className="bench">
        <TopBar
          bench={bench}
          document={open}
          looking={looking}
          onLook={(change) => setLooking({ ...looking, ...change })}
          onKeys={() => setShowsKeys(true)}
          isRested={isRested}
        />
        <p role="status" className={bench.trouble === '' ? 'trouble none' : 'trouble'}>
          {bench.trouble}
        </p>
        <p role="status" className={open.news === '' ? 'news none' : 'news'}>
          {open.news}
        </p>
        {needsDialog && (
          <Suspense fallback={null}>
            <Dialogs
              document={open}
              mine={state?.draft.text ?? ''}
              showsKeys={showsKeys}
              onKeysClosed={() => setShowsKeys(false)}
            />
          </Suspense>
        )}
        <div className="panels">
          {names === undefined ? (
            <section aria-label="Data" className="data" />
          ) : (
            <DataPanel key={open.id} {...{ bench: lists, names, looks }} />
          )}
          <main className="middle">
            {looking.showsText && (
              <Suspense fallback={<section aria-label="File" className="file" />}>
                <FilePanel bench={bench} />
              </Suspense>
            )}
            <div className="shown">
              {comparison !== null && (
                <Suspense fallback={null}>
                  <Changes comparison={comparison} />
                </Suspense>
              )}
              {cell !== null && names !== undefined && (
                <Suspense fallback={null}>
                  <CellBox {...{ bench, cell, names }} onRule={select} onClose={() => setCell(null)} />
                </Suspense>
              )}
              <ReportPanel
                state={state}
                theme={looking.theme}
                view={looking.view}
                comparison={comparison}
                marked={pointed?.path ?? null}
                onCell={setCell}
                onRule={onRule}
              />
            </div>
          </main>
          <aside className="right">
            {names !== undefined && (
              <RuleList
                key={open.id}
                {...{ bench: lists, names, looks, findings: shownFindings, selected, isRested }}
                onSelect={select}
              />
            )}
            <Findings findings={shownFindings} bench={lists} />
          </aside>
        </div>
      </div>
    </PointedContext.Provider>
  )
}
