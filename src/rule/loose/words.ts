/** Words that say nothing by themselves. */
export const DROPPED: ReadonlySet<string> = new Set(
  'the a an please pls should be cell cells it its table mark highlight colour color make show shown only also'.split(
    ' ',
  ),
)

/** What stands for a comparison, the longest first. */
export const COMPARISONS: readonly (readonly [string, 'atLeast' | 'above' | 'atMost' | 'below'])[] = (
  [
    ['atLeast', '>=|at or above|at least|minimum|no less than|not less than'],
    [
      'above',
      '>|above|over|more than|more as|greater than|higher than|larger than|bigger than|better than|more then|bigger then',
    ],
    ['atMost', '<=|up to|at most|no more than|not more than'],
    ['below', '<|below|under|less than|less as|less then|lower than|smaller than|worse than'],
  ] as const
)
  .flatMap(([key, texts]) => texts.split('|').map((text) => [text, key] as const))
  .sort(([a], [b]) => b.length - a.length)

export const NUMBER_WORDS = 'one two three four five six seven eight nine ten eleven twelve'.split(' ')
export const SHARES: Readonly<Record<string, string>> = {
  half: '50%',
  quarter: '25%',
  fifth: '20%',
  tenth: '10%',
  decile: '10%',
}
export const ENDS: Readonly<Record<string, 'top' | 'bottom' | 'best' | 'worst'>> = {
  top: 'top',
  biggest: 'top',
  highest: 'top',
  largest: 'top',
  bottom: 'bottom',
  lowest: 'bottom',
  smallest: 'bottom',
  best: 'best',
  worst: 'worst',
}
export const STATISTICS: Readonly<Record<string, string>> = {
  average: 'mean',
  mean: 'mean',
  avg: 'mean',
  median: 'median',
  lowest: 'lowest',
  highest: 'highest',
  min: 'lowest',
  max: 'highest',
}
export const ICONS: Readonly<Record<string, string>> = {
  up: 'up',
  down: 'down',
  flat: 'sideways',
  sideways: 'sideways',
}

/** Words of the trade that mean one thing: where a report has one, another is offered as it. */
export const SYNONYMS: readonly (readonly string[])[] = [
  ['revenue', 'sales', 'turnover', 'takings'],
  ['gap', 'variance', 'deviation', 'difference', 'delta'],
  ['lastyear', 'ly', 'py', 'prioryear', 'previousyear'],
  ['cost', 'costs', 'expense', 'expenses'],
  ['target', 'goal'],
  ['plan', 'budget'],
]

/** The colours of traffic lights, as verdicts. */
export const LIGHTS: Readonly<Record<string, 'good' | 'fair' | 'bad'>> = {
  green: 'good',
  amber: 'fair',
  yellow: 'fair',
  orange: 'fair',
  red: 'bad',
}
