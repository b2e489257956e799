import { type Mounted, mount } from 'acuarela/live'
import { readReport, readSource, type SourceTable } from 'acuarela/report'
import footfall from '../brezal/footfall.csv?url'
import sales from '../brezal/sales.csv?url'
import buyers from './buyers.acuarela.yaml?raw'
import margins from './margins.acuarela.yaml?raw'
import shared from './shared.acuarela.yaml?raw'

async function text(url: string): Promise<string> {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(`${url}: ${answer.status}`)
  return answer.text()
}

const data: Record<string, Record<string, SourceTable>> = {
  margins: { sales: await readSource([{ name: 'sales.csv', content: await text(sales) }], { date: 'date' }) },
  buyers: {
    doors: await readSource([{ name: 'footfall.csv', content: await text(footfall) }], {
      date: 'month',
      unstack: { name: 'figure', value: 'value' },
    }),
  },
}
const reports: Record<string, string> = { margins, buyers }
let mounted: Mounted[] = []

/**
 * Both reports with the shared rules; the pigment is written into the one place where it is
 * defined.
 */
async function show(pigment: string, floor: number): Promise<void> {
  const before = mounted
  const rules = shared.replace(/growth: '#[0-9a-f]{6}'/, `growth: '${pigment}'`)
  for (const own of before) own.destroy()
  mounted = await Promise.all(
    Object.entries(reports).map(async ([name, yaml]) => {
      const element = document.getElementById(name)
      const { spec, problems } = readReport(yaml, name, { 'shared.acuarela.yaml': rules })
      if (element === null || spec === undefined) throw new Error(problems.map((p) => p.message).join('\n'))
      return mount(element, spec, { data: data[name], parameters: { floor } })
    }),
  )
}

const pigment = document.querySelector<HTMLInputElement>('#pigment')
const floor = document.querySelector<HTMLInputElement>('#floor')
const said = document.querySelector('#said')
if (pigment === null || floor === null || said === null) throw new Error('the page has lost its form')
const share = (): number => Number(floor.value) / 100

await show(pigment.value, share())
pigment.addEventListener('change', () => show(pigment.value, share()))
floor.addEventListener('input', async () => {
  said.textContent = `${floor.value}%`
  await Promise.all(mounted.map((own) => own.set('floor', share())))
})
document.documentElement.dataset.ready = 'yes'
