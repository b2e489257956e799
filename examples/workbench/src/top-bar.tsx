import type { WorkbenchState } from 'acuarela/workbench'
import { lazy, Suspense, useRef } from 'react'
import { type Bench, shownPage } from './bench.js'
import { demoFiles } from './demo.js'
import type { OpenDocument } from './document.js'
import { filesOfInput, pickFiles, picksHandles } from './files.js'
import { home } from './home.js'
import { VIEWS, type ViewAs } from './views.js'

export interface Looking {
  showsText: boolean
  comparesSaved: boolean
  theme: 'auto' | 'light' | 'dark'
  view: ViewAs
}

interface Props {
  bench: Bench
  document: OpenDocument
  looking: Looking
  /** Whether the first page has rested: menus come then. */
  isRested: boolean
  onLook(change: Partial<Looking>): void
  onKeys(): void
}

/** What is done to the whole report. */
export function TopBar({ bench, document: open, looking, isRested, onLook, onKeys }: Props) {
  const { state } = bench
  const picker = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const last = state?.entries.at(-1)
  const next = state?.undone[0]
  return (
    <header className="top">
      <p className="brand">
        {state?.name ?? 'Acuarela'}
        <small>{state === null ? 'opening …' : state.isSaved ? 'saved' : 'not saved'}</small>
      </p>
      <div className="acts">
        {!home.isServer && (
          <>
            <button
              type="button"
              onClick={() => {
                // With a file of its own, a report is saved to where it came from.
                if (picksHandles && !navigator.webdriver)
                  void pickFiles().then((files) => (files === undefined ? undefined : open.give(files)))
                else picker.current?.click()
              }}
            >
              Open
            </button>
            <Picker label="Files" input={picker} open={open} />
            <button type="button" onClick={() => folder.current?.click()}>
              Folder
            </button>
            <Picker label="Folder of files" input={folder} open={open} isFolder />
            <button type="button" onClick={() => void open.start(demoFiles())}>
              Demo
            </button>
          </>
        )}
        <button type="button" disabled={last === undefined} title={last} onClick={() => void bench.undo()}>
          Undo
        </button>
        <button type="button" disabled={next === undefined} title={next} onClick={() => void bench.redo()}>
          Redo
        </button>
        <button
          type="button"
          className="main"
          disabled={state === null || state.isSaved}
          onClick={() => void open.save()}
        >
          Save
        </button>
        {isRested ? <Export rules={state?.rules ?? []} /> : NOT_YET}
      </div>
      <p className="last" aria-live="polite">
        {last ?? ''}
      </p>
      <div className="acts">
        <button
          type="button"
          aria-pressed={looking.comparesSaved}
          disabled={state === null}
          title="outline what differs from the saved report"
          onClick={() => onLook({ comparesSaved: !looking.comparesSaved })}
        >
          Compare
        </button>
        <button
          type="button"
          aria-pressed={looking.showsText}
          onClick={() => onLook({ showsText: !looking.showsText })}
        >
          Text
        </button>
        <label>
          <span className="hidden">View as</span>
          <select value={looking.view} onChange={(event) => onLook({ view: event.target.value as ViewAs })}>
            {VIEWS.map((view) => (
              <option key={view}>{view}</option>
            ))}
          </select>
        </label>
        <label>
          <span className="hidden">Theme</span>
          <select value={looking.theme} onChange={(event) => onLook({ theme: event.target.value as Looking['theme'] })}>
            <option value="auto">system</option>
            <option value="light">light</option>
            <option value="dark">dark</option>
          </select>
        </label>
        <button type="button" aria-label="Keyboard shortcuts" onClick={onKeys}>
          ?
        </button>
      </div>
    </header>
  )
}

function Picker({
  label,
  input,
  open,
  isFolder = false,
}: {
  label: string
  input: React.RefObject<HTMLInputElement | null>
  open: OpenDocument
  isFolder?: boolean
}) {
  return (
    <input
      ref={input}
      type="file"
      multiple
      hidden
      aria-label={label}
      {...(isFolder && { webkitdirectory: '' })}
      onChange={(event) => {
        if (event.target.files !== null) void open.give(filesOfInput(event.target.files))
        event.target.value = ''
      }}
    />
  )
}

/** What the report can be written as without a server. */
const EXPORTS = [
  { value: 'html', hint: 'a page that works alone' },
  { value: 'ods', hint: 'a workbook with values and paint' },
  { value: 'svg', hint: 'a picture of each exhibit' },
  { value: 'text', hint: 'tables for a terminal or mail' },
  { value: 'json', hint: 'the painted data' },
  { value: 'csv', hint: 'cells with their statuses' },
]
const PickMenu = lazy(() => import('./pick-menu.js').then((part) => ({ default: part.PickMenu })))

/** In the place of the menu until it is there. */
const NOT_YET = (
  <button type="button" disabled>
    Export …
  </button>
)

function Export({ rules }: { rules: WorkbenchState['rules'] }) {
  const write = async (to: string): Promise<void> => {
    const page = shownPage.now?.page()
    if (page === undefined) return
    const { exported } = await import('./export.js')
    await exported(page, to, rules)
  }
  return (
    <Suspense fallback={NOT_YET}>
      <PickMenu label="Export" picks={EXPORTS} onPick={(to) => void write(to)}>
        Export …
      </PickMenu>
    </Suspense>
  )
}
