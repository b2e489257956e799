import { fromRows } from 'acuarela'
import { defineReportElement, type LiveState } from 'acuarela/live'

/** What the test reads. */
interface Recorder {
  heard: Partial<LiveState>[]
}

const recorder: Recorder = { heard: [] }
Object.assign(window, { recorder })

const sales = fromRows(
  ['Coast', 'Hills'].flatMap((region, r) =>
    Array.from({ length: 4 }, (_, i) => ({ region, shop: `Shop ${r * 4 + i + 1}`, amount: 20 + 15 * (r * 4 + i) })),
  ),
)
const report = {
  title: 'Embedded',
  sources: { sales: {} },
  measures: { revenue: { formula: 'sum(amount)', label: 'Revenue' } },
  parameters: { target: { value: 60, from: 0, to: 200, step: 5, label: 'Target' } },
  statuses: {
    ahead: { label: 'Ahead', wash: 'aqua', icon: 'tick' },
    behind: { label: 'Behind', wash: 'coral', icon: 'cross' },
  },
  rules: [
    { name: 'target', paint: 'revenue', bands: [{ atLeast: 'target', status: 'ahead' }, { otherwise: 'behind' }] },
  ],
  exhibits: [{ name: 'shops', title: 'Shops', table: { rows: 'shop', show: 'revenue', totals: 'bottom' } }],
  filters: ['region'],
}

defineReportElement()
defineReportElement()
type ReportElement = HTMLElement & { report: unknown; data: unknown; mounted?: Promise<unknown> }
const outer = document.querySelector<ReportElement>('#outer')
const inside = document.querySelector('#host')?.attachShadow({ mode: 'open' })
if (outer === null || inside === undefined) throw new Error('the page has lost its elements')
const inner = document.createElement('acuarela-report') as ReportElement
inner.addEventListener('change', (event) => recorder.heard.push((event as CustomEvent<LiveState>).detail))
inside.append(inner)
// In either order.
outer.data = { sales }
outer.report = report
inner.report = report
inner.data = { sales }
await Promise.all([outer.mounted, inner.mounted])
document.documentElement.dataset.ready = 'yes'
