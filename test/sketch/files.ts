/**
 * Made-up data files of many kinds, and what a starter report has to find in each: what is summed,
 * what is not, the date, the rows.
 */
export interface StarterCase {
  name: string
  files: Readonly<Record<string, string>>
  /** Parts of the report that have to be there, in any order. */
  has: readonly (string | RegExp)[]
  /** Parts that must not be there. */
  lacks?: readonly (string | RegExp)[]
}

/** A generator with a fixed seed, so that the files are the same in each run. */
function createRandom(seed: number): {
  next(): number
  pick<T>(list: readonly T[]): T
  whole(from: number, to: number): number
} {
  let state = seed
  const next = (): number => {
    state = (state * 1103515245 + 12345) % 2147483648
    return state / 2147483648
  }
  return {
    next,
    pick: (list) => list[Math.floor(next() * list.length)],
    whole: (from, to) => from + Math.floor(next() * (to - from + 1)),
  }
}

type Random = ReturnType<typeof createRandom>

export function day(from: string, days: number): string {
  return new Date(Date.parse(from) + days * 86_400_000).toISOString().slice(0, 10)
}

/** A file of `count` rows. */
export function csv(
  head: string,
  count: number,
  row: (random: Random, i: number) => readonly (string | number)[],
  mark = ',',
): string {
  const random = createRandom(head.length * 7919 + count)
  const lines = Array.from({ length: count }, (_, i) => row(random, i).join(mark))
  return `${head}\n${lines.join('\n')}${count === 0 ? '' : '\n'}`
}

const VENUES = [
  ['Alder Hall', 'North'],
  ['Birch Court', 'North'],
  ['Cove Stage', 'South'],
  ['Dune House', 'South'],
  ['Elm Yard', 'West'],
] as const
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

const orders = (head: string, days: number, count = 400): string =>
  csv(head, count, (random, i) => {
    const [venue, region] = random.pick(VENUES)
    const [seats, price] = [random.whole(1, 6), random.pick([9.5, 12, 15.5])]
    const takings = random.next() < 0.03 ? '' : (seats * price).toFixed(2)
    return [40_001 + i, day('2024-01-05', Math.floor((i * days) / count)), venue, region, seats, price, takings]
  })

const ORDERS = 'Order No,Ordered,Venue,Region,Seats,Seat price,Takings'

const pairs = (extra: (figure: string) => readonly string[], head: string): string =>
  csv(head, 54, (random, i) => {
    const figure = ['visitors', 'conversion', 'revenue'][i % 3]
    const value = {
      visitors: random.whole(1000, 5000),
      conversion: 0.2 + random.next() / 10,
      revenue: random.whole(20_000, 60_000),
    }
    const [shop, month] = [['Quay', 'Mill', 'Moor'][Math.floor(i / 3) % 3], Math.floor(i / 9) + 1]
    return [shop, `2025-0${month}`, figure, ...extra(figure), value[figure as keyof typeof value]]
  })

export const CASES: readonly StarterCase[] = [
  {
    name: 'orders: numbers of orders are never summed, the region holds the venue, two years are compared',
    files: { 'orders.csv': orders(ORDERS, 800) },
    has: [
      'sum(Takings)',
      'sum(Seats)',
      'mean(column(',
      'rows: [Region, Venue]',
      'date: Ordered',
      'lag(takings, 1 year)',
      /left aside: Order No \(each value once, rising/,
    ],
    lacks: ["sum(column('Order No'))", "sum(column('Seat price'))"],
  },
  {
    name: 'younger orders have no last year',
    files: { 'orders.csv': orders(ORDERS, 120) },
    has: ['sum(Takings)', 'columns: month'],
    lacks: ['lag(', 'period: last'],
  },
  {
    name: 'a few days are shown by day',
    files: { 'orders.csv': orders(ORDERS, 14) },
    has: ['columns: day'],
    lacks: ['trend', 'lag('],
  },
  {
    name: 'German: semicolons, decimal commas, a number of orders',
    files: {
      'umsatz.csv': csv(
        'Bestellnummer;Bestelldatum;Filiale;Gebiet;Menge;Umsatz (EUR);Kosten',
        300,
        (random, i) => {
          const [venue, region] = random.pick(VENUES)
          const amount = random.whole(500, 9000) / 100
          const comma = (x: number): string => x.toFixed(2).replace('.', ',')
          return [
            70_000 + i * 3,
            day('2024-02-01', i),
            venue,
            region,
            random.whole(1, 9),
            comma(amount),
            comma(amount * 0.6),
          ]
        },
        ';',
      ),
    },
    has: [
      "sum(column('Umsatz (EUR)'))",
      'money EUR',
      'label: Margin',
      'date: Bestelldatum',
      'rows: [Gebiet, Filiale]',
      'sum(Menge)',
    ],
    lacks: ['sum(Bestellnummer)'],
  },
  {
    name: 'Spanish names',
    files: {
      'ventas.csv': csv('fecha,tienda,importe,cantidad,descuento', 200, (random, i) => [
        day('2025-01-01', Math.floor(i / 2)),
        random.pick(VENUES)[0],
        random.whole(10, 900),
        random.whole(1, 5),
        random.pick([0, 0.05, 0.1]),
      ]),
    },
    has: ['sum(importe)', 'sum(cantidad)', 'date: fecha', 'a mean weighted by importe'],
    lacks: ['sum(descuento)'],
  },
  {
    name: 'French amounts with a euro sign',
    files: {
      'recettes.csv': csv(
        'date;magasin;recette',
        120,
        (random, i) => [day('2025-01-01', i), random.pick(VENUES)[0], `${random.whole(100, 900)},50 €`],
        ';',
      ),
    },
    has: ['sum(recette)', 'money EUR', 'date: date', 'rows: magasin'],
  },
  {
    name: 'twelve months side by side are stacked in their order',
    files: {
      'wide.csv': csv(`product,line,${MONTHS.join(',')}`, 20, (random, i) => [
        `Pot ${i + 1}`,
        random.pick(['Herbs', 'Roses', 'Trees']),
        ...MONTHS.map(() => random.whole(0, 900)),
      ]),
    },
    has: [`columns: [${MONTHS.join(', ')}]`, 'sum(amount)', `order: [${MONTHS.join(', ')}]`, 'rows: [line, product]'],
    lacks: ['sum(Jan)', 'date:'],
  },
  {
    name: 'months with years as columns become time',
    files: {
      'wide.csv': csv(
        `shop,${Array.from({ length: 24 }, (_, m) => `${2023 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`).join(',')}`,
        8,
        (random, i) => [`Shop ${i + 1}`, ...Array.from({ length: 24 }, () => random.whole(100, 900))],
      ),
    },
    has: ['date: month', 'lag(', 'sum(amount)', 'rows: shop'],
  },
  {
    name: 'quarters with years keep their order',
    files: {
      'wide.csv': csv('shop,Q1 2024,Q2 2024,Q3 2024,Q4 2024,Q1 2025', 9, (random, i) => [
        `Shop ${i + 1}`,
        ...Array.from({ length: 5 }, () => random.whole(100, 900)),
      ]),
    },
    has: ['name: quarter', 'order: [', 'sum(amount)'],
  },
  {
    name: 'years as columns become time',
    files: {
      'wide.csv': csv('line,2020,2021,2022,2023,2024', 6, (random, i) => [
        `Line ${i + 1}`,
        ...Array.from({ length: 5 }, () => random.whole(1000, 9000)),
      ]),
    },
    has: ['name: year', 'sum(amount)', 'rows: line'],
    lacks: ["sum(column('2020'))"],
  },
  {
    name: 'pairs of a figure and a value become a measure each',
    files: { 'pairs.csv': pairs(() => [], 'shop,month,figure,value') },
    has: ['unstack: { name: figure, value: value }', 'sum(revenue)', 'date: month'],
    lacks: ['sum(value)', 'sum(conversion)'],
  },
  {
    name: 'pairs with units',
    files: {
      'pairs.csv': pairs(
        (figure) => [figure === 'visitors' ? 'people' : figure === 'revenue' ? 'EUR' : 'share'],
        'shop,month,kpi,unit,amount',
      ),
    },
    has: ['unstack: { name: kpi, value: amount }'],
    lacks: ['sum(amount)'],
  },
  {
    name: 'a team has no time, and salaries are averaged',
    files: {
      'team.csv': csv('Name,Team,Hired,Born,Salary (EUR),Score', 15, (random, i) => [
        `Person ${'ABCDEFGHIJKLMNO'[i]}.`,
        random.pick(['Shop', 'Yard', 'Office']),
        `20${10 + (i % 12)}-0${1 + (i % 9)}-11`,
        `19${70 + i}-03-12`,
        28_000 + i * 731,
        (3 + random.next() * 2).toFixed(1),
      ]),
    },
    has: ["mean(column('Salary (EUR)'))", 'rows: [Team, Name]', 'mean(Score)'],
    lacks: ['date:', 'asOf', 'sum('],
  },
  {
    name: 'a list of shops with their opening and target',
    files: {
      'shops.csv': csv('shop,town,manager,opened,target', 14, (random, i) => [
        `Shop ${'ABCDEFGHIJKLMN'[i]}`,
        random.pick(['Larkton', 'Fenby', 'Moorham']),
        `M. ${i % 5}`,
        day('2012-03-01', i * 97),
        random.whole(20, 90) * 1000,
      ]),
    },
    has: ['sum(target)', 'shop'],
    lacks: ['date: opened', 'asOf'],
  },
  {
    name: 'sales beside a budget: the plan stands in each cell',
    files: {
      'orders.csv': orders('id,date,shop,region,pieces,price,amount', 360),
      'budget.csv': csv('month,shop,amount', 60, (random, i) => [
        `2024-${String((i % 12) + 1).padStart(2, '0')}`,
        VENUES[Math.floor(i / 12)][0],
        random.whole(400, 900),
      ]),
    },
    has: ['sum(budget.amount)', 'match: [shop]', 'percentChange(', 'at least plan → ahead'],
    lacks: ['sum(id)'],
  },
  {
    name: 'keys of the second file differ in case',
    files: {
      'orders.csv': orders('id,date,shop,region,pieces,price,amount', 360),
      'Budget.csv': csv('Month,Shop,Planned', 60, (random, i) => [
        `2024-${String((i % 12) + 1).padStart(2, '0')}`,
        VENUES[Math.floor(i / 12)][0],
        random.whole(400, 900),
      ]),
    },
    has: [/sum\(budget\.Planned\)/, /match: \[/],
  },
  {
    name: 'a plan that ends before the data is compared where both are',
    files: {
      'orders.csv': orders('id,date,shop,region,pieces,price,amount', 500),
      'budget.csv': csv('month,shop,amount', 60, (random, i) => [
        `2024-${String((i % 12) + 1).padStart(2, '0')}`,
        VENUES[Math.floor(i / 12)][0],
        random.whole(400, 900),
      ]),
    },
    has: ['period: 2024-01 to 2024-12', 'sum(budget.amount)'],
  },
  {
    name: 'a plan in a column beside what was reached',
    files: {
      'sales.csv': csv('month,shop,takings,plan', 60, (random, i) => [
        `2024-${String((i % 12) + 1).padStart(2, '0')}`,
        VENUES[Math.floor(i / 12)][0],
        random.whole(500, 900),
        random.whole(500, 900),
      ]),
    },
    has: ['sum(takings)', 'sum(plan)', 'at least planAmount → ahead', 'percentChange('],
  },
  {
    name: 'receipts with debtors: less outstanding is better, the invoice is no amount',
    files: {
      'debtors.csv': csv('invoice,customer,invoiced,due,outstanding', 90, (random, i) => [
        `INV-${1000 + i}`,
        `Customer ${random.whole(1, 12)}`,
        day('2025-01-02', i),
        day('2025-02-02', i),
        random.whole(10, 4000),
      ]),
    },
    has: ['sum(outstanding)', 'better: lower', 'at most target → ahead', 'date: invoiced'],
    lacks: ['date: due'],
  },
  {
    name: 'a survey with stars',
    files: {
      'survey.csv': csv('city,age group,rating,comment', 120, (random) => [
        random.pick(['Larkton', 'Fenby', 'Moorham']),
        random.pick(['under 30', '30 to 50', 'over 50']),
        random.whole(1, 5),
        random.pick(['"all was fine, thank you"', '"the roses came late and were dry"', '']),
      ]),
    },
    has: ['mean(rating)'],
    lacks: ['sum(rating)'],
  },
  {
    name: 'a survey of texts counts its rows',
    files: {
      'answers.csv': csv('city,answer', 80, (random) => [
        random.pick(['Larkton', 'Fenby', 'Moorham']),
        random.pick(['yes', 'no idea', 'maybe', 'later']),
      ]),
    },
    has: ['count()', 'heatmap'],
    lacks: ['sum(', 'mean('],
  },
  {
    name: 'one column of numbers',
    files: { 'x.csv': csv('x', 40, (random) => [random.whole(0, 100)]) },
    has: ['records:'],
    lacks: ['table:'],
  },
  {
    name: 'one column of texts',
    files: { 'plants.csv': csv('plant', 60, (random) => [random.pick(['Rose', 'Fig', 'Box', 'Yew'])]) },
    has: ['count()', 'rows: plant'],
  },
  {
    name: 'a file without rows',
    files: { 'empty.csv': csv('date,shop,amount', 0, () => []) },
    has: ['file: empty.csv', 'count()'],
  },
  {
    name: 'a single row',
    files: { 'single.csv': 'date,shop,amount\n2025-03-01,Quay,12.5\n' },
    has: ['sum(amount)'],
    lacks: ['bands'],
  },
  {
    name: 'thousands of columns',
    files: {
      'wide.csv': csv(['shop', ...Array.from({ length: 3000 }, (_, c) => `reading ${c}`)].join(','), 6, (random, i) => [
        `Shop ${i + 1}`,
        ...Array.from({ length: 3000 }, () => random.whole(0, 99)),
      ]),
    },
    has: ['rows: shop', /and \d+ more/],
  },
  {
    name: 'stock is not added over time',
    files: {
      'stock.csv': csv('day,plant,line,stock level', 240, (random, i) => [
        day('2025-01-01', Math.floor(i / 12)),
        `Plant ${(i % 12) + 1}`,
        ['Herbs', 'Roses', 'Trees'][(i % 12) % 3],
        random.whole(0, 80),
      ]),
    },
    has: ["mean(column('stock level'))", 'date: day', 'better: neither'],
    lacks: ["sum(column('stock level'))"],
  },
  {
    name: 'a rate that two amounts divide to is their ratio',
    files: {
      'margins.csv': csv('shop,line,revenue,cost,margin', 80, (random) => {
        const revenue = random.whole(1000, 9000)
        const cost = Math.round(revenue * (0.4 + random.next() / 4))
        return [
          random.pick(VENUES)[0],
          random.pick(['Herbs', 'Roses', 'Trees']),
          revenue,
          cost,
          (1 - cost / revenue).toFixed(4),
        ]
      }),
    },
    has: ['(sum(revenue) - sum(cost)) / sum(revenue)'],
    lacks: ['sum(margin)', 'mean(margin)'],
  },
  {
    name: 'a rate is weighted by what it is a rate of',
    files: {
      'visits.csv': csv('week,shop,visitors,conversion rate', 90, (random, i) => [
        `2025-W${String((i % 18) + 1).padStart(2, '0')}`,
        VENUES[Math.floor(i / 18)][0],
        random.whole(100, 900),
        (0.1 + random.next() / 5).toFixed(3),
      ]),
    },
    has: ['sum(visitors)', 'a mean weighted by visitors'],
    lacks: ["sum(column('conversion rate'))"],
  },
  {
    name: 'a list of prices',
    files: {
      'prices.csv': csv('plant,group,price', 30, (random, i) => [
        `Plant ${i + 1}`,
        random.pick(['Herbs', 'Roses', 'Trees']),
        (random.whole(200, 4000) / 100).toFixed(2),
      ]),
    },
    has: ['mean(price)', 'better: neither', 'rows: [group, plant]'],
    lacks: ['sum(price)', 'bands'],
  },
  {
    name: 'price and quantity without an amount give one',
    files: {
      'lines.csv': csv('date,shop,unit price,quantity', 100, (random, i) => [
        day('2025-01-01', i),
        random.pick(VENUES)[0],
        random.whole(2, 40),
        random.whole(1, 9),
      ]),
    },
    has: ["column('unit price') * quantity", 'sum(lineAmount)'],
  },
  {
    name: 'statuses, colours and pictures of the data',
    files: {
      'tasks.csv': csv('task,state,colour,picture,hours', 40, (random, i) => [
        `Task ${i + 1}`,
        random.pick(['open', 'done', 'late']),
        random.pick(['#dbeef0', '#f4d0c8', '#eef3c4']),
        `p${i % 3}.png`,
        random.whole(1, 20),
      ]),
    },
    has: ['sum(hours)', 'fill from column colour', /left aside: .*picture \(names of image files/],
  },
  {
    name: 'of two dates the one that rows happen on',
    files: {
      'deliveries.csv': csv('order date,delivered,carrier,amount', 90, (random, i) => [
        day('2025-01-01', i),
        i % 7 === 0 ? '' : day('2025-01-05', i),
        random.pick(['Van', 'Post']),
        random.whole(10, 400),
      ]),
    },
    has: ['date: order date', 'sum(amount)'],
  },
  {
    name: 'moments become days',
    files: {
      'tills.json': JSON.stringify(
        Array.from({ length: 60 }, (_, i) => ({
          at: `${day('2025-03-01', i)}T1${i % 10}:30:00Z`,
          till: `Till ${i % 4}`,
          amount: (i * 37) % 90,
        })),
      ),
    },
    has: ['date: at', 'sum(amount)', 'rows: till'],
  },
  {
    name: 'percents as text are rates',
    files: {
      'rates.csv': csv('shop,revenue,discount', 30, (random, i) => [
        VENUES[i % 5][0],
        random.whole(1000, 9000),
        `${random.whole(1, 20)}%`,
      ]),
    },
    has: ['sum(revenue)', 'percent 1'],
    lacks: ['sum(discount)'],
  },
  {
    name: 'three levels: the innermost that fits',
    files: {
      'towns.csv': csv('country,region,town,sales', 160, (random) => {
        const town = random.whole(1, 16)
        return [`Country ${town % 2}`, `Region ${town % 4}`, `Town ${town}`, random.whole(10, 900)]
      }),
    },
    has: [/rows: \[(country|region), (region|town)\]/, 'sum(sales)'],
  },
  {
    name: 'last year in a column beside it',
    files: {
      'yoy.csv': csv('shop,line,sales,sales last year', 60, (random) => [
        random.pick(VENUES)[0],
        random.pick(['Herbs', 'Roses']),
        random.whole(10, 900),
        random.whole(10, 900),
      ]),
    },
    has: ['sum(sales)', "sum(column('sales last year'))", 'percentChange('],
  },
  {
    name: 'years and months as numbers are no amounts',
    files: {
      'periods.csv': csv('year,month,shop,units', 72, (random, i) => [
        2023 + Math.floor(i / 36),
        (i % 12) + 1,
        VENUES[i % 5][0],
        random.whole(1, 90),
      ]),
    },
    has: ['sum(units)'],
    lacks: ['sum(year)', 'sum(month)', 'mean(year)'],
  },
  {
    name: 'refunds: negative amounts',
    files: {
      'refunds.csv': csv('date,shop,amount', 80, (random, i) => [
        day('2025-01-01', i),
        random.pick(VENUES)[0],
        -random.whole(10, 400),
      ]),
    },
    has: ['sum(amount)'],
    lacks: ['bands'],
  },
  {
    name: 'columns with any names',
    files: {
      'odd.csv': csv(`"where","a ""quoted"" name",O'Hara,and,null,"x, y: [z] #1"`, 40, (random) => [
        random.pick(['A', 'B', 'C']),
        random.whole(1, 9),
        random.whole(10, 99),
        random.pick(['u', 'v']),
        random.whole(1, 400),
        random.whole(1, 7),
      ]),
    },
    has: ['rows:'],
  },
]
