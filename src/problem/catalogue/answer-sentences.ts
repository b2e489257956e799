import { quote } from '../phrases.js'

/**
 * Sentences of problems while a report is answered: the part of the catalogue that a page carries.
 */
export const ANSWER_SENTENCES = {
  'bad-date': (p: { text: string }) => `${quote(p.text)} is not a date; write it as 2025-06-30`,
  'from-above-to': (p: { from: string; to: string }) =>
    `the gradient runs from ${p.from} to ${p.to}, which is lower; swap them and turn the ramp instead`,
  'note-not-split': (p: { source: string; key: string; why: string }) =>
    `the measures of ${p.source} are missing where the exhibit is split by ${p.key}: ${p.why}`,
  'note-not-narrowed': (p: { source: string; condition: string }) =>
    `the measures of ${p.source} are missing: ${p.source} cannot be filtered by ${p.condition}`,
  'note-begun': (p: { source: string; unit: string }) =>
    `${p.source} is ${p.unit}ly: the current, unfinished ${p.unit} is counted in full`,
  'note-too-large': (p: { measure: string; count: number }) =>
    `${p.measure} is too large to be a number in ${p.count} ${p.count === 1 ? 'cell' : 'cells'}, shown as ∞; divide its values, as in amount / 1000`,
  'note-none-fit': (_: object) => 'no row is in the period and meets the conditions of this exhibit',
  'note-rule-skips': (p: { rule: string; level: string; why: string }) =>
    `the rule ${p.rule} is not applied to the ${p.level}: ${p.why}`,
  'note-small-population': (p: { rule: string; measure: string }) =>
    `the rule ${p.rule} does not paint ${p.measure} where fewer than two values can be compared`,
  'not-stored': (p: { what: string }) =>
    `this page has no data for ${p.what}; paint it again with that among its filters, or serve the data`,
  'bad-picture': (p: { name: string; why: string }) => `the picture ${p.name} cannot be used: ${p.why}`,
  'note-unfinished': (p: { period: string; to: string }) => `${p.period} is not finished: its data end on ${p.to}`,
  'note-trend-time': (p: { measure: string; along: string }) =>
    `the trend of ${p.measure} along ${p.along} has fewer than two values, so no line is drawn`,
} as const
