import { meantOr, some } from '../phrases.js'

const count = (n: number, what: string): string => `${n.toLocaleString('en')} ${n === 1 ? what : `${what}s`}`
const size = (bytes: number): string =>
  bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
const listedToo = (listed: number): string => (listed === 0 ? '' : `, and ${count(listed, 'row')} whole, for lists`)

/** Sentences of problems of exhibits: what is wrong, and the fix. */
export const EXHIBIT_SENTENCES = {
  'show-or-trend': (p: { found: readonly string[] }) =>
    p.found.length === 0
      ? 'a column needs show with a measure, trend, or status'
      : `a column takes one of show, trend and status, and has ${p.found.join(' and ')}; write two columns`,
  'trend-of': (_: object) => 'a trend needs a measure here; say which, as in trend: { of: revenue, along: month }',
  'trend-draws': (p: { key: string }) => `${p.key} is for a measure, not for a trend; remove it`,
  'status-draws': (_: object) => 'draw is for a number, and this column shows a status; remove it',
  'moves-since': (p: { name: string }) =>
    `${p.name} lists what changed since an earlier date; write the date, as in since: 1 month`,
  'group-one': (_: object) => 'records that are shown one at a time have no groups; remove group, or oneAtATime',
  'showing-kind': (p: { kind: string; known: readonly string[] }) =>
    `showing hides rows, and ${p.kind} has none; it is for ${some(p.known)}`,
  'showing-unshown': (p: { name: string; nearest?: string | undefined; known: readonly string[] }) =>
    `${p.name} is not shown here, so rows cannot be chosen by its status${meantOr(p.nearest, p.known)}`,
  'heatmap-draws': (p: { key: string }) => `a heatmap has full cells and no ${p.key}; remove it, or make it a table`,
  'chart-units': (p: { left: string; right: string; measure: string }) =>
    `${p.measure} is ${p.right} and the measures before it are ${p.left}, so they have no scale in common; make two charts`,
  'chart-key-twice': (p: { key: string }) =>
    `${p.key} is used twice in this chart; along, series and panels are different keys`,
  'heading-unpainted': (p: { key: string; exhibit: string }) =>
    `no rule paints the headings of ${p.key} in ${p.exhibit}, so there is nothing to explain; name a cell, as in ${p.exhibit}.MEASURE`,
  'key-twice': (p: { key: string }) => `${p.key} is a key of this exhibit already; remove one of the two`,
  'stacked-draws': (_: object) => 'only bars can be stacked; give the others a chart of their own, or remove stacked',
  'horizontal-draws': (p: { draw: string }) =>
    `a horizontal chart has bars, points and marks, and ${p.draw} is none of them; remove horizontal`,
  'rows-of-record': (p: { exhibit: string }) =>
    `${p.exhibit} lists rows themselves, so there are none behind a cell of it; leave out --rows`,
  'filter-kind': (p: { name: string; kind: string; known: readonly string[] }) =>
    `${p.name} is a ${p.kind}, which has too many values to choose from; filter by ${p.known.join(', ')}`,
  'records-many': (p: { most: string }) =>
    `more than ${p.most} rows match, too many for a list; filter the exhibit by where or period`,
  'unlike-versus': (p: { of: string; left: string; versus: string; right: string }) =>
    `${p.of} is ${p.left} and ${p.versus} is ${p.right}, so they cannot be compared; choose a measure of the same unit`,
  'words-along': (p: { key: string }) => `along takes a period such as month, and ${p.key} is none`,
  'note-carries-groups': (p: { source: string; groups: number; rows: number; listed: number; bytes: number }) =>
    `the page carries ${count(p.groups, 'group')} in place of the ${count(p.rows, 'row')} of ${p.source}${listedToo(p.listed)} (${size(p.bytes)}); --static leaves them out`,
  'note-carries-rows': (p: {
    source: string
    rows: number
    columns: readonly string[]
    unmerged: readonly string[]
    listed: number
    bytes: number
  }) =>
    `the page carries ${p.columns.join(', ')} of the ${count(p.rows, 'row')} of ${p.source}, for ${
      p.unmerged.length > 0 ? `${p.unmerged.join(', ')} cannot be merged from groups` : 'groups would be nearly as many'
    }${listedToo(p.listed)} (${size(p.bytes)}); --static leaves them out`,

  // outputs
  'browser-missing': (_: object) =>
    'png and pdf need a Chromium-based browser, and none was found; install one (Debian: apt-get install chromium), or name it in ACUARELA_BROWSER',
  'browser-start': (p: { path: string; why: string }) => `the browser ${p.path} did not start: ${p.why}`,
  'package-missing': (p: { name: string; what: string }) =>
    `${p.what} need the package ${p.name}, which is not installed; run npm install ${p.name}`,
  'out-binary': (p: { format: string }) => `${p.format} is a binary format; name a file with --out`,
  'out-folder': (p: { what: string }) => `${p.what} is several files; name a folder with --out`,
  'with-why-ods': (_: object) => '--with-why annotates the cells of a workbook; write it with --to ods',
  'with-data-out': (_: object) =>
    '--with-data writes a CSV file beside a page of html; name the page with --out, as in --out report.html',
  'fragment-html': (p: { format: string }) => `--fragment is a form of html, and --to says ${p.format}`,
  'each-text': (p: { name: string; known: readonly string[] }) =>
    `--each makes a page for each text of a column, and ${p.name} is none of: ${p.known.join(', ')}`,
  'each-none': (p: { name: string }) => `no row has a value of ${p.name}, so there is no page to make`,
  'not-a-width': (p: { found: string }) => `--width takes whole columns from 24, or 0 for no limit, not ${p.found}`,
} as const
