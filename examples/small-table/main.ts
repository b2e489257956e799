import { fromRows, type PaintSpec, paint, type TableCellStyle } from 'acuarela'
import { SHOPS } from './shops.js'

const sales = fromRows(SHOPS, { columns: { revenue: { better: 'higher' }, growth: { better: 'higher' } } })

/** The rules, said once. Only the target changes as the slider moves. */
const rules: PaintSpec = {
  statuses: {
    ahead: { label: 'On target', wash: 'aqua', icon: 'tick' },
    close: { label: 'Near target', wash: 'straw', icon: 'dash' },
    behind: { label: 'Behind', wash: 'coral', icon: 'cross', weight: 'bold' },
    best: { label: 'Best margins', wash: 'indigo' },
  },
  rules: [
    {
      name: 'target',
      paint: 'revenue',
      bands: [
        { atLeast: 'target', status: 'ahead' },
        { atLeast: '80% of target', status: 'close' },
        { otherwise: 'behind' },
      ],
    },
    { name: 'best', paint: 'margin', rank: { top: 3, status: 'best' } },
    { name: 'growth', paint: 'growth', gradient: { ramp: 'badToGood' } },
  ],
}

const money = new Intl.NumberFormat('en-GB', { style: 'currency', currency: 'EUR', maximumFractionDigits: 0 })
const percent = new Intl.NumberFormat('en-GB', { style: 'percent', minimumFractionDigits: 1 })
const signed = new Intl.NumberFormat('en-GB', { style: 'percent', minimumFractionDigits: 1, signDisplay: 'exceptZero' })
const COLUMNS = [
  { name: 'revenue', print: money },
  { name: 'margin', print: percent },
  { name: 'growth', print: signed },
] as const

function find<E extends Element>(id: string): E {
  const element = document.getElementById(id)
  if (element === null) throw new Error(`no #${id}`)
  return element as unknown as E
}

const slider = find<HTMLInputElement>('target')
const shown = find<HTMLOutputElement>('shown')
const counts = find<HTMLElement>('counts')
const body = find<HTMLTableSectionElement>('rows')

/** Cells are created once; a move of the slider changes only their styles. */
const cells = SHOPS.map((row) => {
  const line = body.insertRow()
  const head = document.createElement('th')
  head.scope = 'row'
  head.textContent = row.shop
  line.append(head)
  return COLUMNS.map(({ name, print }) => {
    const dab = document.createElement('span')
    dab.className = 'dab'
    const words = document.createElement('span')
    words.className = 'words'
    const number = document.createElement('b')
    // A minus as wide as a plus, so that decimal points align.
    number.textContent = print.format(row[name]).replace('-', '\u2212')
    dab.append(words, number)
    line.insertCell().append(dab)
    return { dab, words }
  })
})

function wear({ dab, words }: { dab: HTMLElement; words: HTMLElement }, look: TableCellStyle): void {
  dab.style.background = look.fill ?? 'none'
  dab.style.color = look.ink ?? 'inherit'
  dab.style.fontWeight = look.weight ?? 'inherit'
  dab.dataset.status = look.status ?? ''
  words.textContent = look.status === null ? '' : (rules.statuses?.[look.status]?.label ?? look.status)
}

function repaint(): void {
  const target = Number(slider.value)
  const painting = paint(sales, { ...rules, parameters: { target } })
  shown.textContent = money.format(target)
  const found = new Map<string, number>()
  cells.forEach((row, r) => {
    row.forEach((cell, c) => {
      const look = painting.cell(r, COLUMNS[c].name)
      wear(cell, look)
      if (c === 0 && look.status !== null) found.set(look.status, (found.get(look.status) ?? 0) + 1)
    })
  })
  counts.textContent = ['ahead', 'close', 'behind']
    .map((status) => `${rules.statuses?.[status]?.label}: ${found.get(status) ?? 0}`)
    .join(' · ')
}

slider.addEventListener('input', repaint)
repaint()
