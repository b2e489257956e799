import type { DiffLine } from '../edit/diff.js'
import type { Edit } from '../edit/edits.js'
import type { EntryOptions, SavedHistory } from '../edit/history.js'
import type { CellRequest, Session } from '../live/session/model.js'
import type { Problem } from '../problem/problem.js'
import type { PlacedFinding } from '../proof/report.js'
import type { Comparison } from '../report/inspect/compare.js'
import type { RehearsedRule } from '../report/inspect/rehearse.js'
import type { WhyAnswer } from '../report/inspect/why.js'
import type { Completion } from '../rule/sentence/complete.js'
import type { GivenFiles } from './files.js'
import type { Looks } from './looks.js'
import type { PopulationPlot, Preview, WorkbenchState } from './model.js'
import type { ServedSource } from './sources.js'

/** What is opened: a report with its data and included files. */
export interface Opened {
  /** The name and the text of the report. */
  name: string
  text: string
  /**
   * Data and included files by the paths that the report gives them; one that lies in another
   * folder is found by the last part of its name.
   */
  files: Readonly<Record<string, string | Uint8Array>>
  /** Sources whose rows stay on a server, by name; default: none. */
  served?: Readonly<Record<string, ServedSource>>
  /** A history that was kept earlier. */
  saved?: SavedHistory
  /** Whether it has no file yet, so that it is not saved; default: false. */
  isNew?: boolean
}

/**
 * A report while it is edited: its history, its data, and what it paints. It has no interface: a
 * page shows its state and calls it, in the same thread or in another one.
 */
export interface Workbench {
  /** Opens a report in place of the present one. */
  open(opened: Opened): Promise<WorkbenchState>
  /**
   * Adds files, or newer ones in their place.
   *
   * @param served what is served now; left out, it is what it was.
   */
  give(files: GivenFiles, served?: Readonly<Record<string, ServedSource>>): Promise<WorkbenchState>
  do(edit: Edit, options?: EntryOptions): Promise<WorkbenchState>
  write(text: string, options?: EntryOptions & { words?: string }): Promise<WorkbenchState>
  undo(): Promise<WorkbenchState>
  redo(): Promise<WorkbenchState>
  /** The present text is that of the file; of a new one with its name. */
  saved(name?: string): Promise<WorkbenchState>
  /** A starter report for data files, with the name that its file could have. */
  sketch(files: GivenFiles): Promise<{ name: string; text: string }>
  /** The problems that the text would have after an edit, which is not made. */
  check(edit: Edit): Promise<readonly Problem[]>
  /** A sentence as a rule before the one with an index: what it would say and change. */
  preview(sentence: string, at: number): Promise<Preview>
  complete(text: string, cursor: number): Promise<Completion[]>
  plot(rule: number, exhibit?: string): Promise<PopulationPlot | undefined>
  findings(): Promise<readonly PlacedFinding[]>
  /** The rules tried on values around their limits: of one rule by its index. */
  rehearse(rule: number): Promise<readonly RehearsedRule[]>
  /** Why a cell looks as it does, with the rules that reach it. */
  why(cell: CellRequest): Promise<WhyAnswer>
  /** Statuses with their colours, pigments and icons. */
  looks(): Promise<Looks>
  /** What differs from the saved text: counts, cells, and cells with another style. */
  compared(): Promise<Comparison>
  /** The lines in which the present text differs from another one. */
  differences(other: string): Promise<readonly DiffLine[]>
  /** Loads what is otherwise loaded when it is first needed: for a server that may go away. */
  prepare(): Promise<void>
  /** What undo needs after a reload. */
  history(): Promise<SavedHistory>
  /** Answers the page: always from the newest report that could be answered. */
  readonly session: Session
}
