import { meant, quote, short, some } from '../phrases.js'

/** Sentences of problems of input: wrong shapes, and unknown names in calls. */
export const INPUT_SENTENCES = {
  'unknown-key': (p: {
    key: string
    nearest?: string | undefined
    known: readonly string[]
    inside?: readonly string[] | undefined
  }) =>
    `unknown key: ${short(p.key)}${p.inside !== undefined ? `; it belongs inside ${p.inside.join(' or ')}` : p.nearest === undefined ? `; known here: ${some(p.known)}` : meant(p.nearest)}`,
  renamed: (p: { old: string; now: string }) => `${p.old} is called ${p.now} now`,
  'missing-key': (p: { key: string }) => `${p.key} is missing; write it`,
  'wrong-shape': (p: { expected: string; found: string }) => `expected ${p.expected}, found ${p.found}`,
  'not-one-of': (p: { found: string; known: readonly string[]; nearest?: string | undefined }) =>
    `${quote(p.found)} is not one of ${some(p.known)}${meant(p.nearest)}`,
  'unknown-parameter': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `unknown parameter: ${p.name}${p.nearest === undefined ? (p.known.length === 0 ? '; the report has none' : `; known: ${some(p.known)}`) : meant(p.nearest)}`,
  'parameter-value': (p: { name: string; found: string }) =>
    `${p.name}=${p.found} is not a number; write it plainly, as in ${p.name}=1200 or ${p.name}=15%`,
  'parameter-percent': (p: { name: string; found: string; percent: string }) =>
    `${p.name} is a percent and ${p.found} is not; did you mean ${p.percent}?`,
  'parameter-not-percent': (p: { name: string; found: string }) =>
    `${p.name} is not a percent and ${p.found} is; write the number itself`,
  'parameter-bounds': (p: { name: string; value: string; from: string; to: string }) =>
    `${p.name} is ${p.value}, outside its bounds ${p.from} to ${p.to}`,
  'bad-format': (p: { text: string }) =>
    `${quote(p.text)} is not a format; write money CUR, percent or number, then digits (0 to 9), signed, compact, and for a number a unit: 'money EUR 0 signed', 'number 1 unit kg'`,
  'unknown-filter': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    p.known.length === 0
      ? `there is no filter ${short(p.name)}; name it in filters: of the report`
      : `there is no filter ${short(p.name)}${p.nearest === undefined ? `; the report has ${some(p.known)}` : meant(p.nearest)}`,
  'unknown-value': (p: { name: string; value: string; nearest?: string | undefined; known: readonly string[] }) =>
    `${p.name} is never ${quote(p.value)}${p.nearest === undefined ? `; there are ${some(p.known)}` : meant(p.nearest)}`,
  'no-period-filter': (_: object) => "the report's period cannot be changed; name period in filters: of the report",
  'period-unknown': (p: { text: string }) => `${quote(p.text)} is no period, such as 2025, this year or last 3 months`,
  'unknown-sorted': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `there is no exhibit ${short(p.name)} that can be sorted${p.nearest === undefined ? `; there are ${some(p.known)}` : meant(p.nearest)}`,
  'sort-unknown': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `${short(p.name)} is nothing to sort by${p.nearest === undefined ? `; there are ${some(p.known)}` : meant(p.nearest)}`,
  'rule-unknown': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `there is no rule ${short(p.name)}${p.nearest === undefined ? `; there are ${some(p.known)}` : meant(p.nearest)}`,
  'not-carried': (p: { found: string }) =>
    `expected what bundleReportFile gives, found ${p.found}; check the address that it was fetched from`,
  'no-port': (p: { found: string }) => `expected a worker or message port, found ${p.found}; in a worker it is self`,
  'session-lost': (p: { detail: string }) =>
    `the worker that answers the report failed: ${p.detail}; see the console of the worker`,
  'no-class-name': (p: { text: string }) =>
    `${JSON.stringify(p.text)} is no name of a class; letters, digits, - and _ are, such as "pointed-at"`,
  'no-element': (p: { found: string }) => `expected an element to show the report in, found ${p.found}`,
} as const satisfies Readonly<Record<string, (params: never) => string>>
