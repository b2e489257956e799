import { meant, meantOr, oneOf, quote, some } from '../phrases.js'

/** Sentences of problems of rules and styles: a part of the catalogue. */
export const RULE_SENTENCES = {
  'sentence-empty': (_: object) =>
    'the sentence is empty; write what is painted, a colon, and the rule, as in revenue: at least target → ahead',
  'sentence-too-long': (p: { most: number }) =>
    `the sentence is longer than ${p.most.toLocaleString('en')} characters; write several rules`,
  'sentence-end': (p: { expected: readonly string[] }) => `the sentence ends too early; expected ${oneOf(p.expected)}`,
  'sentence-expected': (p: { found: string; expected: readonly string[]; nearest?: string | undefined }) =>
    `${quote(p.found)} cannot stand here${p.nearest === undefined ? `; expected ${oneOf(p.expected)}` : meant(p.nearest)}`,
  'sentence-two-kinds': (p: { first: string; second: string }) =>
    `a rule has one kind; make it two: ${p.first}, and ${p.second}`,
  'sentence-meant': (p: { sentence: string }) => `did you mean ${p.sentence}?`,
  'sentence-ways': (p: { sentences: readonly string[] }) =>
    `did you mean one of these?${p.sentences.map((sentence) => `\n  ${sentence}`).join('')}`,
  'sentence-no-colon': (p: { text: string }) =>
    `${quote(p.text)} is no rule: a sentence has a colon, as in revenue: at least target → ahead; in a list in brackets a comma ends a sentence, so put it in quotes`,
  'edit-unreadable': (_: object) => 'the report is not readable as it is, so nothing is written into it',
  'edit-refused': (_: object) =>
    'the edit cannot be written without changing something else; write it into the file by hand',
  'edit-nothing': (_: object) => 'the report has nothing here; nothing was changed',
  'edit-no-sentence': (_: object) => 'no sentence says this; write the rule in keys first',
  'edit-unknown': (p: { what: string; name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `this file has no ${p.what} ${p.name}${meantOr(p.nearest, p.known)}`,
  'edit-included': (p: { file: string; from: string; to: string }) =>
    `${p.file} names ${p.from}, too; rename it there first, to ${p.to}`,
  'edit-no-number': (_: object) =>
    'here is no typed number and no style; a parameter is made of a number, a status of a style',
  'rule-for-place': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `no rule is called ${p.name}${meantOr(p.nearest, p.known)}`,
  'dry-run-alone': (_: object) => '--dry-run belongs to --fix; add that, or leave it out',
  'before-or-after': (_: object) => '--before and --after name one place; give one of them',
  'write-to-stdin': (_: object) =>
    'a report from standard input cannot be written to; leave out --write, or name the file',
  'sentence-bare-color': (p: { name: string }) => `${p.name}: '${p.name} fill', or '${p.name} text'?`,
  'sentence-test-twice': (p: { found: string }) =>
    `this test has ${quote(p.found)} twice; write two tests with a semicolon between them`,
  'sentence-two-names': (p: { name: string; ids: readonly string[] }) =>
    `${p.name} may be ${oneOf(p.ids)}; write one of these`,
  'sentence-status-or-style': (p: { status: string }) =>
    `${p.status} has a style of its own; here stands a status or a style, not both`,
  'row-needs-judge': (_: object) =>
    'a row has no value of its own; add judge: the measure or field that decides, as in judge: channel',
  'one-scale-two': (_: object) =>
    'oneScale makes one population of several measures, or columns of numbers; paint a list of two at least, or remove it',
  'icons-or-ramp': (p: { gives: string }) =>
    p.gives === 'icon'
      ? 'a gradient as icons takes icons and no ramp; write icons: petals, or a list of drawings'
      : 'a gradient needs a ramp; write ramp: aqua, or a list of colours',
  'icons-steps': (p: { icons: number; steps: number }) =>
    `${p.icons} icons make ${p.icons} steps, and steps says ${p.steps}; remove steps`,
  'unknown-family': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `${p.name} is no family of icons${meantOr(p.nearest, p.known)}`,
  'family-steps': (p: { name: string }) => `${p.name} has 2 to 9 steps; write steps: 5`,
  'from-column-nothing': (p: { known: readonly string[] }) =>
    `fromColumn names no column; give it one of ${p.known.join(', ')}`,
  'bad-color': (p: { name: string }) => `${p.name} is not a CSS colour`,
  'bad-expect': (p: { text: string }) =>
    `${p.text} is not a count to be checked; write a status and a limit, as in behind <= 3 or shops.behind = 0`,
  'bad-target': (p: { text: string }) =>
    `${p.text} is not an exhibit and a measure; write them with a dot, as in shops.revenue`,
  'bad-place': (p: { text: string }) => `${p.text} is not a key and a value; write it as shop=Larkmoor`,
  'bad-rows': (p: { text: string }) =>
    `${p.text} is not a count of rows; write --rows 50, or --rows at the end for the first 20`,
  'bad-trial': (p: { text: string; what: string }) => `${p.text} is not ${p.what}; write it as the rule would read it`,
  'since-or-against': (_: object) => 'both --since and --against compare the report; give one of them',
  'published-alone': (p: { file: string }) =>
    `${p.file} is painted data, which is compared by itself; leave out the other --against`,
  'bad-against': (p: { text: string }) =>
    `${p.text} is neither a report file nor a parameter and a value; write it as target=70000`,
  'unknown-finding': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `unknown finding: ${p.name}${meantOr(p.nearest, p.known)}`,
  'include-missing': (p: { file: string }) => `there is no file ${p.file} to include; check the path`,
  'include-nested': (_: object) => 'an included file cannot include others; name them in the report',

  'note-shared-skips': (p: { rule: string; file: string; name: string }) =>
    `the rule ${p.rule} of ${p.file} is left out: this report has no ${p.name}`,
  'unknown-rule': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `unknown rule: ${p.name}${meantOr(p.nearest, p.known)}`,
  'unknown-cell': (p: { place: string; known: readonly string[] }) =>
    `no cell of this exhibit is ${p.place}; there are ${some(p.known)}`,
  'unknown-key-of': (p: { name: string; exhibit: string; nearest?: string | undefined; known: readonly string[] }) =>
    p.known.length === 0
      ? `${p.exhibit} is not split by ${p.name}, nor by anything`
      : `${p.exhibit} is not split by ${p.name}${meantOr(p.nearest, p.known)}`,
} as const
