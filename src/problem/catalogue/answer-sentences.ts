import { quote, some } from '../phrases.js'

/**
 * Sentences of problems while a report is answered: the part of the catalogue that a page carries.
 */
export const ANSWER_SENTENCES = {
  'bad-date': (p: { text: string }) => `${quote(p.text)} is not a date; write it as 2025-06-30`,
  'from-above-to': (p: { from: string; to: string }) =>
    `the gradient runs from ${p.from} to ${p.to}, which is lower; swap them and turn the ramp instead`,
  'note-unmatched': (p: { source: string; key: string; words: readonly string[]; home: string; wanted: string }) =>
    `${p.words.length} ${p.key} of ${p.source} ${p.words.length === 1 ? 'is' : 'are'} not in ${p.home}, so ${p.wanted} is not known for ${p.words.length === 1 ? 'it' : 'them'}: ${some(p.words)}`,
  'note-not-split': (p: { source: string; key: string; why: string }) =>
    `the measures of ${p.source} are missing where the exhibit is split by ${p.key}: ${p.why}`,
  'note-not-narrowed': (p: { source: string; condition: string }) =>
    `the measures of ${p.source} are missing: ${p.source} cannot be narrowed by ${p.condition}`,
  'note-begun': (p: { source: string; unit: string }) => `a begun ${p.unit} of ${p.source} counts whole`,
  'note-lag-outside': (p: { measures: readonly string[]; from: string; all: boolean }) =>
    `${some(p.measures)}: the time looked back at lies ${p.all ? 'wholly' : 'partly'} before the data, which begin with ${p.from}, and is missing there`,
  'note-lag-same': (p: { measures: readonly string[] }) =>
    `${some(p.measures)}: the time looked back at gives the same as the present everywhere; check the date column, or that the data hold both times`,
  'note-lag-key': (p: { measures: readonly string[]; key: string }) =>
    `${some(p.measures)}: cannot look back so far by ${p.key}, for the periods do not fall on each other; missing`,
  'note-streak-unit': (p: { text: string }) =>
    `${p.text} counts periods, and this exhibit is not split by time; say which period: ${p.text.slice(0, -1)}, month)`,
  'note-order-unknown': (p: { key: string; words: readonly string[] }) =>
    `the order given for ${p.key} names what is not there: ${some(p.words)}`,
  'note-too-large': (p: { measure: string; count: number }) =>
    `${p.measure} is too large to be a number in ${p.count} ${p.count === 1 ? 'cell' : 'cells'}, shown as ∞; divide what it adds up, as in amount / 1000`,
  'note-none-fit': (_: object) => 'no row fits the period and conditions of this exhibit',
  'note-rule-skips': (p: { rule: string; level: string; why: string }) =>
    `the rule ${p.rule} is not applied to the ${p.level}: ${p.why}`,
  'note-small-population': (p: { rule: string; measure: string }) =>
    `the rule ${p.rule} leaves ${p.measure} alone where fewer than two values can be compared`,
  'not-stored': (p: { what: string }) =>
    `this page was made without what is needed for ${p.what}; make it anew with it among its filters, or serve the data`,
  'bad-picture': (p: { name: string; why: string }) => `the picture ${p.name} cannot be used: ${p.why}`,
  'note-trend-time': (p: { measure: string; along: string }) =>
    `the trend of ${p.measure} along ${p.along} has fewer than two values, so no line is drawn`,
} as const
