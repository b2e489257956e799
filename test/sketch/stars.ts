import { csv, day, type StarterCase } from './files.js'

/** Tables of order lines beside tables of what is known of their keys, named in any order. */

const VENUES = ['Alder Hall', 'Birch Court', 'Cove Stage', 'Dune House', 'Elm Yard', 'Fern Loft'] as const
const venues = (head: string, row: (i: number) => readonly (string | number)[]): string =>
  csv(head, VENUES.length, (_, i) => row(i))

const sold = (key: (i: number) => string | number, head = 'day,venue,seats,takings'): string =>
  csv(head, 720, (random, i) => [
    day('2025-01-01', Math.floor(i / 4)),
    key(random.whole(0, 5)),
    random.whole(1, 60),
    `${random.whole(80, 900)}.50`,
  ])

/** About 14,700 a month are taken in each venue. */
const TARGETS = venues('venue,head,opened,target', (i) => [
  VENUES[i],
  ['Nora', 'Otto', 'Ines'][i % 3],
  `200${i}-04-01`,
  13_000 + 500 * i,
])

export const STARS: readonly StarterCase[] = [
  {
    name: 'a table of venues with a target is looked up, and the target is for a month',
    files: { 'sold.csv': sold((i) => VENUES[i]), 'venues.csv': TARGETS },
    has: ['lookup: true', 'match: [venue]', 'per: month', 'sum(venues.target)', 'rows: [venues.head, venue]'],
    lacks: ['date: opened', 'sum(venues.opened)'],
  },
  {
    name: 'the rows come first, whichever file is named first',
    files: { 'venues.csv': TARGETS, 'sold.csv': sold((i) => VENUES[i]) },
    has: [/sources:[\s\S]* sold: \{ file: sold\.csv[\s\S]* venues:/, 'sum(takings)', 'rows: [venues.head, venue]'],
  },
  {
    name: 'a target that fits no period is no plan',
    files: { 'sold.csv': sold((i) => VENUES[i]), 'venues.csv': TARGETS.replaceAll(/,1(\d{4})$/gm, ',1$1000') },
    has: ['lookup: true'],
    lacks: ['per:', 'sum(venues.target)', 'sum(target)'],
  },
  {
    name: 'numbers as keys under another name; a name is shown in place of its number',
    files: {
      'sold.csv': sold((i) => i + 1, 'day,venue_id,seats,takings'),
      'venues.csv': venues('id,venue name,head', (i) => [i + 1, VENUES[i], ['Nora', 'Otto'][i % 2]]),
    },
    has: ['match: [{ venue_id: id }]', 'rows: [venues.head, venues.venue name]', 'Takings by venue name'],
    lacks: ['sum(venue_id)', 'fields:'],
  },
  {
    name: 'rates by month and currency make one currency of the amounts',
    files: {
      'orders.csv': csv('day,venue,currency,amount', 360, (random, i) => [
        day('2025-01-01', Math.floor(i / 2)),
        random.pick(VENUES),
        random.pick(['EUR', 'CHF']),
        random.whole(10, 900),
      ]),
      'rates.csv': csv('month,currency,rate', 12, (_, i) => [
        `2025-0${Math.floor(i / 2) + 1}`,
        ['EUR', 'CHF'][i % 2],
        i % 2 === 0 ? 1 : `1.0${i}`,
      ]),
    },
    has: ['lookup: exact', 'amount * rates.rate', 'sum(amountInEUR)', 'money EUR 0'],
    lacks: ['sum(rates.rate)', 'mean(rate)'],
  },
]
