import { Dialog, DialogHeading } from '@ariakit/react'
import type { DiffLine } from 'acuarela/edit'
import { type ReactNode, useEffect, useState } from 'react'
import { calls } from './bench.js'
import type { OpenDocument } from './document.js'

/** A dialog with a heading; Escape closes it. */
function Box({ title, onClose, children }: { title: string; onClose(): void; children: ReactNode }) {
  return (
    <Dialog open onClose={onClose} className="dialog" backdrop={<div className="backdrop" />}>
      <DialogHeading>{title}</DialogHeading>
      {children}
    </Dialog>
  )
}

/** Asks where a starter is saved. */
function NameDialog({ naming, save, cancelNaming }: OpenDocument) {
  const [name, setName] = useState(naming ?? '')
  useEffect(() => setName(naming ?? ''), [naming])
  if (naming === null) return null
  return (
    <Box title="Save as" onClose={cancelNaming}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void save(name.trim())
        }}
      >
        <label>
          <span>Name of the file, beside the data</span>
          <input value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <div className="acts">
          <button type="submit" className="main">
            Save the file
          </button>
          <button type="button" onClick={cancelNaming}>
            Cancel
          </button>
        </div>
      </form>
    </Box>
  )
}

/** Asks which of several reports is opened. */
function ChoiceDialog({ choice, cancelChoice, start }: OpenDocument) {
  if (choice === null) return null
  return (
    <Box title="Which report?" onClose={cancelChoice}>
      <ul className="choices">
        {choice.names.map((name) => (
          <li key={name}>
            <button type="button" onClick={() => void choice.open(name).then(start)}>
              {name}
            </button>
          </li>
        ))}
      </ul>
    </Box>
  )
}

/** Both texts of a file that changed meanwhile, side by side; nothing was written over. */
function ConflictPanel({ conflict, settle, mine }: Pick<OpenDocument, 'conflict' | 'settle'> & { mine: string }) {
  const [lines, setLines] = useState<readonly DiffLine[]>([])
  const theirs = conflict?.theirs ?? null
  useEffect(() => {
    if (theirs !== null && mine !== '') calls.differences(theirs).then(setLines, () => undefined)
  }, [theirs, mine])
  if (conflict === null) return null
  return (
    <section aria-label="Conflict" className="conflict">
      <h2>{theirs === null ? 'The file is gone' : 'The file changed on disk'}</h2>
      <p>
        {theirs === null
          ? 'It was deleted or moved since it was read. Your text is still here.'
          : 'It was saved by another program since it was read. Both texts are kept; nothing was written.'}
      </p>
      {theirs !== null && (
        <div className="sides">
          <Side title="On disk" lines={lines} hides="added" />
          <Side title="Yours" lines={lines} hides="removed" />
        </div>
      )}
      <div className="acts">
        <button type="button" className="main" onClick={() => void settle('mine')}>
          {theirs === null ? 'Write it again' : 'Save mine over it'}
        </button>
        {theirs !== null && (
          <button type="button" onClick={() => void settle('theirs')}>
            Take the one on disk
          </button>
        )}
      </div>
    </section>
  )
}

function Side({ title, lines, hides }: { title: string; lines: readonly DiffLine[]; hides: DiffLine['is'] }) {
  return (
    <section aria-label={title}>
      <h3>{title}</h3>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a long text is scrolled by keys */}
      <pre tabIndex={0}>
        {lines.map((line, i) =>
          line.is === hides ? null : (
            <span key={String(i)} className={line.is === 'same' ? '' : 'differs'}>
              {line.text.replace(/\r?\n$/, '')}
              {'\n'}
            </span>
          ),
        )}
      </pre>
    </section>
  )
}

/** What keys do, wherever the focus is. */
const KEYS: readonly (readonly [string, string])[] = [
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Ctrl S', 'save'],
  ['Alt ↑, Alt ↓', 'on a rule or an exhibit: up and down in its order'],
  ['← →, Page up, Page down', 'on a limit of a plot: move it by a small or a large step'],
  ['Enter', 'in a sentence or field: take it over; on a cell: what reaches it'],
  ['Escape', 'in a sentence or field: as it was; in a list or dialog: close it'],
  ['↓ in a field', 'what may stand there'],
  ['?', 'this list'],
]

interface Props {
  document: OpenDocument
  mine: string
  showsKeys: boolean
  onKeysClosed(): void
}

/** What is asked for now. */
export function Dialogs({ document: open, mine, showsKeys, onKeysClosed }: Props) {
  return (
    <>
      <NameDialog {...open} />
      <ChoiceDialog {...open} />
      <ConflictPanel conflict={open.conflict} settle={open.settle} mine={mine} />
      {showsKeys && (
        <Box title="Keys" onClose={onKeysClosed}>
          <table className="keys">
            <tbody>
              {KEYS.map(([keys, what]) => (
                <tr key={keys}>
                  <th scope="row">{keys}</th>
                  <td>{what}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <button type="button" onClick={onKeysClosed}>
            Close
          </button>
        </Box>
      )}
    </>
  )
}
