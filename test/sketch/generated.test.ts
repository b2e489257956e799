import { openReport, readReport, readSource, sketch } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'

/**
 * Files whose columns have known roles: the starter has to find them from the values and the names.
 * In the full run the seed is new each day, and a failure names it.
 */
const SEED = FULL ? Math.floor(Date.now() / 86_400_000) : 20_261
const FILES = FULL ? 40 : 10

/** Names of one role in several languages. */
const NAMES = {
  id: ['order_no', 'Beleg-Nr', 'receipt_id', 'numero_factura'],
  amount: ['revenue', 'Umsatz', 'ventas', 'takings'],
  cost: ['cost', 'Kosten', 'coste'],
  quantity: ['quantity', 'Menge', 'cantidad', 'pieces'],
  price: ['unit_price', 'Preis', 'precio'],
  rate: ['discount_rate', 'Rabatt', 'descuento'],
  status: ['status', 'Zustand', 'estado'],
  color: ['colour', 'Farbe'],
  date: ['order_date', 'Datum', 'fecha'],
  parent: ['region', 'Land', 'zona'],
  child: ['shop', 'Filiale', 'tienda'],
}

interface Plan {
  names: Record<keyof typeof NAMES, string>
  /** The roles in the file besides amount, parent and child, in this order. */
  roles: (keyof typeof NAMES)[]
  rows: number
  mark: ',' | ';'
  seed: number
}

const PLANS: fc.Arbitrary<Plan> = fc.record({
  names: fc.record(
    Object.fromEntries(Object.entries(NAMES).map(([role, list]) => [role, fc.constantFrom(...list)])) as {
      [Role in keyof typeof NAMES]: fc.Arbitrary<string>
    },
  ),
  roles: fc.shuffledSubarray(['id', 'cost', 'quantity', 'price', 'rate', 'status', 'color', 'date'], { minLength: 3 }),
  rows: fc.integer({ min: 150, max: 500 }),
  mark: fc.constantFrom(',', ';'),
  seed: fc.integer({ min: 1, max: 1e9 }),
})

function fileOf({ names, roles, rows, mark, seed }: Plan): string {
  let state = seed
  const next = (): number => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0
    return state / 2 ** 32
  }
  const columns = [...roles, 'parent', 'child', 'amount'] as (keyof typeof NAMES)[]
  const lines = [columns.map((role) => names[role]).join(mark)]
  for (let i = 0; i < rows; i++) {
    const child = Math.floor(next() * 8)
    const quantity = 1 + Math.floor(next() * 9)
    const price = [4.5, 7.9, 12, 19.99, 35][Math.floor(next() * 5)]
    const amount = quantity * price * (0.6 + 0.1 * child)
    const day = new Date(Date.UTC(2024, 0, 1 + Math.floor((i / rows) * 500))).toISOString().slice(0, 10)
    const values: Record<keyof typeof NAMES, string | number> = {
      id: 10_001 + i,
      amount: amount.toFixed(2),
      cost: (amount * (0.4 + 0.3 * next())).toFixed(2),
      quantity,
      price: price.toFixed(2),
      rate: (Math.floor(next() * 30) / 100).toFixed(2),
      status: ['open', 'paid', 'sent'][Math.floor(next() * 3)],
      color: ['#aa3322', '#22aa33', '#3322aa'][Math.floor(next() * 3)],
      date: day,
      parent: `Area ${child % 3}`,
      child: `Place ${child}`,
    }
    lines.push(columns.map((role) => values[role]).join(mark))
  }
  return `${lines.join('\n')}\n`
}

test(`the roles of columns are found in files that were generated from them, seed ${SEED}`, async () => {
  for (const plan of fc.sample(PLANS, { numRuns: FILES, seed: SEED })) {
    const content = fileOf(plan)
    const source = await readSource([{ name: 'd.csv', content }])
    const text = await sketch([{ file: 'd.csv', source }])
    const about = `${JSON.stringify(plan)}\n${text}`
    const { spec } = readReport(text)
    if (spec === undefined) throw new Error(about)
    const { names, roles } = plan
    const formulas = Object.values(spec.measures ?? {}).map((measure) =>
      typeof measure === 'string' ? measure : String(measure.formula),
    )
    const named = (name: string): string => (/^\w+$/.test(name) ? name : `column('${name}')`)
    const sums = (name: string): boolean => formulas.some((formula) => formula.includes(`sum(${named(name)})`))
    expect(sums(names.amount), about).toBe(true)
    for (const role of ['id', 'price', 'status', 'color', 'parent', 'child'] as const)
      expect(sums(names[role]), `${role}: ${about}`).toBe(false)
    if (roles.includes('quantity')) expect(sums(names.quantity), about).toBe(true)
    // A rate alone is never added up.
    if (roles.includes('rate')) expect(formulas, about).not.toContain(`sum(${named(names.rate)})`)
    const [home] = Object.values(spec.sources)
    expect(home.date, about).toBe(roles.includes('date') ? names.date : undefined)
    const overview = spec.exhibits.find(({ name }) => name === 'overview')
    const rows = (overview?.table?.rows ?? []) as string[]
    expect([rows].flat(), about).toEqual([names.parent, names.child])
    // It paints without a message that something is wrong, and its statuses differ.
    const page = await openReport(text, { d: content })
    expect(page.exhibits.length, about).toBeGreaterThan(3)
    const counts = page.strip?.parts.filter(({ kind, count }) => kind === 'status' && count > 0) ?? []
    expect(counts.length, about).toBeGreaterThanOrEqual(2)
    expect(Math.max(...counts.map(({ count }) => count)) / (page.strip?.count ?? 1), about).toBeLessThanOrEqual(0.7)
  }
})
