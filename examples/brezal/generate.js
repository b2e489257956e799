// @ts-check
/**
 * Makes the order lines, the budget, the price list and the footfall of Brezal Nurseries from a
 * fixed seed: the same bytes on every machine, for only whole numbers, plain arithmetic and square
 * roots are used.
 *
 * Run it to write `sales.csv`, `budget.csv`, `prices.csv`, `footfall.csv`, `shops.csv`,
 * `towns.csv`, `rates.csv`, `border.csv`, `freight.csv` and `plans.fods` beside this file: `node
 * examples/brezal/generate.js`.
 */
import { CHANNELS, CURRENCIES, LINES, OUTLETS, SHOPS, TOWNS } from './world.js'

const SEED = 20250630
const MONTHS = 36
/** About as many order lines in all. */
const ORDERS = 28000

/** mulberry32: small, and equal in every engine. @param {number} seed */
function random(seed) {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), state | 1)
    t = (t + Math.imul(t ^ (t >>> 7), t | 61)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** Month 0 is July 2022. @param {number} month */
function calendar(month) {
  const year = 2022 + Math.floor((month + 6) / 12)
  const of = (month + 6) % 12
  return { year, of, days: new Date(Date.UTC(year, of + 1, 0)).getUTCDate() }
}

/** A value with commas, quotes or line ends goes between quotes. @param {string} text */
function csv(text) {
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** @param {number} cents */
function money(cents) {
  const sign = cents < 0 ? '-' : ''
  const whole = Math.abs(cents)
  return `${sign}${Math.floor(whole / 100)}.${String(whole % 100).padStart(2, '0')}`
}

/** @param {number} n */
const two = (n) => String(n).padStart(2, '0')

/**
 * How much a shop sells in a month, against its size: `drift` a year, compounded by month.
 * @param {import('./world.js').Shop} shop
 * @param {number} month
 */
function strength(shop, month) {
  if (month < shop.opens) return 0
  const years = month / 12
  const whole = Math.floor(years)
  let grown = 1
  for (let y = 0; y < whole; y++) grown *= shop.drift
  grown *= 1 + (shop.drift - 1) * (years - whole)
  // A new shop takes half a year to become known.
  const known = shop.opens === 0 ? 1 : Math.min(1, 0.4 + (month - shop.opens) * 0.1)
  return shop.share * grown * known
}

/** What each shop sells of each line in each month, unscaled. */
function weights() {
  const cells = []
  let total = 0
  for (let month = 0; month < MONTHS; month++) {
    const { of } = calendar(month)
    for (const shop of SHOPS)
      for (const line of LINES) {
        const weight = strength(shop, month) * line.weight * line.season[of]
        total += weight
        cells.push({ month, shop, line, weight })
      }
  }
  return { cells, total }
}

export function generateSales() {
  const next = random(SEED)
  /** @param {number} n */
  const upTo = (n) => Math.floor(next() * n)
  const { cells, total } = weights()
  /** @type {{ day: string, text: string }[]} */
  const lines = []
  for (const { month, shop, line, weight } of cells) {
    const { year, of, days } = calendar(month)
    const wanted = (weight / total) * ORDERS
    // Weather and chance: a month differs from its season by up to a fifth.
    const count = Math.floor(wanted * (0.8 + 0.4 * next()) + next())
    for (let k = 0; k < count; k++) {
      const day = `${year}-${two(of + 1)}-${two(1 + upTo(days))}`
      const [plant, price, most] = line.plants[upTo(line.plants.length)]
      const channel = pick(next)
      const few = Math.floor(next() * next() * most * (channel === 'Trade' ? 5.4 : 2.05)) + 1
      const raise = 1 + 0.03 * Math.floor(month / 12)
      const discount = channel === 'Trade' ? 0.86 : channel === 'Online' ? 0.97 : 1
      const amount = Math.round(few * price * raise * discount)
      const cost = Math.round(amount * (1 - line.margin) * (0.94 + 0.12 * next()) * (channel === 'Trade' ? 1.07 : 1))
      const team = shop.teams[upTo(shop.teams.length)]
      const returned = next() < (shop.name === 'Tansy Green' ? 0.034 : 0.014)
      const sign = returned ? -1 : 1
      // Records have gaps: sometimes a channel, a cost or an amount is missing.
      const blank = next()
      lines.push({
        day,
        text: row([
          day,
          shop.region,
          shop.name,
          team,
          line.name,
          plant,
          blank < 0.004 ? '' : channel,
          String(sign * few),
          blank > 0.9985 ? '' : money(sign * amount),
          blank > 0.994 ? '' : money(sign * cost),
          returned ? 'yes' : 'no',
        ]),
      })
    }
  }
  // One exceptional order: a whole park is planted.
  const park = [
    '2024-03-12',
    'Coast',
    'Saltmarsh',
    'Dune',
    'Roses',
    'Rose, ground cover',
    'Trade',
    '5400',
    '69552.00',
    '45200.00',
    'no',
  ]
  lines.push({ day: '2024-03-12', text: row(park) })
  lines.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
  const head = 'date,region,shop,team,line,plant,channel,quantity,amount,cost,returned'
  return `${head}\n${lines.map((l) => l.text).join('\n')}\n`
}

/** @param {() => number} next */
function pick(next) {
  let left = next() * 100
  for (const [name, weight] of CHANNELS) {
    left -= weight
    if (left < 0) return name
  }
  return CHANNELS[0][0]
}

/** @param {string[]} values */
function row(values) {
  return values.map(csv).join(',')
}

/**
 * The budget: what each shop was to sell of each line in each month, in round amounts, made without
 * knowing how shops would drift.
 */
export function generateBudget() {
  const lines = ['month,shop,line,amount']
  for (let month = 0; month < MONTHS; month++) {
    const { year, of } = calendar(month)
    for (const shop of SHOPS) {
      if (month < shop.opens) continue
      for (const line of LINES) {
        const wanted = shop.share * line.weight * line.season[of] * 362 * (1 + 0.04 * Math.floor(month / 12))
        if (wanted > 0)
          lines.push(row([`${year}-${two(of + 1)}`, shop.name, line.name, String(Math.round(wanted / 50) * 50)]))
      }
    }
  }
  return `${lines.join('\n')}\n`
}

/** The price list: a row for each change of a price, with its date. */
export function generatePrices() {
  const next = random(SEED + 1)
  /** @type {{ day: string, text: string }[]} */
  const lines = []
  for (const line of LINES)
    for (const [name, first] of line.plants) {
      let price = first
      // Most are listed from the start; a few are new this spring.
      const isNew = next() < 0.12
      const put = (/** @type {string} */ day) => lines.push({ day, text: row([day, name, line.name, money(price)]) })
      if (!isNew) put('2023-01-02')
      for (const day of ['2023-09-04', '2024-02-05', '2024-11-04', '2025-02-03', '2025-04-07']) {
        if (isNew && day < '2025') continue
        if (next() < 0.45 && !(isNew && lines.at(-1)?.day === undefined)) continue
        price = Math.round((price * (96 + Math.floor(next() * 14))) / 1000) * 10
        put(day)
      }
      if (isNew) put('2025-05-05')
    }
  lines.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
  return `date,plant,line,price\n${lines.map((l) => l.text).join('\n')}\n`
}

/** Counts of doors and tills, as pairs of a name and a value: visitors, baskets, opening hours. */
export function generateFootfall() {
  const next = random(SEED + 2)
  const lines = ['month,shop,figure,value']
  for (let month = MONTHS - 18; month < MONTHS; month++) {
    const { year, of, days } = calendar(month)
    for (const shop of SHOPS) {
      const visitors = Math.round(shop.share * (1800 + 500 * LINES[5].season[of]) * (0.9 + next() / 5))
      const baskets = Math.round(visitors * (0.24 + next() * 0.16) * (shop.drift > 1.1 ? 1.15 : 1))
      const hours = days * 9 - (of === 0 ? 36 : 0)
      for (const [figure, value] of Object.entries({ visitors, baskets, hours }))
        lines.push(row([`${year}-${two(of + 1)}`, shop.name, figure, String(value)]))
    }
  }
  return `${lines.join('\n')}\n`
}

/** The shop register: a row for each shop. */
export function generateShops() {
  const lines = OUTLETS.map(({ shop, town, manager, opened, target }) =>
    row([shop, town, manager, opened, String(target)]),
  )
  return `shop,town,manager,opened,target\n${lines.join('\n')}\n`
}

/** The towns of the shops. */
export function generateTowns() {
  const lines = TOWNS.map(({ town, county, people }) => row([town, county, String(people)]))
  return `town,county,people\n${lines.join('\n')}\n`
}

/** What a unit of each currency is worth in euros, month by month. */
export function generateRates() {
  const next = random(SEED + 3)
  const lines = ['month,currency,rate']
  const worth = CURRENCIES.map(([, first]) => first)
  for (let month = 0; month < MONTHS; month++) {
    const { year, of } = calendar(month)
    CURRENCIES.forEach(([currency, , step], i) => {
      worth[i] += step * (next() - 0.5)
      lines.push(row([`${year}-${two(of + 1)}`, currency, worth[i].toFixed(4)]))
    })
  }
  return `${lines.join('\n')}\n`
}

/** What freight costs for each euro of an order, in the year 2024 alone: nobody went on with it. */
export function generateFreight() {
  const next = random(SEED + 5)
  const lines = ['month,rate']
  for (let month = 18; month < 30; month++) {
    const { year, of } = calendar(month)
    lines.push(row([`${year}-${two(of + 1)}`, (0.04 + 0.01 * next()).toFixed(3)]))
  }
  return `${lines.join('\n')}\n`
}

/** What the shops mean to sell: a workbook as people keep them, with a title and merged regions. */
export function generatePlans() {
  const spaces = ['office', 'table', 'text']
    .map((name) => ` xmlns:${name}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
    .join('')
  /** @param {string} text */
  const word = (text, more = '') =>
    `<table:table-cell office:value-type="string"${more}><text:p>${text}</text:p></table:table-cell>`
  /** @param {number} amount */
  const money = (amount) =>
    `<table:table-cell office:value-type="currency" office:currency="EUR" office:value="${amount}"><text:p>€${amount.toLocaleString('en')}</text:p></table:table-cell>`
  /** @param {string} day @param {string} shown */
  const date = (day, shown) =>
    `<table:table-cell office:value-type="date" office:date-value="${day}"><text:p>${shown}</text:p></table:table-cell>`
  const row = (/** @type {string[]} */ ...cells) => `<table:table-row>${cells.join('')}</table:table-row>\n`
  const months = [date('2025-04-01', 'Apr 25'), date('2025-05-01', 'May 25'), date('2025-06-01', 'Jun 25')]
  /** @type {[string, [string, number[]][]][]} */
  const plans = [
    [
      'Coast',
      [
        ['Larkmoor', [20500, 22500, 19500]],
        ['Saltmarsh', [24000, 27000, 23500]],
        ['Quay Lane', [31000, 35500, 33000]],
      ],
    ],
    [
      'Upland',
      [
        ['Heatherby', [24000, 27000, 24500]],
        ['Wren Hollow', [17500, 19500, 17500]],
        ['Peña Alta', [15500, 17500, 15500]],
      ],
    ],
    [
      'Valley',
      [
        ['Old Mill', [22500, 25500, 23000]],
        ['Fennel Row', [17500, 19500, 17500]],
        ['Tansy Green', [11500, 12500, 10500]],
      ],
    ],
  ]
  const covered = '<table:covered-table-cell/>'
  const rows = plans.flatMap(([region, shops]) =>
    shops.map(([shop, amounts], i) =>
      row(
        i === 0
          ? word(region, ` table:number-rows-spanned="${shops.length}" table:number-columns-spanned="1"`)
          : covered,
        word(shop),
        ...amounts.map(money),
      ),
    ),
  )
  return `<?xml version="1.0" encoding="UTF-8"?>
<office:document${spaces} office:version="1.3" office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:body><office:spreadsheet>
<table:table table:name="Plans"><table:table-column table:number-columns-repeated="5"/>
${row(word('What the shops mean to sell this spring'))}<table:table-row/>
${row(word('region'), word('shop'), ...months)}${rows.join('')}</table:table>
</office:spreadsheet></office:body></office:document>
`
}

/** Orders of a shop at the border, which sells in two currencies: the last two years. */
export function generateBorder() {
  const next = random(SEED + 4)
  /** @param {string} a @param {string} b */
  const byDay = (a, b) => (a < b ? -1 : 1)
  const lines = ['date,line,plant,currency,quantity,amount']
  for (let month = MONTHS - 24; month < MONTHS; month++) {
    const { year, of, days } = calendar(month)
    /** @type {string[]} */
    const orders = []
    for (const line of LINES)
      for (let n = 0; n < line.weight * line.season[of] * 0.5; n++) {
        const [plant, price, most] = line.plants[Math.floor(next() * line.plants.length)]
        const quantity = 1 + Math.floor(next() * most)
        const [currency, first] = CURRENCIES[next() < 0.62 ? 1 : 0]
        const date = `${year}-${two(of + 1)}-${two(1 + Math.floor(next() * days))}`
        const amount = Math.round((quantity * price * (0.9 + next() * 0.15)) / first / 5) * 5
        orders.push(row([date, line.name, plant, currency, String(quantity), money(amount)]))
      }
    lines.push(...orders.sort(byDay))
  }
  return `${lines.join('\n')}\n`
}

// Browsers make the same files, and have no process.
if (typeof process !== 'undefined' && process.argv[1]?.endsWith('generate.js')) {
  const { writeFileSync } = await import('node:fs')
  const beside = (/** @type {string} */ name) => new URL(name, import.meta.url)
  writeFileSync(beside('sales.csv'), generateSales())
  writeFileSync(beside('budget.csv'), generateBudget())
  writeFileSync(beside('prices.csv'), generatePrices())
  writeFileSync(beside('footfall.csv'), generateFootfall())
  writeFileSync(beside('shops.csv'), generateShops())
  writeFileSync(beside('towns.csv'), generateTowns())
  writeFileSync(beside('rates.csv'), generateRates())
  writeFileSync(beside('border.csv'), generateBorder())
  writeFileSync(beside('plans.fods'), generatePlans())
  writeFileSync(beside('freight.csv'), generateFreight())
}
