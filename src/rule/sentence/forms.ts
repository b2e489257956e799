/** An example of a form, for the page of the grammar; a test reads and writes each. */
export interface Example {
  text: string
  /** What it says. */
  about: string
}

/** Examples of every form, by what they are about. */
export const EXAMPLES: readonly { title: string; examples: readonly Example[] }[] = [
  {
    title: 'What is painted',
    examples: [
      { text: 'revenue: above 5 → bold', about: 'a measure, field or row heading' },
      { text: 'revenue and plan: above 5 → bold', about: 'several, each a population of its own' },
      { text: 'rows judged by channel: is Trade → sky', about: 'whole rows' },
      { text: 'every measure: missing → stone', about: 'every measure' },
      { text: '"Net sales": above 5 → bold', about: 'a name that is no plain word, or a word of the grammar' },
    ],
  },
  {
    title: 'Which cells, and what is compared',
    examples: [
      { text: 'revenue of each shop: above 5 → bold', about: 'cells that are split by shop' },
      { text: 'revenue in shops and reading: above 5 → bold', about: 'these exhibits alone' },
      { text: 'shop judged by revenue / plan: below 80% → bold', about: 'another value decides' },
      { text: 'revenue within region: best 3 → bold', about: 'compared inside each region' },
      { text: 'revenue among (plan > 0): top 10% → bold', about: 'compared with these cells alone' },
      { text: 'revenue among unfiltered: top 10% → bold', about: 'compared with all, whatever the reader filters' },
      { text: 'revenue where plan > 0: above 5 → bold', about: 'these cells alone; stands last' },
    ],
  },
  {
    title: 'Bands',
    examples: [
      {
        text: 'revenue: at least target → ahead; at least 80% of target → close; otherwise → behind',
        about: 'limits, the first that holds decides',
      },
      { text: 'revenue: above 5 and at most 9 → close', about: 'two tests that both hold' },
      {
        text: 'revenue: below the average within region → bold',
        about: 'a statistic of the judged values: average, median, lowest, highest, 95th percentile',
      },
      { text: 'revenue: at least 67% of the range → bold', about: 'from the lowest to the highest' },
      { text: "channel: is Trade → sky; in (Online, 'Show garden') → rose; contains seed → aqua", about: 'texts' },
      { text: 'revenue: when revenue < lastYear and month = 12 → bold', about: 'a free condition' },
      { text: 'revenue: missing → unknown; otherwise → not bold', about: 'missing values, and all others' },
    ],
  },
  {
    title: 'Ranks',
    examples: [
      { text: 'revenue: top 3 → bold', about: 'the highest; bottom, best and worst likewise' },
      { text: 'revenue: bottom 10% → behind', about: 'a share of the cells' },
      { text: 'margin: best count → ahead', about: 'as many as a parameter says' },
      { text: 'margin: worst 3 → behind', about: 'the bad end, by the direction of the measure' },
      { text: 'revenue: split 50% → ahead; next 20% → close; otherwise → behind', about: 'parts from the best' },
      {
        text: 'product judged by revenue: making 80% of revenue → bold',
        about: 'those that make up a share of an amount',
      },
    ],
  },
  {
    title: 'Scales and bars',
    examples: [
      { text: 'revenue: shade from paper to aqua', about: 'a smooth scale from the lowest to the highest' },
      {
        text: 'gap: shade from red at -9 through white at 0 to green at highest in 7 steps',
        about: 'with ends, a middle and steps',
      },
      {
        text: 'gap: shade from coral through straw through sky to aqua around 0',
        about: 'a middle without a colour of its own',
      },
      { text: 'cost: shade from bad to good as text', about: 'by the direction of the measure, in the text' },
      { text: 'margin: icons petals in 5 steps from 0 to highest', about: 'a family of icons' },
      { text: 'gap: icons (cross, dash, tick) around 0', about: 'icons from low to high' },
      {
        text: 'revenue: fading indigo bar with coral for negatives from lowest to 120% of target around 0',
        about: 'a bar',
      },
    ],
  },
  {
    title: 'Styles',
    examples: [
      { text: 'revenue: above 5 → ahead and bold', about: 'a status, with a part of its style replaced' },
      { text: 'revenue: above 5 → aqua', about: 'a pigment: fill and a readable text colour' },
      {
        text: 'revenue: above 5 → #ffcc00 fill and red text and bold and icon up',
        about: 'any colour of a fill or a text, weight, an icon',
      },
      {
        text: "revenue: above 5 → flag '{growth} on last year' and picture 'sun.png' and no number",
        about: 'a text, a picture; no icon likewise',
      },
      {
        text: 'shop: status from column state; fill from column tint; text from column tone; icon from column mark; picture from column photo',
        about: 'from the data',
      },
    ],
  },
  {
    title: 'What stands at the end',
    examples: [
      { text: 'revenue: shade from paper to aqua, hide the number', about: 'or the icon' },
      { text: 'revenue: top 3 → icon up, icon after the number', about: 'its icon at the other side' },
      { text: 'revenue: above 5 → bold, totals too', about: 'or totals only, subtotals too, grand total only' },
      { text: 'revenue and plan: indigo bar, on one scale', about: 'one population' },
      { text: 'revenue: above 5 → bold, unfinished periods unpainted', about: 'cells of periods that are not over' },
      { text: 'revenue: above 5 → bold, final', about: 'no later rule paints what it matches' },
      { text: 'revenue: above 5 → bold, paused', about: 'kept, not applied' },
    ],
  },
]
