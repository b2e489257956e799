import { useRef } from 'react'
import type { Bench, OpenedFiles } from './bench.js'
import { demoFiles } from './demo.js'
import { saveText } from './files.js'

interface Props {
  bench: Bench
  onOpen(opened: OpenedFiles): void
  onFiles(files: FileList): void
  showsText: boolean
  onText(shows: boolean): void
  theme: 'auto' | 'light' | 'dark'
  onTheme(theme: 'auto' | 'light' | 'dark'): void
}

/** What is done to the whole report. */
export function TopBar({ bench, onOpen, onFiles, showsText, onText, theme, onTheme }: Props) {
  const { state } = bench
  const picker = useRef<HTMLInputElement>(null)
  const last = state?.entries.at(-1)
  const next = state?.undone[0]
  return (
    <header className="top">
      <p className="brand">
        {state?.name ?? 'Acuarela'}
        <small>{state === null ? 'opening …' : state.isSaved ? 'saved' : 'not saved'}</small>
      </p>
      <div className="acts">
        <button type="button" onClick={() => picker.current?.click()}>
          Open
        </button>
        <input
          ref={picker}
          type="file"
          multiple
          hidden
          aria-label="Files"
          onChange={(event) => {
            if (event.target.files !== null) onFiles(event.target.files)
            event.target.value = ''
          }}
        />
        <button type="button" onClick={() => onOpen(demoFiles())}>
          Demo
        </button>
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
          onClick={() => {
            if (state !== null) void saveText(state.name, state.draft.text).then(bench.save)
          }}
        >
          Save
        </button>
      </div>
      <p className="last" aria-live="polite">
        {last ?? ''}
      </p>
      <div className="acts">
        <button type="button" aria-pressed={showsText} onClick={() => onText(!showsText)}>
          Text
        </button>
        <label>
          <span className="hidden">Theme</span>
          <select value={theme} onChange={(event) => onTheme(event.target.value as Props['theme'])}>
            <option value="auto">as the system</option>
            <option value="light">light</option>
            <option value="dark">dark</option>
          </select>
        </label>
      </div>
    </header>
  )
}
