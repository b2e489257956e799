import { readFileSync } from 'node:fs'
import { type Bound, walk } from '../expression/bound.js'
import type { Exhibit } from '../page/page.js'
import { filtersByParameter, hasFlags } from '../report/answer/facts.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { BoundReport } from '../report/model/bound.js'
import { comparesByKeys } from '../report/transfer/compares-by-keys.js'
import { needsFamilies } from '../report/transfer/unpack.js'
import type { StoredSource } from '../summary/memory/stored.js'

/** A part of the built runtime. */
interface Part {
  /** The name by which other parts require it. */
  name: string
  /** Its modules, by which it is selected. */
  modules: readonly string[]
  /** Names of the parts that it imports. */
  needs: readonly string[]
  /** The packages inside it, with their licences. */
  holds: readonly string[]
  /** A function of its exports and of what gives it other parts. */
  code: string
}

/** Modules of every page besides the entry: those that answer exhibits and explain cells. */
export const EVERY_PAGE = [
  'report/answer/exhibit.js',
  'live/session/reasons.js',
  'live/session/changes.js',
  'view/chart/trend.js',
  'live/controls/copy.js',
  'live/controls/downloads.js',
  'live/controls/strip-cells.js',
  'view/data/json.js',
]

/**
 * A table with more rows may need the text search, or virtual rows, after its reader chooses a
 * longer period. The page works without them.
 */
const MIN_FIND_ROWS = 30
const MIN_VIRTUAL_ROWS = 100

/** The modules that a report may need in any state. */
export function modulesFor(
  { bound, page, report, exhibits: answered }: DecidedReport,
  stored: Readonly<Record<string, StoredSource>>,
): string[] {
  const { exhibits, rules, sources } = bound
  const has = (kind: string): boolean => page.exhibits.some((exhibit) => exhibit.kind === kind)
  const longest = Math.max(0, ...page.exhibits.map((exhibit) => ('rows' in exhibit ? exhibit.rows.length : 0)))
  const ops = new Set<string>()
  for (const expression of expressionsOf(bound)) walk(expression, ({ op }) => ops.add(op))
  const wanted: [boolean, string[]][] = [
    // Every reader may take the report as a workbook; it is a part of its own, as few do.
    [true, ['view/workbook/document.js']],
    [page.parameters.length > 0, ['report/layout/redecide.js']],
    [
      has('chart'),
      ['view/html/kinds/chart.js', 'view/chart/chart.js', 'view/svg/page.js', 'view/model/chart-sheet.js'],
    ],
    [has('cards'), ['view/html/kinds/cards.js']],
    [has('records'), ['view/html/kinds/records.js', 'live/dom/record-pager.js']],
    [has('reading'), ['view/html/kinds/words.js']],
    [
      exhibits.some(({ unfinished }) => unfinished === 'unpainted') || rules.some((rule) => rule.skipsUnfinished),
      ['report/answer/unfinished.js'],
    ],
    [exhibits.some(({ since }) => since !== undefined), ['report/layout/since/answer.js']],
    [exhibits.some(({ showing }) => showing !== undefined), ['report/layout/showing.js']],
    [exhibits.some(filtersByParameter), ['report/layout/filled-conditions.js']],
    [rules.some(({ oneScale }) => oneScale.length > 0), ['rule/run/one-scale.js']],
    [hasFlags(bound), ['report/layout/flags.js']],
    [needsFamilies(bound), ['style/icon-families.js']],
    [comparesByKeys({ bound, report, exhibits: answered }), ['live/session/changes-by-keys.js']],
    [page.exhibits.some(hasTrends), ['live/explain/trend-values.js']],
    [ops.has('moved'), ['report/answer/moving.js', 'summary/cells/shift-keys.js', 'summary/cells/windows.js']],
    [ops.has('spanned'), ['summary/cells/spanned.js']],
    [
      ops.has('sameKeys'),
      [
        'report/answer/moving.js',
        'summary/cells/same-keys.js',
        'summary/cells/shift-keys.js',
        'summary/cells/without.js',
      ],
    ],
    [ops.has('streak'), ['report/answer/moving.js', 'summary/cells/streak.js']],
    [
      sources.length > 1,
      ['report/answer/join-sources.js', 'summary/memory/home-columns.js', 'summary/memory/known.js'],
    ],
    [sources.some(({ lookup }) => lookup !== undefined), ['summary/cells/lookup-cells.js']],
    [
      (bound.coverage?.gaps ?? []).length + (bound.coverage?.blanks ?? []).length > 0 ||
        exhibits.some(({ orders }) => orders.size > 0),
      ['report/answer/gap-notes.js'],
    ],
    [Object.values(stored).some(({ counts }) => counts === undefined), ['summary/memory/engine.js']],
    [exhibits.some(({ topN: keeps }) => keeps.length > 0), ['summary/cells/top-n.js', 'summary/cells/without.js']],
    [rules.some(({ amongUnfiltered }) => amongUnfiltered === true), ['rule/run/unfiltered-population.js']],
    [longest > MIN_FIND_ROWS, ['live/dom/find.js']],
    [longest > MIN_VIRTUAL_ROWS, ['live/dom/virtual-rows.js']],
  ]
  const kinds = new Set([
    ...rules.map(({ kind }) => `rule/kinds/${folderOf(kind.key)}/run.js`),
    ...exhibits.map(({ kind }) => `report/layout/kinds/${folderOf(kind)}.js`),
  ])
  return [...kinds, ...wanted.flatMap(([needed, modules]) => (needed ? modules : []))]
}

function hasTrends(exhibit: Exhibit): boolean {
  if (exhibit.kind === 'cards') return exhibit.cards.some(({ trend }) => trend !== null)
  return 'rows' in exhibit && exhibit.trends.length > 0
}

/** The folder of a kind: `fromColumn` is from-column. */
function folderOf(key: string): string {
  return key.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)
}

/** Every expression that the session of a report evaluates. */
function expressionsOf({ measures, rules, exhibits }: BoundReport): Bound[] {
  return [
    ...[...measures.values()].map(({ bound }) => bound),
    ...rules.flatMap(({ kind, plan, where, among, judge }) => [
      ...kind.expressions(plan),
      ...[where, among, judge].flatMap((text) => (text === undefined ? [] : [text.bound])),
    ]),
    ...exhibits.flatMap(({ chart }) => (chart?.references ?? []).map(({ bound }) => bound)),
  ]
}

/** The runtime as one script: the selected parts and all that they import. */
export function linkRuntime(modules: readonly string[]): string {
  const parts: readonly Part[] = JSON.parse(readFileSync(new URL('../live/parts.json', import.meta.url), 'utf8'))
  // The entry first, the others in a fixed order, so that the same report gives the same page.
  const [first] = parts
  const taken = new Set<Part>()
  const take = (part: Part | undefined, name: string): void => {
    if (part === undefined) throw new Error(`the runtime has no part ${name}`)
    if (taken.has(part)) return
    taken.add(part)
    for (const need of part.needs)
      take(
        parts.find((part) => part.name === need),
        need,
      )
  }
  take(first, 'boot')
  for (const module of modules)
    take(
      parts.find((part) => part.modules.includes(module)),
      module,
    )
  const linked = parts.filter((part) => taken.has(part))
  const holds = [...new Set(linked.flatMap((part) => part.holds))]
  const list = linked.map(({ name, code }, i) => `${JSON.stringify(name)}:${i === 0 ? eager(code) : code}`)
  // Each part runs once, when it is first required; requiring a part that is left out throws.
  return `/*! Holds parts of ${holds.join('; ')} */
(()=>{const parts={${list.join(',\n')}},made={},get=n=>{if(made[n]===undefined)parts[n](made[n]={},get);return made[n]};get.later=async n=>get(n);get(${JSON.stringify(first?.name)})})()`
}

/**
 * A part that runs at once, as a function in brackets: engines compile such a function while they
 * parse the script, and others a second time when they are called. That took a third of the time in
 * which a page's script starts.
 */
function eager(code: string): string {
  return `(${code.replace(/^\(([^()]*)\)=>\{/, 'function($1){')})`
}
