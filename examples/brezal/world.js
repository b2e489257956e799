// @ts-check
/**
 * The made-up world of Brezal Nurseries: plants sold through garden shops. Nothing in it exists.
 */

/**
 * `share` is the shop's size; `drift` how its sales change over a year; `opens` the month (0 is
 * July 2022) it opens in.
 * @typedef {{ name: string, region: string, teams: string[], share: number, drift: number, opens: number }} Shop
 */

/** @type {Shop[]} */
export const SHOPS = [
  { name: 'Larkmoor', region: 'Coast', teams: ['Dune', 'Harbour'], share: 1.0, drift: 0.98, opens: 0 },
  { name: 'Saltmarsh', region: 'Coast', teams: ['Dune', 'Harbour'], share: 1.18, drift: 1.03, opens: 0 },
  { name: 'Quay Lane', region: 'Coast', teams: ['Harbour'], share: 0.78, drift: 1.34, opens: 0 },
  { name: 'Fennel Row', region: 'Valley', teams: ['Orchard', 'River'], share: 0.95, drift: 1.0, opens: 0 },
  { name: 'Tansy Green', region: 'Valley', teams: ['River'], share: 1.3, drift: 0.72, opens: 0 },
  { name: 'Old Mill', region: 'Valley', teams: ['Orchard', 'River'], share: 1.12, drift: 1.05, opens: 0 },
  { name: 'Wren Hollow', region: 'Upland', teams: ['Ridge', 'Moss'], share: 0.9, drift: 1.01, opens: 0 },
  { name: 'Heatherby', region: 'Upland', teams: ['Ridge'], share: 0.98, drift: 1.12, opens: 15 },
  { name: 'Peña Alta', region: 'Upland', teams: ['Moss'], share: 0.84, drift: 0.97, opens: 0 },
]

/**
 * What the shop register says of each shop: its town, its manager, the day it opened, and what it
 * is
 * to sell in a quarter. A tenth is agreed for next spring and has sold nothing yet.
 * @type {{ shop: string, town: string, manager: string, opened: string, target: number }[]}
 */
export const OUTLETS = [
  { shop: 'Larkmoor', town: 'Marsden Quay', manager: 'Ines Roble', opened: '2014-03-01', target: 60000 },
  { shop: 'Saltmarsh', town: 'Marsden Quay', manager: 'Ines Roble', opened: '2011-09-15', target: 72000 },
  { shop: 'Quay Lane', town: 'Brae Harbour', manager: 'Tomas Llorca', opened: '2019-04-06', target: 78000 },
  { shop: 'Fennel Row', town: 'Otterbeck', manager: 'Greta Aune', opened: '2016-02-20', target: 54000 },
  { shop: 'Tansy Green', town: 'Otterbeck', manager: 'Greta Aune', opened: '2012-05-05', target: 52000 },
  { shop: 'Old Mill', town: 'Nether Weir', manager: 'Paul Ashby', opened: '2009-10-01', target: 68000 },
  { shop: 'Wren Hollow', town: 'Cold Tor', manager: 'Paul Ashby', opened: '2017-03-18', target: 56000 },
  { shop: 'Heatherby', town: 'Cold Tor', manager: 'Mina Sorrel', opened: '2023-10-02', target: 58000 },
  { shop: 'Peña Alta', town: 'Sierra Brava', manager: 'Mina Sorrel', opened: '2018-06-09', target: 50000 },
  { shop: 'Juniper Cross', town: 'Sierra Brava', manager: 'Mina Sorrel', opened: '2026-03-02', target: 30000 },
]

/**
 * The towns of the shops, with their county and inhabitants.
 * @type {{ town: string, county: string, people: number }[]}
 */
export const TOWNS = [
  { town: 'Marsden Quay', county: 'Westing', people: 31800 },
  { town: 'Brae Harbour', county: 'Westing', people: 12400 },
  { town: 'Otterbeck', county: 'Vale', people: 22900 },
  { town: 'Nether Weir', county: 'Vale', people: 8700 },
  { town: 'Cold Tor', county: 'High Fells', people: 15100 },
  { town: 'Sierra Brava', county: 'High Fells', people: 6200 },
]

/**
 * What a unit of each currency was worth in euros in July 2022, and about how much that moved in a
 * month.
 * @type {[string, number, number][]}
 */
export const CURRENCIES = [
  ['EUR', 1, 0],
  ['CHF', 1.012, 0.011],
  ['GBP', 1.176, 0.014],
]

/**
 * `season` is the weight of each month, January first: 0 means that nothing is sold. `margin` is
 * what is left of the price. Plants are [name, price in cents, largest usual quantity].
 * @typedef {{ name: string, weight: number, season: number[], margin: number, plants: [string, number, number][] }} Line
 */

/** @type {Line[]} */
export const LINES = [
  {
    name: 'Bulbs',
    weight: 0.9,
    season: [3, 4, 2, 1, 0, 0, 0, 4, 12, 16, 11, 4],
    margin: 0.46,
    plants: [
      ['Crocus mix, 50', 890, 24],
      ['Tulip "Brezal Red"', 640, 40],
      ['Allium, giant', 1150, 14],
      ['Narcissus <early>', 560, 36],
    ],
  },
  {
    name: 'Ferns',
    weight: 0.6,
    season: [2, 2, 4, 7, 9, 9, 8, 7, 6, 4, 3, 2],
    margin: 0.41,
    plants: [
      ['Hart’s tongue', 1290, 12],
      ['Lady fern', 980, 16],
      ['Tree fern, 80 cm', 8900, 3],
    ],
  },
  {
    name: 'Hedging',
    weight: 0.95,
    season: [9, 10, 12, 6, 2, 0, 0, 1, 3, 9, 13, 10],
    margin: 0.34,
    plants: [
      ['Hornbeam, ten whips', 4200, 6],
      ['Beech, bundle', 3900, 5],
      ['Yew, 60 cm', 4450, 4],
      ['Privet, potted', 3200, 8],
    ],
  },
  {
    name: 'Meadow seed',
    weight: 0.8,
    season: [1, 2, 6, 11, 14, 12, 9, 7, 4, 2, 1, 1],
    margin: 0.52,
    plants: [
      ['Oxeye mix, 50 g', 390, 60],
      ['Cornflower', 560, 40],
      ['Amapola', 480, 40],
      ['Yellow rattle', 450, 48],
    ],
  },
  {
    name: 'Pond plants',
    weight: 1.05,
    season: [4, 4, 7, 9, 10, 8, 7, 6, 6, 5, 6, 14],
    margin: 0.38,
    plants: [
      ['Water lily, dwarf <20 cm', 1450, 18],
      ['Lotus, 30" tub', 3600, 8],
      ['Water mint & sedge', 1690, 12],
      ['Marsh marigold, tray', 2490, 10],
      ['Aquatic soil, 40 l', 990, 40],
    ],
  },
  {
    name: 'Roses',
    weight: 1.3,
    season: [4, 6, 10, 12, 16, 15, 8, 5, 5, 6, 5, 3],
    margin: 0.43,
    plants: [
      ['Rose "Doña Brezal"', 2490, 14],
      ['Rose, climbing', 2850, 12],
      ['Rose, ground cover', 1490, 24],
      ['Rosier étoilé', 2690, 10],
    ],
  },
  {
    name: 'Shrubs',
    weight: 1.0,
    season: [3, 4, 8, 10, 9, 6, 4, 4, 8, 11, 8, 4],
    margin: 0.4,
    plants: [
      ['Heather, mixed tray', 1890, 20],
      ['Hydrangea', 2350, 12],
      ['Box, clipped', 3400, 8],
      ['Camellia', 2990, 8],
    ],
  },
  {
    name: 'Succulents',
    weight: 0.5,
    season: [4, 4, 5, 7, 9, 11, 12, 10, 7, 5, 4, 6],
    margin: 0.55,
    plants: [
      ['Aloe', 990, 20],
      ['Sedum tray', 1290, 16],
      ['Echeveria', 650, 30],
    ],
  },
]

/** @type {[string, number][]} name and weight */
export const CHANNELS = [
  ['Shop', 68],
  ['Online', 22],
  ['Trade', 10],
]
