import { toHtml } from 'acuarela/html'
import { openReport } from 'acuarela/report'
import { toSvg } from 'acuarela/svg'

// Answers and draws without a document.
const page = await openReport(
  {
    title: 'Worked',
    sources: { sales: {} },
    measures: { revenue: 'sum(amount)' },
    exhibits: [{ name: 'bars', chart: { along: 'shop', show: 'revenue' } }],
  },
  {
    sales: [
      { shop: 'Larkmoor', amount: 20 },
      { shop: 'Saltmarsh', amount: 70 },
    ],
  },
)
const [{ text }] = await toSvg(page)
postMessage({ html: await toHtml(page), svg: text, page, document: typeof document })
