/**
 * Names of styles in workbooks that this library writes. By them a sheet is read back as its data:
 * totals would be counted twice, and signs and bars repeat their numbers.
 */
export const OWN = {
  /** Sheets of exhibits, upright and across on paper. */
  sheet: 'painted',
  across: 'painted-across',
  /** Sheets of words: legend, rules, sources. */
  words: 'words',
  /** Columns beside a number: its icons, with words where no sign stands for them, bar, flag. */
  sign: 'sign',
  signWords: 'sign-words',
  bar: 'bar',
  flag: 'flag',
  trend: 'trend',
} as const

/** Rows of each kind; those above and below a table are `about`. */
export const OWN_ROW_STYLES = ['about', 'heading', 'detail', 'group', 'subtotal', 'total', 'picture'] as const

export const OWN_SHEETS: ReadonlySet<string> = new Set([OWN.sheet, OWN.across])
export const OWN_COLUMNS: ReadonlySet<string> = new Set([OWN.sign, OWN.signWords, OWN.bar, OWN.flag, OWN.trend])
/** Rows that are no data: sums of others, and words. */
export const OWN_ROWS: ReadonlySet<string> = new Set(['about', 'group', 'subtotal', 'total', 'picture'])
