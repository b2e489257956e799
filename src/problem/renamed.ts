/**
 * Former names of the report file with the present ones. Former names are refused with the present
 * one named, for one version.
 */
export const RENAMED_KEYS: Readonly<Record<string, string>> = {
  lying: 'horizontal',
  lines: 'references',
  each: 'panels',
  shades: 'steps',
  gives: 'as',
  seal: 'final',
  together: 'oneScale',
  means: 'verdict',
  wash: 'color',
  keep: 'first',
  rest: 'others',
  plain: 'besideUnpainted',
  one: 'oneAtATime',
  words: 'reading',
  uses: 'include',
  borrow: 'fromColumn',
  oneOf: 'in',
  finding: 'code',
}

/** Keys that were renamed only in a part of a rule. */
export const RENAMED_IN_SPLIT: Readonly<Record<string, string>> = { rest: 'otherwise' }

/** Renamed values of keys. */
export const RENAMED_VALUES: Readonly<Record<string, string>> = {
  bars: 'bar',
  points: 'point',
  marker: 'mark',
  dot: 'point',
  details: 'detail',
  totals: '[subtotal, total]',
}

/** Functions of expressions. */
export const RENAMED_FUNCTIONS: Readonly<Record<string, string>> = {
  smaller: 'least',
  larger: 'greatest',
  changeShare: 'percentChange',
  deviation: 'stdev',
  distinct: 'countDistinct',
}

/** Icons. */
export const RENAMED_ICONS: Readonly<Record<string, string>> = { level: 'sideways', direction: 'bySign', leaf: 'sprig' }

/** The pigments of the house. */
export const RENAMED_PIGMENTS: Readonly<Record<string, string>> = {
  leaf: 'aqua',
  ochre: 'straw',
  clay: 'coral',
  sea: 'indigo',
  rain: 'sky',
  petal: 'rose',
  damson: 'violet',
  pebble: 'stone',
}
