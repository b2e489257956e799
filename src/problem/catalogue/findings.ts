/**
 * The findings of `proof`. `what` is the heading in its documentation, `why` the effect on a
 * reader, `fix` the fix.
 */
export interface CatalogueEntry {
  what: string
  why: string
  fix: string
}

/** Every finding by its code: stable, kebab-case. docs/proof.md is generated from it. */
export const CATALOGUE = {
  hole: {
    what: 'a gap between two bands',
    why: 'values that fall between the end of one band and the start of the next stay unpainted, as if they were normal',
    fix: 'let the bands share one limit, or end the ladder with otherwise',
  },
  'open-end': {
    what: 'values beyond the last band',
    why: 'a value above the highest band, or below the lowest, stays unpainted, and it is often the most interesting one',
    fix: 'leave the outer limit of the band out, or end the ladder with otherwise',
  },
  overlap: {
    what: 'bands that overlap',
    why: 'a value in both takes the band that stands first, which may not be the one a reader expects',
    fix: 'let the second band begin where the first ends',
  },
  'unreachable-band': {
    what: 'a band that can never be reached',
    why: 'the bands before it take every value it asks for, so its status never shows',
    fix: 'move it before the band that covers it, or remove it',
  },
  'unreachable-rule': {
    what: 'a rule that loses everywhere',
    why: 'earlier rules set every channel that it would set, so it says nothing',
    fix: 'move it up, narrow the earlier rule, or let it set another channel',
  },
  'paints-nothing': {
    what: 'a rule that paints nothing',
    why: 'no cell meets it: a limit is out of reach, its condition never holds, or no exhibit shows what it paints',
    fix: 'check its limits and conditions with rehearse, or pause it',
  },
  'paints-everything': {
    what: 'a rule that gives every cell the same',
    why: 'where all cells look alike the look says nothing',
    fix: 'check the limit: it may be far from the data',
  },
  'twin-rules': {
    what: 'twin rules that differ in strictness alone',
    why: 'one says at least and the other above the same limit: only a value exactly at it is decided differently, which nobody notices',
    fix: 'keep one of them',
  },
  'equal-in-bad': {
    what: 'the equal case lands in the bad class',
    why: 'a value exactly at the limit gets the bad status',
    fix: 'write atLeast instead of above, or atMost instead of below',
  },
  'missing-in-bad': {
    what: 'missing lands in the bad class',
    why: 'a cell without a value gets the bad status',
    fix: 'leave missing out, or give it a status of its own that is no judgement',
  },
  hundredfold: {
    what: 'a limit about a hundred times off the data',
    why: 'a percent was compared with a fraction, or thousands with single units, and the rule decides nothing',
    fix: 'write the limit in the unit of the data: 15% for a share, 60000 for thousands',
  },
  'typed-limit': {
    what: 'a typed number equal to a parameter',
    why: 'when the parameter moves the typed number stays behind',
    fix: 'write the name of the parameter',
  },
  dispute: {
    what: 'two rules dispute a channel',
    why: 'both want to set the same channel of the same cells, and the order of the file decides',
    fix: 'narrow one with where or only, let it set another channel, or put them in the order you mean',
  },
  'against-sign': {
    what: 'a gradient whose colours contradict the sign',
    why: 'values above zero have the colours of the low side, or the other way round, because the middle is not at zero',
    fix: 'remove the middle: over values on both sides of zero it is at zero by itself',
  },
  'scale-squeezed': {
    what: 'a scale squeezed by an outlier',
    why: 'one value far off stretches the scale, and nearly all others look alike',
    fix: "end the scale at a percentile, as in to: 'percentile(value, 95%)'",
  },
  'one-scale-unlike': {
    what: 'measures of very different size in one population',
    why: 'the large measure sets the scale and the small one is pale, or last, everywhere',
    fix: 'remove oneScale, so that each is a population of its own',
  },
  'hue-two-meanings': {
    what: 'a hue that means good here and bad there',
    why: 'a reader learns a colour once and reads it wrongly the second time',
    fix: 'give each meaning a pigment of its own',
  },
  'upside-down': {
    what: 'a measure judged against its direction',
    why: 'the measure says which direction is better, and the rule calls the other one good',
    fix: 'swap the statuses, or correct better on the measure',
  },
  crowded: {
    what: 'too much of the table is painted',
    why: 'where nearly everything is coloured nothing stands out',
    fix: 'leave the middle unpainted: mark only deviations above a tolerance',
  },
  contrast: {
    what: 'text that is hard to read',
    why: 'text and fill have a contrast below 4.5 (WCAG 2.2, success criterion 1.4.3)',
    fix: 'use a wash, which has a text colour of its own, or leave ink out',
  },
  'color-alone': {
    what: 'statuses distinguished by colour alone',
    why: 'on a grey print, and for many readers, they are the same',
    fix: 'give each an icon of its own',
  },
  'too-close': {
    what: 'statuses too close for colour-blind readers',
    why: 'under full protanopia, deuteranopia or tritanopia their colours are hardly different (CIEDE2000 below 6)',
    fix: 'choose pigments further apart: aqua, straw and coral are made for it',
  },
  'hidden-plain': {
    what: 'hidden numbers without a legend',
    why: 'the numbers are hidden and no rule paints the cells, so nothing is left to read',
    fix: 'paint the measure with a rule, or show the numbers',
  },
  'branded-bad': {
    what: 'a bad status although all meet the target',
    why: 'one of them is always last; that alone is not bad',
    fix: 'give the last ones a status that is no judgement, or judge against a limit',
  },
  'unused-status': {
    what: 'a status that no rule gives',
    why: 'it may be misspelt somewhere, or left over',
    fix: 'remove it, or use it',
  },
  'unused-parameter': {
    what: 'a parameter that nothing reads',
    why: 'a reader would move it and see nothing change',
    fix: 'remove it, or write its name where the number is typed',
  },
  'reads-as-limit': {
    what: 'a cell reads like the limit that it misses',
    why: 'rounded for the page it looks as if it met the limit, and is painted as if not; the value decides, not its text',
    fix: 'show more digits, or round the judged value, as in judge: round(revenue, 0)',
  },
  'mixed-status': {
    what: 'status and icon come from two statuses',
    why: 'two rules share a cell, and its icon belongs to another status than its words',
    fix: 'let one of the rules set no icon, or make the first final',
  },
  'dated-condition': {
    what: 'a condition on dates beside an earlier period',
    why: 'a condition on dates also applies to the earlier period, and excludes its rows',
    fix: 'write it as the period of the report or the exhibit',
  },
  'count-for-share': {
    what: 'a count that takes every cell',
    why: 'the first part of a rank holds all cells and those after it none: a count stands where a share is meant',
    fix: 'write a percent sign behind it, or a count below the number of cells',
  },
  'percent-meant': {
    what: 'a number where a percent is meant',
    why: 'a limit of 80 beside amounts of thousands is met by every one of them, so the part below it stays empty',
    fix: 'say of what it is a percent, as in 80% of target',
  },
  'ranked-outside': {
    what: 'a rank that counts cells its condition leaves out',
    why: 'where only selects the cells that are painted; ranks are computed among all, so the best three of all may contain just one of them',
    fix: 'write the condition as among, which selects the cells that are compared',
  },
  'unlike-sum': {
    what: 'a sum over values that measure different things',
    why: 'the rows are pairs of a name and a value, and values of unlike size are added up: visitors and hours make no number',
    fix: 'select one, as in sum(value) where figure = ..., or make columns of them with unstack',
  },
  'source-gap': {
    what: 'a further source that lacks keys or periods',
    why: 'a total then compares all of one source with fewer rows of the other, and looks better or worse than it is',
    fix: 'complete the source, or filter the report to what both have',
  },
  'lookup-unused': {
    what: 'keys of a lookup table that no row has, where its amounts are added up or rows lack a key',
    why: 'they count in its sums, and they may be misspelt or out of date',
    fix: 'correct or remove these rows of the table; if they are right, ignore the finding with the reason',
  },
  'lookup-aged': {
    what: 'a row of a lookup table in force for more than three of its usual steps: three months where it has a row a month',
    why: 'lookup: latest takes the last row before a date, so a rate that nobody entered is replaced by an old one',
    fix: 'complete the table, or use lookup: exact, which leaves rows without their own period missing',
  },
  'unfinished-judged': {
    what: 'a limit for whole periods beside a period that is not over',
    why: 'seventeen days of a month rarely reach what a month is to reach, so the cell looks bad until the month is over',
    fix: 'compare with prorated(plan) or elapsed() of target, or add unfinished: unpainted to the rule',
  },
  'blank-amounts': {
    what: 'rows without a value to add up',
    why: 'they add nothing to sums and count in no mean, so figures are lower than the rows suggest',
    fix: 'complete them, or say where they are left out: sum(amount) where amount is not missing',
  },
  'name-shadows': {
    what: 'a name that hides a raw column',
    why: 'what the file defines is found before the column of the same name',
    fix: 'give it another name, or reach the column with its source before a dot',
  },
} as const satisfies Readonly<Record<string, CatalogueEntry>>

/** The codes of findings. */
export type FindingCode = keyof typeof CATALOGUE
