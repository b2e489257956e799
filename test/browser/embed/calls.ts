import { fromRows } from 'acuarela'
import { defineReportElement, mount, mountBundle, pngOf } from 'acuarela/live'
import type { ReportSpec } from 'acuarela/report'
import type { RemoteTable } from '../../../src/summary/contract.js'
import { createMemoryEngine } from '../../../src/summary/memory/engine.js'

const sales = fromRows([
  { region: 'Coast', shop: 'Larkmoor', amount: 20 },
  { region: 'Coast', shop: 'Saltmarsh', amount: 70 },
  { region: 'Hills', shop: 'Wren Hollow', amount: 90 },
])
const report: ReportSpec = {
  title: 'Calls',
  sources: { sales: {} },
  measures: { revenue: 'sum(amount)' },
  parameters: { target: { value: 60, from: 0, to: 200 }, share: '15%' },
  statuses: { ahead: { label: 'Ahead', wash: 'aqua', icon: 'tick' }, behind: { label: 'Behind', wash: 'coral' } },
  rules: [
    { name: 'target', paint: 'revenue', bands: [{ atLeast: 'target', status: 'ahead' }, { otherwise: 'behind' }] },
  ],
  exhibits: [{ name: 'shops', table: { rows: ['region', 'shop'], show: 'revenue' } }],
  filters: ['region'],
}

/** The same rows behind a connection that can fail. */
const line = { isCut: false }
const remote: RemoteTable = {
  table: sales,
  nearly: new Map(),
  grains: new Map(),
  notes: [],
  connect(_fields, _types, options) {
    const engine = createMemoryEngine(sales, options)
    const { ask } = engine
    return Object.assign(engine, {
      ask: async (...question: Parameters<typeof ask>) => {
        if (line.isCut) throw new Error('the line is cut')
        return ask(...question)
      },
    })
  },
}

const place = document.querySelector<HTMLElement>('#place')
const empty = document.querySelector<HTMLElement>('#empty')
const element = document.querySelector('acuarela-report')
if (place === null || empty === null || element === null) throw new Error('the page has lost its places')
const mounted = await mount(place, report, { data: { sales: remote } })
await mount(
  empty,
  { ...report, filters: undefined },
  { data: { sales: fromRows([], { kinds: { region: 'text', shop: 'text', amount: 'number' } }) } },
)
defineReportElement()
const heard: string[] = []
element.addEventListener('problem', (event) => heard.push(event.detail.message))
element.addEventListener('change', (event) => heard.push(`change ${Object.keys(event.detail.parameters)}`))
element.report = { ...report, title: undefined as unknown as string, rulez: [] } as unknown as ReportSpec
element.data = { sales }
const worked = new Promise((done) => {
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = ({ data }) => done(data)
  worker.onerror = ({ message }) => done({ message })
})
Object.assign(window, {
  worked,
  mounted,
  mount,
  mountBundle,
  pngOf,
  report,
  sales,
  line,
  place,
  own: element,
  heard,
})
document.documentElement.dataset.ready = 'yes'
