import { mount } from 'acuarela/live'
import { readReport, readSource } from 'acuarela/report'
import budget from '../brezal/budget.csv?url'
import sales from '../brezal/sales.csv?url'
import shops from '../brezal/shops.csv?raw'
import spring from '../brezal/spring.acuarela.yaml?raw'

/** A source as a table, from a file of the server. */
async function read(url: string, name: string, date: string) {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(`${name}: ${answer.status}`)
  return readSource([{ name, content: await answer.text() }], { date })
}

const element = document.querySelector<HTMLElement>('#report')
const status = document.querySelector('#shown')
const { spec, problems } = readReport(spring)
if (element === null || status === null || spec === undefined)
  throw new Error(problems.map((p) => p.message).join('\n'))

const report = await mount(element, spec, {
  data: {
    sales: await read(sales, 'sales.csv', 'date'),
    budget: await read(budget, 'budget.csv', 'month'),
    outlets: await readSource([{ name: 'shops.csv', content: shops }]),
  },
  onChange: ({ parameters, filters }) => {
    const level = parameters.targetLevel ?? 1
    for (const button of document.querySelectorAll<HTMLElement>('[data-level]'))
      button.setAttribute('aria-pressed', String(Number(button.dataset.level) === level))
    status.textContent = filters.region === undefined ? 'All regions' : filters.region.join(' and ')
  },
})

for (const button of document.querySelectorAll<HTMLElement>('[data-level]'))
  button.addEventListener('click', () => report.set('targetLevel', Number(button.dataset.level)))

document.documentElement.dataset.ready = 'yes'
