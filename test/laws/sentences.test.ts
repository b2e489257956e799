import { fromRows, type PaintSpec, paint, type RuleSpec } from 'acuarela'
import { expect, test } from 'vitest'

const TABLE = fromRows(
  [
    {
      shop: 'Larkmoor',
      region: 'Coast',
      channel: 'Trade',
      month: '2025-03-01',
      revenue: 1,
      plan: 2,
      gap: 3,
      state: 'ahead',
    },
  ],
  { columns: { revenue: { better: 'higher' }, gap: { better: 'higher' } } },
)

const LOOKS: Omit<PaintSpec, 'rules'> = {
  parameters: { target: 50, slack: '15%' },
  statuses: {
    ahead: { wash: 'aqua' },
    close: { wash: 'straw' },
    behind: { wash: 'coral' },
    above: { ink: 'indigo' },
  },
}

/** Rules in keys, each with its sentence written by hand. */
const SENTENCES: [rule: RuleSpec, sentence: string][] = [
  [
    {
      paint: 'revenue',
      grain: 'shop',
      bands: [
        { atLeast: 'target', status: 'ahead' },
        { atLeast: '80% of target', status: 'close' },
        { otherwise: 'behind' },
      ],
    },
    'revenue of each shop: at least target → ahead; at least 80% of target → close; otherwise → behind',
  ],
  [
    {
      paint: 'gap',
      bands: [
        { above: 'slack of plan', status: 'above' },
        { below: '-slack of plan', status: 'behind' },
      ],
    },
    'gap: above slack of plan → "above"; below -slack of plan → behind',
  ],
  [
    {
      paint: ['revenue', 'plan'],
      judge: 'gap / plan',
      bands: [{ below: '-25%', status: 'behind' }, { missing: { icon: 'ring' } }],
    },
    'revenue and plan judged by gap / plan: below -25% → behind; missing → icon ring',
  ],
  [
    {
      paint: 'gap',
      bands: [
        { above: 8, style: { ink: 'aqua', icon: 'up' } },
        { below: -8, style: { ink: 'coral', icon: 'down', weight: 'bold' } },
        { otherwise: { icon: 'sideways' } },
      ],
    },
    'gap: above 8 → aqua text and icon up; below -8 → coral text and bold and icon down; otherwise → icon sideways',
  ],
  [
    {
      paint: 'revenue',
      bands: [
        { atLeast: 1000, atMost: 4000, status: 'behind' },
        { above: 4000, atMost: 9000, status: 'close' },
      ],
    },
    'revenue: at least 1000 and at most 4000 → behind; above 4000 and at most 9000 → close',
  ],
  [
    { paint: 'row', judge: 'channel', bands: [{ equals: 'Trade', style: { wash: 'sky' } }] },
    'rows judged by channel: is Trade → sky',
  ],
  [
    { paint: 'shop', judge: 'revenue', bands: [{ below: 2000, style: { ink: 'red', weight: 'bold' } }] },
    'shop judged by revenue: below 2000 → red text and bold',
  ],
  [
    {
      paint: 'shop',
      judge: 'region',
      bands: [
        { in: ['Coast', 'Pond plants', 'is'], style: { wash: 'indigo' } },
        { contains: 'seed', style: { fill: 'rgb(255, 0, 0)' } },
      ],
    },
    "shop judged by region: in (Coast, 'Pond plants', 'is') → indigo; contains seed → #ff0000 fill",
  ],
  [
    { paint: 'gap', where: 'plan > 60000', levels: 'all', bands: [{ below: 0, style: { ink: 'coral' } }] },
    'gap where plan > 60000: below 0 → coral text, totals too',
  ],
  [
    { paint: 'gap', levels: ['subtotal'], bands: [{ below: 0, status: 'behind', style: { flag: "it's {value}" } }] },
    "gap: below 0 → behind and flag 'it''s {value}', subtotals only",
  ],
  [
    {
      paint: 'revenue',
      bands: [
        { when: 'revenue < plan and gap < 0', style: { weight: 'bold' } },
        { atMost: 'lowest(value)', status: 'behind' },
      ],
    },
    'revenue: when revenue < plan and gap < 0 → bold; at most the lowest → behind',
  ],
  [
    {
      paint: 'revenue',
      bands: [
        { atLeast: 'percentile(value, 95%)', style: { fill: 'gold' } },
        { above: 'mean(value) within region', style: { weight: 'bold' } },
        { above: 'median(plan)', style: { icon: 'petals-2-of-5' } },
      ],
    },
    'revenue: at least the 95th percentile → gold fill; above the average within region → bold; above the median of plan → icon petals-2-of-5',
  ],
  [{ paint: 'revenue', within: 'region', rank: { best: 3, status: 'ahead' } }, 'revenue within region: best 3 → ahead'],
  [
    { paint: 'shop', judge: 'revenue', among: 'plan > 10', rank: { bottom: '10%', status: 'behind' }, final: true },
    'shop judged by revenue among (plan > 10): bottom 10% → behind, final',
  ],
  [
    {
      paint: 'revenue',
      rank: { split: [{ share: '50%', status: 'ahead' }, { share: '20%', status: 'close' }, { otherwise: 'behind' }] },
    },
    'revenue: split 50% → ahead; next 20% → close; otherwise → behind',
  ],
  [
    {
      paint: 'revenue',
      within: ['region', 'channel'],
      gradient: { ramp: 'aqua', from: 0, to: 'percentile(value, 95%)' },
    },
    'revenue within region and channel: shade from paper at 0 to aqua at the 95th percentile',
  ],
  [
    { paint: 'gap', gradient: { ramp: ['red', 'white', 'green'], middle: 0, steps: 7 }, hide: 'value' },
    'gap: shade from red through white at 0 to green in 7 steps, hide the number',
  ],
  [
    { paint: 'gap', gradient: { ramp: 'badToGood', steps: 7, as: 'ink' } },
    'gap: shade from bad to good in 7 steps as text',
  ],
  [
    { paint: 'revenue', gradient: { icons: 'petals', steps: 5, from: 0, to: 'highest' } },
    'revenue: icons petals in 5 steps from 0 to highest',
  ],
  [
    { paint: 'plan', judge: 'revenue', gradient: { icons: ['cross', 'dash', 'tick'] } },
    'plan judged by revenue: icons (cross, dash, tick)',
  ],
  [
    {
      paint: ['revenue', 'plan'],
      oneScale: true,
      bar: { color: 'indigo', finish: 'fading', from: 0, to: '120% of target' },
    },
    'revenue and plan: fading indigo bar from 0 to 120% of target, on one scale',
  ],
  [
    { paint: 'gap', bar: { color: 'aqua', negative: 'coral', base: 5 }, hide: 'value', paused: true },
    'gap: aqua bar with coral for negatives around 5, hide the number, paused',
  ],
  [
    { paint: 'shop', fromColumn: { status: 'state', ink: 'region' } },
    'shop: status from column state; text from column region',
  ],
  [
    {
      paint: 'all',
      among: 'unfiltered',
      bands: [{ missing: { wash: 'stone' } }, { above: 'sum(plan) where gap > 1', status: 'ahead' }],
    },
    'every measure among unfiltered: above (sum(plan) where gap > 1) → ahead; missing → stone',
  ],
]

test('a rule in keys is printed as its sentence in the grammar of rules', () => {
  const painting = paint(TABLE, { ...LOOKS, rules: SENTENCES.map(([rule]) => rule) })
  expect(painting.rules().map(({ sentence }) => sentence)).toEqual(SENTENCES.map(([, sentence]) => sentence))
})

test('names that could be read as something else are quoted, in every place', () => {
  const odd = fromRows([{ 'Shop name': 'a', and: 1, gold: 2, 'a"b': 3 }])
  const rules: RuleSpec[] = [
    { paint: ['and', 'gold', 'a"b'], within: 'Shop name', bands: [{ above: 0, style: { wash: 'aqua' } }] },
  ]
  const [{ sentence }] = paint(odd, { rules }).rules()
  expect(sentence).toBe('"and", "gold" and "a""b" within "Shop name": above 0 → aqua')
})
