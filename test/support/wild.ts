/**
 * A report with everything that strains a page: long names, negative and missing values, one row,
 * one column, forty columns, no rows, markup.
 */
export const WILD_CSV = [
  'date,shop,kind,amount,cost',
  ...[
    'Larkmoor',
    'Saltmarsh by the very long and winding lane to the old harbour',
    '<b>Quay</b> & "Lane"',
    '=SUM(A1)',
  ].flatMap((shop, s) =>
    Array.from({ length: 40 }, (_, m) => {
      const month = `${2022 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`
      const amount = (s + 1) * 100 + ((m * 37) % 90) - (s === 2 ? 400 : 0)
      return m % 9 === s
        ? ''
        : `${month}-15,"${shop.replaceAll('"', '""')}",${m % 3 === 0 ? 'Trade' : 'Shop'},${amount},${amount / 2 + 7.25}`
    }).filter((line) => line !== ''),
  ),
  '2025-04-20,,Shop,55.5,1',
].join('\n')

export const WILD = `title: 'Wild <script>alert(1)</script> & odd'
locale: en-GB
period: all
sources: { s: { file: s.csv, date: date } }
measures:
  amount: { formula: sum(amount), label: Amount, format: money EUR 0 signed, better: higher }
  cost: { formula: sum(cost), label: Cost, format: money EUR 0, better: lower }
  margin: { formula: (amount - cost) / amount, label: Margin, format: percent 1, better: higher }
  before: { formula: 'lag(amount, 1 year)', label: Year before, format: money EUR 0 }
parameters: { target: { value: 3000, label: Target, format: money EUR 0 } }
statuses:
  good: { label: Good <i>, verdict: good, wash: aqua, icon: tick }
  bad: { label: Bad & low, verdict: bad, wash: coral, icon: cross, weight: bold }
  pale: { label: Pale, wash: sky }
rules:
  - { name: by, paint: amount, bands: [{ atLeast: target, status: good }, { atLeast: 200, status: pale }, { otherwise: bad }] }
  - { name: heat, paint: cost, gradient: { ramp: [coral, paper, aqua] } }
  - { name: sized, paint: margin, only: [nested, one], bar: { color: indigo, negative: coral } }
  - { name: row, paint: row, only: [rows], judge: kind, bands: [{ equals: Trade, style: { wash: rose } }] }
  - { name: arrow, paint: margin, only: [flat, cards], bands: [{ when: value is not missing, style: { icon: bySign, flag: '{value} of {amount}' } }] }
  - { name: second, paint: amount, only: [cards, flat, one, single], icon: after, bands: [{ atLeast: 200, style: { icon: ring } }, { below: 200, style: { icon: drop } }] }
exhibits:
  - { name: cards, cards: [{ show: amount, versus: before, trend: { along: quarter } }, { show: margin, versus: margin }, { show: cost, note: 'against {amount}' }] }
  - { name: nested, section: Tables, table: { rows: [shop, kind], columns: year, show: [amount, margin], totals: { rows: bottom, columns: right }, nest: columns, spacing: close } }
  - { name: flat, besideUnpainted: true, table: { rows: shop, show: [amount, { show: cost, draw: point, label: What it cost }, { show: margin, icon: after }, { show: cost, draw: block }, { trend: { along: quarter }, label: Line }], totals: top, spacing: wide } }
  - { name: one, table: { rows: kind, show: [margin, { show: amount, icon: alone }] }, where: kind = 'Trade' }
  - { name: none, table: { rows: shop, show: amount }, where: kind = 'Nothing' }
  - { name: forty, section: Maps, hide: value, heatmap: { rows: shop, columns: month, show: cost, totals: { rows: bottom, columns: right } } }
  - { name: shown, heatmap: { rows: shop, columns: year, show: cost } }
  - { name: lying, section: Charts, chart: { along: shop, show: [amount, { show: cost, draw: mark }], horizontal: true, references: [{ at: target }] } }
  - { name: grouped, beside: lying, chart: { along: year, series: kind, show: amount, references: [{ at: target }, { at: 3100, label: A little more }] } }
  - { name: points, chart: { along: month, panels: kind, show: [{ show: amount, draw: point, labels: true }, { show: cost, draw: line }] } }
  - { name: stacked, chart: { along: quarter, series: shop, show: amount, stacked: true } }
  - { name: nothing, chart: { along: shop, show: amount }, where: kind = 'Nothing' }
  - { name: rows, section: Rows, records: { show: [date, shop, kind, amount, margin], sort: -date, first: 5 } }
  - { name: single, records: { show: [shop, amount, cost, margin], first: 3, oneAtATime: true } }
  - { name: listed, list: { status: bad, of: amount, by: [kind, shop], show: margin } }
  - { name: read, reading: { of: amount, by: shop, versus: before } }
`

/**
 * The same with every kind of rule, a column that names colours, a streak, a rule with an
 * unfiltered population, and filters.
 */
export const WILDER = WILD.replace(
  'sources: { s: { file: s.csv, date: date } }',
  '$&\nfields: { s: { big: amount > 200 } }',
)
  .replace(
    '\nparameters: {',
    "\n  runs: { formula: 'streak(amount > 250, month)', label: Months running }\nparameters: { share: 20%,",
  )
  .replace(
    '\nexhibits:',
    `
  - { name: told, paint: shop, only: [lent], fromColumn: { fill: shade, status: said } }
  - { name: first, paint: amount, only: [nested, listed], among: unfiltered, within: kind, rank: { best: 2, status: good } }
  - { name: parts, paint: cost, only: [shown], rank: { split: [{ share: 50%, status: pale }, { otherwise: bad }] } }
  - { name: inked, paint: amount, only: [flat], gradient: { as: ink, ramp: [coral, soot, aqua], steps: 5 } }
  - { name: steps, paint: margin, only: [nested], gradient: { icons: petals } }
exhibits:
  - { name: lent, records: { show: [shop, amount, shade, said, big], sort: amount, first: 12 } }
  - { name: runs, table: { rows: { key: shop, first: 2, others: Others }, columns: year, show: [runs, amount], totals: bottom } }`,
  )
  .concat('filters: [shop, kind, big, period]\n')
const SHADES = ['aqua', 'rebeccapurple', '#aabbcc', 'hsl(30 60% 70%)', '', 'no colour']
export const WILDER_CSV = WILD_CSV.split('\n')
  .map((line, i) => `${line},${i === 0 ? 'shade,said' : `${SHADES[i % 6]},${['good', 'Pale', 'odd', ''][i % 4]}`}`)
  .join('\n')
