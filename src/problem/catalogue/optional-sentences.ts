import { quote, some } from '../phrases.js'

/** `2 values of shop`, `1 combination of shop and month`. */
function valuesOf({ count, by }: { count: number; by: readonly string[] }): string {
  return `${count} ${by.length === 1 ? 'value' : 'combination'}${count === 1 ? '' : 's'} of ${by.join(' and ')}`
}

const periods = (unit: string): string => (unit === 'monthOfYear' ? 'months of the year' : `${unit}s`)

/**
 * Sentences that a page needs only with certain exhibits, sources or rules; other pages do not
 * carry them.
 */
export const OPTIONAL_SENTENCES = {
  'note-streak-unit': (p: { text: string }) =>
    `${p.text} counts periods, and this exhibit is not split by time; say which period: ${p.text.slice(0, -1)}, month)`,
  'note-lag-outside': (p: { measures: readonly string[]; from: string; all: boolean }) =>
    `${some(p.measures)}: the earlier period is ${p.all ? 'wholly' : 'partly'} before the data, which begin with ${p.from}; the values there are missing`,
  'note-rolling-outside': (p: { measures: readonly string[]; window: string; from: string; all: boolean }) =>
    `${some(p.measures)}: ${p.all ? 'every window' : 'a window'} of ${p.window} reaches before the data, which begin with ${p.from}; the values there are missing`,
  'note-lag-same': (p: { measures: readonly string[] }) =>
    `${some(p.measures)}: the earlier period has the same values as the present one everywhere; check the date column, and that the data contain both`,
  'note-lag-key': (p: { measures: readonly string[]; key: string; shift: string }) =>
    `${some(p.measures)} ${p.measures.length === 1 ? 'is' : 'are'} empty by ${p.key}: a shift of ${p.shift} does not map ${periods(p.key)} onto ${periods(p.key)}`,
  'note-order-unknown': (p: { key: string; words: readonly string[] }) =>
    `the order of ${p.key} names values that do not occur: ${some(p.words)}`,
  'note-same-keys': (p: { by: string; count: number; what: string }) =>
    `${p.count} ${p.count === 1 ? 'value' : 'values'} of ${p.by} ${p.count === 1 ? 'has' : 'have'} rows at one of the two times alone and ${p.count === 1 ? 'is' : 'are'} left out: ${p.what}`,
  'since-outside': (p: { text: string; then: string; from: string; to: string }) =>
    `since ${quote(p.text)} is ${p.then}, and the data are from ${p.from} to ${p.to}, the date of the report; write a date between them, or fewer periods`,
  'note-showing': (p: { shown: number; all: number; measure: string; statuses: string }) =>
    `${p.shown.toLocaleString('en')} of ${p.all.toLocaleString('en')} rows, those where ${p.measure} is ${p.statuses}, are shown`,
  'note-no-weight': (p: { of: string }) =>
    `a split by shares of ${p.of} paints nothing where no cell has more than 0 of it`,
  'note-unmatched': (p: { source: string; key: string; words: readonly string[]; home: string; wanted: string }) =>
    `${valuesOf({ count: p.words.length, by: [p.key] })} in ${p.source} ${p.words.length === 1 ? 'is' : 'are'} not in ${p.home}, so ${p.wanted} is not known for ${p.words.length === 1 ? 'it' : 'them'}: ${some(p.words)}`,
  'note-source-gap': (p: { source: string; home: string; count: number; by: readonly string[]; what: string }) =>
    `${p.source} has no rows for ${valuesOf(p)} that ${p.home} has rows for, so totals compare more of ${p.home} with less of ${p.source}: ${p.what}`,
  'note-not-looked-up': (p: { source: string; home: string; count: number; by: readonly string[]; what: string }) =>
    `${p.source} lacks ${valuesOf(p)} that ${p.home} has, so its columns are missing there: ${p.what}`,
  'note-blank-amounts': (p: { source: string; column: string; rows: string; of: string }) =>
    `${p.rows} of ${p.of} rows of ${p.source} have no ${p.column} and add nothing`,
  'records-remote': (p: { source: string }) =>
    `${p.source} cannot return individual rows, so it cannot be listed; list another source`,
  'note-records-first': (p: { shown: string; all: string }) => `the first ${p.shown} of ${p.all} rows are shown`,
  'note-records-groups': (p: { first: string; shown: string; all: string }) =>
    `the first ${p.first} rows of each group are shown, ${p.shown} of ${p.all}`,
  'note-records-time': (p: { measure: string }) =>
    `${p.measure} needs other rows, of another time or source, so it is missing for a single row`,
  'note-line-differs': (p: { line: string }) =>
    `the line at ${p.line} differs from mark to mark, so it is not drawn across the chart; show it as a mark or a line of its own`,
  'note-from-column-unknown': (p: { count: number; words: readonly string[] }) =>
    `${p.count} ${p.count === 1 ? 'text' : 'texts'} of its column ${p.count === 1 ? 'is unknown and its cell stays' : 'are unknown and their cells stay'} unpainted: ${some(p.words)}`,
} as const satisfies Readonly<Record<string, (params: never) => string>>
