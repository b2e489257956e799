import { checks } from './live/checks.js'
import { createCellMap, type ShownCell } from './live/dom/elements.js'
import { drawPng } from './live/dom/pictures.js'
import { mountIn } from './live/mount.js'
import type { Mounted, MountOptions } from './live/mount-options.js'
import { showRefused } from './live/refused.js'
import { bindInput, type ReportInput, readBundle } from './live/session/open.js'
import { checkPort, connectSession, type SessionPort } from './live/session/port.js'
import { createSession } from './live/session/session.js'
import type { LiveState } from './live/state/state.js'
import { problem } from './problem/input.js'
import { ProblemError } from './problem/problem.js'
import type { ReportBundle } from './report/transfer/unpack.js'
import { checkShape } from './shape/shape.js'
import type { ReportSpec } from './spec/report.js'
import { loadFamilies } from './style/icon-families.js'

export type { ShownCell } from './live/dom/elements.js'
export type { Mounted, MountOptions } from './live/mount-options.js'
export type { Filter, ReportControls, Sortable } from './live/session/model.js'
export type { SessionPort } from './live/session/port.js'
export {
  type Action,
  type Allowed,
  FIRST_STATE,
  fromAddress,
  type LiveState,
  nextState,
  toAddress,
} from './live/state/state.js'
export type { ReportBundle } from './report/transfer/unpack.js'

/** The data of a report and its options when it is mounted. */
export interface MountInput extends MountOptions, ReportInput {}

/**
 * Shows a live report inside an element, in a shadow root of its own, so that styles are separate.
 * Everything is computed in the browser, from the given rows.
 *
 * @param element as `querySelector` finds it: null is a problem.
 * @throws ProblemError carrying every problem of the report, its data and the options.
 */
export async function mount(element: HTMLElement | null, report: ReportSpec, input: MountInput): Promise<Mounted> {
  const root = rootOf(element)
  const { data, today, ...options } = input ?? {}
  const bound = bindInput(report, { data, ...(today !== undefined && { today }) }, 'mount')
  return mountIn(root, await createSession(bound), options, checks)
}

/**
 * Shows a report that a server has read and bound, as `bundleReportFile` of `acuarela/node` returns
 * it: its text, or the parsed text. No code that reads or binds is loaded.
 *
 * @param element as `querySelector` finds it: null is a problem.
 * @throws ProblemError where it is something else, such as the page of an address that is not
 *   there.
 */
export async function mountBundle(
  element: HTMLElement | null,
  bundle: string | ReportBundle,
  options: MountOptions = {},
): Promise<Mounted> {
  const root = rootOf(element)
  return mountIn(root, await createSession(await readBundle(bundle)), options, checks)
}

/**
 * Shows a report that another thread answers: a worker that calls `serveReport` or `serveBundle` of
 * `acuarela/session`. The page stays responsive while large reports are decided.
 *
 * @param element as `querySelector` finds it: null is a problem.
 * @param port the worker, or one end of a `MessageChannel` whose other end the worker has. The
 *   worker is not terminated with the report.
 * @throws ProblemError where the report was refused there, or the worker does not start.
 */
export async function mountSession(
  element: HTMLElement | null,
  port: SessionPort,
  options: MountOptions = {},
): Promise<Mounted> {
  const root = rootOf(element)
  checkPort(port, 'mountSession')
  // The report is in another thread, its icons are drawn in this one.
  loadFamilies()
  return mountIn(root, await connectSession(port), options, checks)
}

function rootOf(element: HTMLElement | null): ShadowRoot {
  if (element === null || typeof element?.attachShadow !== 'function')
    throw new ProblemError([problem('no-element', { found: element === null ? 'nothing' : typeof element })])
  return element.shadowRoot ?? element.attachShadow({ mode: 'open' })
}

/**
 * `<acuarela-report>`: shows a report once `report` and `data` are set, and starts again when one
 * is set again.
 */
export interface AcuarelaReportElement extends HTMLElement {
  /**
   * The mounted report; undefined before report and data are set. Rejected if the report is
   * refused.
   */
  readonly mounted: Promise<Mounted> | undefined
  /** The report as a plain object. */
  report: ReportSpec | undefined
  /** Tables by the names of the report's sources, as for `mount`. */
  data: MountInput['data'] | undefined
  /** Days since 1970-01-01, for a report whose `asOf` is today. */
  today: number | undefined
  /**
   * Parameters that differ from the report, by name. Setting it moves these and resets the others.
   */
  parameters: Readonly<Record<string, number | string>>
  /** Filters by key. Setting it applies these and removes the others. */
  filters: Readonly<Record<string, readonly string[]>>
  addEventListener<K extends keyof AcuarelaReportEvents>(
    type: K,
    listener: (this: AcuarelaReportElement, event: AcuarelaReportEvents[K]) => void,
    options?: boolean | AddEventListenerOptions,
  ): void
  addEventListener(
    type: string,
    listener: EventListenerOrEventListenerObject,
    options?: boolean | AddEventListenerOptions,
  ): void
}

/** The events of `<acuarela-report>`. */
export interface AcuarelaReportEvents extends HTMLElementEventMap {
  /** After every change, the first display included; `detail` is the state. */
  change: CustomEvent<LiveState>
  /**
   * A report was refused or cannot be shown; `detail` is the error, a ProblemError if the report is
   * at fault.
   */
  problem: CustomEvent<Error>
}

declare global {
  interface HTMLElementTagNameMap {
    'acuarela-report': AcuarelaReportElement
  }
}

/**
 * Defines `<acuarela-report>`, with the properties `report` and `data`. A `change` event follows
 * every change, with the state; a `problem` event follows a refused report, whose problems the
 * element shows. Setting `report` or `data` starts again.
 *
 * @param name of the element, with a dash in it; default: acuarela-report.
 */
export function defineReportElement(name = 'acuarela-report'): void {
  if (customElements.get(name) !== undefined) return
  customElements.define(name, ReportElement())
}

/**
 * Created on demand, as a server has no HTMLElement. Over 80 lines because a class is one
 * expression.
 */
function ReportElement(): CustomElementConstructor {
  return class extends HTMLElement {
    mounted: Promise<Mounted> | undefined
    #shown: Mounted | undefined
    #report: ReportSpec | undefined
    #data: MountInput['data'] | undefined
    #today: number | undefined
    #parameters: Readonly<Record<string, number | string>> = {}
    #filters: Readonly<Record<string, readonly string[]>> = {}
    get report(): ReportSpec | undefined {
      return this.#report
    }
    set report(report: ReportSpec | undefined) {
      this.#report = report
      this.#start()
    }
    get data(): MountInput['data'] | undefined {
      return this.#data
    }
    set data(data: MountInput['data'] | undefined) {
      this.#data = data
      this.#start()
    }
    get today(): number | undefined {
      return this.#today
    }
    set today(today: number | undefined) {
      this.#today = today
      this.#start()
    }
    get parameters(): Readonly<Record<string, number | string>> {
      return this.#shown?.state().parameters ?? this.#parameters
    }
    set parameters(parameters: Readonly<Record<string, number | string>>) {
      this.#parameters = parameters
      const shown = this.#shown
      if (shown === undefined) return
      const values = new Map(shown.controls().parameters.map(({ name, value }) => [name, value]))
      const wanted = new Map<string, number | string>(Object.entries(parameters))
      for (const name of Object.keys(shown.state().parameters))
        if (!wanted.has(name)) wanted.set(name, values.get(name) ?? 0)
      for (const [parameter, value] of wanted) this.#watch(shown.set(parameter, value))
    }
    get filters(): Readonly<Record<string, readonly string[]>> {
      return this.#shown?.state().filters ?? this.#filters
    }
    set filters(filters: Readonly<Record<string, readonly string[]>>) {
      this.#filters = filters
      const shown = this.#shown
      if (shown === undefined) return
      const wanted = new Map<string, readonly string[]>(Object.entries(filters))
      for (const key of Object.keys(shown.state().filters)) if (!wanted.has(key)) wanted.set(key, [])
      for (const [key, values] of wanted) this.#watch(shown.filter(key, values))
    }
    connectedCallback(): void {
      this.#start()
    }
    disconnectedCallback(): void {
      this.#end(this.mounted)
      this.mounted = undefined
    }
    #end(mounted: Promise<Mounted> | undefined): Promise<void> | undefined {
      this.#shown = undefined
      return mounted?.then(
        (mounted) => mounted.destroy(),
        () => this.shadowRoot?.replaceChildren(),
      )
    }
    #watch(done: Promise<unknown>): void {
      done.catch((error: unknown) =>
        this.dispatchEvent(
          new CustomEvent('problem', { detail: error instanceof Error ? error : new Error(String(error)) }),
        ),
      )
    }
    #start(): void {
      const [report, data] = [this.#report, this.#data]
      if (!this.isConnected || report === undefined || data === undefined) return
      const before = this.#end(this.mounted)
      const mounted = (async () => {
        await before
        return mount(this, report, {
          data,
          ...(this.#today !== undefined && { today: this.#today }),
          parameters: this.#parameters,
          filters: this.#filters,
          onChange: (detail) => this.dispatchEvent(new CustomEvent('change', { detail })),
        })
      })()
      this.mounted = mounted
      mounted.then(
        (previous) => {
          if (this.mounted === mounted) this.#shown = previous
        },
        (error: unknown) => {
          if (this.mounted === mounted) showRefused(rootOf(this), error)
        },
      )
      this.#watch(mounted)
    }
  }
}

/** What finds the cells of a mounted report in its elements. */
export interface ShownCells {
  /** The cell that an element, or one around it, shows; undefined where there is none. */
  of(element: Element): ShownCell | undefined
  /** All cells with their elements. */
  all(): Iterable<[Element, ShownCell]>
}

/**
 * The cells of a mounted report as it is shown now: for a host that lets its user point at them.
 *
 * @param element the one that the report was mounted in.
 */
export function shownCells(element: HTMLElement, mounted: Mounted): ShownCells {
  return createCellMap(rootOf(element), mounted.page().exhibits)
}

/**
 * A drawing as PNG, twice as sharp, by the browser: for `png` of `toOds`, whose charts then show in
 * programs without SVG, too.
 *
 * @param svg an SVG file, with its width and height.
 * @throws ProblemError for what is no text; Error where the browser cannot draw it, or the policy
 *   of the page allows no pictures of data.
 */
export async function pngOf(svg: string): Promise<Uint8Array> {
  checkShape('text', svg, ['svg'])
  return drawPng(svg, document)
}
