/**
 * Names of styles in workbooks that this library writes. By them a sheet is read back as its data:
 * totals would be counted twice, and signs and bars repeat their numbers.
 */
export const OWN_SHEET = 'painted'
/** Sheets of words: legend, rules, sources. */
export const OWN_WORDS = 'words'
/** Columns beside a number: its icons, its bar, its flag. */
export const OWN_COLUMNS: ReadonlySet<string> = new Set(['sign', 'bar', 'flag', 'trend'])
/** Rows that are sums of others, titles, and notes. */
export const OWN_ROWS: ReadonlySet<string> = new Set(['about', 'group', 'subtotal', 'total', 'reference'])
