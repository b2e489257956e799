import { bindReport } from './assemble/bind.js'
import { type Carried, openCarried } from './assemble/carried.js'
import type { ReportSpec } from './file/schema.js'
import { type Mounted, type MountOptions, mountIn } from './live/mount.js'
import type { Problem } from './problem/problem.js'
import type { RemoteTable } from './summary/engine.js'
import type { SourceTable } from './table/source-table.js'
import type { Table } from './table/table.js'

export type { Carried } from './assemble/carried.js'
export type { Mounted, MountOptions } from './live/mount.js'
export {
  type Action,
  type Allowed,
  FIRST_STATE,
  fromAddress,
  type LiveState,
  nextState,
  toAddress,
} from './live/state.js'

export interface MountInput extends MountOptions {
  /** Tables by the names of the report's sources: made by `fromRows` or `fromColumns`, read by `readSource`, or a source that answers itself. */
  data: Readonly<Record<string, Table | SourceTable | RemoteTable>>
  /** Days since 1970-01-01, for a report whose `asOf` is today; nothing is read from a clock. */
  today?: number
}

/**
 * Mounts a live report in an element, in a shadow root of its own: nothing of its style leaks, and several may stand on one page.
 *
 * @param report a report as a plain object: what a YAML or JSON file holds, checked by `readReport` or `checkReport` beforehand.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function mount(element: HTMLElement, report: ReportSpec, input: MountInput): Promise<Mounted> {
  const { data, today, ...options } = input
  const sources = new Map(
    Object.entries(data).map(([name, own]): [string, SourceTable] => [
      name,
      'nearly' in own ? own : { table: own, nearly: new Map(), grains: new Map(), notes: [] },
    ]),
  )
  const file = { file: undefined, spec: report, problems: [], place: (p: Problem) => p }
  return mountIn(rootOf(element), bindReport(file, sources, today === undefined ? {} : { today }), options)
}

/**
 * The same for a report that `carryReportFile` of `acuarela/node` has read, bound and summarised: the page gets no rows that its reader has
 * no use for, and a bundler leaves out what reads and binds a report, more than half of what `mount` loads.
 *
 * @param carried what `carryReportFile` gave, as text or parsed. It is trusted as the script is: take it from where that comes from.
 */
export async function mountCarried(
  element: HTMLElement,
  carried: string | Carried,
  options: MountOptions = {},
): Promise<Mounted> {
  const bound = await openCarried(typeof carried === 'string' ? (JSON.parse(carried) as Carried) : carried)
  return mountIn(rootOf(element), bound, options)
}

function rootOf(element: HTMLElement): ShadowRoot {
  return element.shadowRoot ?? element.attachShadow({ mode: 'open' })
}

/**
 * Defines `<acuarela-report>`: give an element of it `report` and `data` as properties, in any order, and it mounts. Taken out of the page
 * it is destroyed. Importing defines nothing; calling this twice does no harm.
 */
export function defineReportElement(name = 'acuarela-report'): void {
  if (customElements.get(name) !== undefined) return
  customElements.define(
    name,
    class extends HTMLElement {
      /** What is mounted; undefined before report and data are there. */
      mounted: Promise<Mounted> | undefined
      #report: ReportSpec | undefined
      #input: MountInput | undefined
      set report(report: ReportSpec) {
        this.#report = report
        this.#start()
      }
      set data(data: MountInput['data']) {
        this.#input = { onChange: (detail) => this.dispatchEvent(new CustomEvent('change', { detail })), data }
        this.#start()
      }
      connectedCallback(): void {
        this.#start()
      }
      disconnectedCallback(): void {
        void this.mounted?.then((own) => own.destroy())
        this.mounted = undefined
      }
      #start(): void {
        if (!this.isConnected || this.#report === undefined || this.#input === undefined) return
        const [report, input, before] = [this.#report, this.#input, this.mounted]
        this.mounted = (async () => {
          await before?.then((own) => own.destroy())
          return mount(this, report, input)
        })()
      }
    },
  )
}
