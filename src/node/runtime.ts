import { readFileSync } from 'node:fs'
import { type Bound, walk } from '../expression/bound.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { BoundReport } from '../report/model/bound.js'
import type { StoredSource } from '../summary/memory/stored.js'

/** A part of the runtime as it was built. */
interface Part {
  /** The modules in it, by which it is asked for. */
  modules: readonly string[]
  /** Parts that it cannot do without, by their places. */
  needs: readonly number[]
  /** Packages that parts of are in it, with their licences. */
  holds: readonly string[]
  /** A function's body, of `exports` and `require`. */
  code: string
}

/** What every reader can ask for. */
const EVERY_PAGE = ['live/explain/content.js', 'live/explain/changes.js', 'live/controls/copy.js', 'view/data/json.js']

/**
 * With more rows than this a table may become one to search in, and a long one, when its reader
 * asks for more time; it works without, too.
 */
const MIN_FIND_ROWS = 30
const MIN_VIRTUAL_ROWS = 100

/** The parts of the runtime that a report may come to need, whatever its reader does. */
export function modulesFor({ bound, page }: DecidedReport, stored: Readonly<Record<string, StoredSource>>): string[] {
  const { exhibits, rules, sources } = bound
  const has = (kind: string): boolean => exhibits.some((own) => own.kind === kind)
  const longest = Math.max(0, ...page.exhibits.map((own) => ('rows' in own ? own.rows.length : 0)))
  const ops = new Set<string>()
  for (const own of expressionsOf(bound)) walk(own, ({ op }) => ops.add(op))
  const wanted: [boolean, string[]][] = [
    [has('chart'), ['report/layout/chart.js', 'view/html/chart.js', 'view/chart/chart.js']],
    [has('cards'), ['report/layout/cards.js', 'view/html/cards.js']],
    [has('records'), ['report/layout/records.js', 'view/html/records.js', 'live/dom/record-pager.js']],
    [has('reading'), ['report/layout/reading.js', 'view/html/words.js']],
    [ops.has('moved'), ['summary/cells/shift-keys.js', 'summary/cells/windows.js']],
    [ops.has('streak'), ['summary/cells/streak.js']],
    [sources.length > 1, ['summary/cells/lookup.js']],
    [(bound.coverage?.gaps ?? []).length > 0, ['report/answer/gap-notes.js']],
    [Object.values(stored).some(({ counts }) => counts === undefined), ['summary/memory/engine.js']],
    [exhibits.some(({ topN: keeps }) => keeps.length > 0), ['summary/cells/top-n.js', 'summary/cells/without.js']],
    [rules.some(({ amongUnfiltered }) => amongUnfiltered === true), ['rule/run/unfiltered-population.js']],
    [longest > MIN_FIND_ROWS, ['live/dom/find.js']],
    [longest > MIN_VIRTUAL_ROWS, ['live/dom/virtual-rows.js']],
  ]
  const kinds = new Set(
    rules.map(({ kind }) => `rule/kinds/${kind.key.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}/run.js`),
  )
  return [...EVERY_PAGE, ...kinds, ...wanted.flatMap(([needed, modules]) => (needed ? modules : []))]
}

/** Every expression that a report is answered by. */
function expressionsOf({ measures, rules, exhibits }: BoundReport): Bound[] {
  return [
    ...[...measures.values()].map(({ bound }) => bound),
    ...rules.flatMap(({ kind, plan, where, among, judge }) => [
      ...kind.expressions(plan),
      ...[where, among, judge].flatMap((own) => (own === undefined ? [] : [own.bound])),
    ]),
    ...exhibits.flatMap(({ chart }) => (chart?.references ?? []).map(({ bound }) => bound)),
  ]
}

/** The runtime as one script: the parts that are wanted, and all that these need. */
export function linkRuntime(modules: readonly string[]): string {
  const parts: readonly Part[] = JSON.parse(readFileSync(new URL('../live/parts.json', import.meta.url), 'utf8'))
  const taken = new Set<number>()
  const take = (place: number): void => {
    if (taken.has(place)) return
    taken.add(place)
    for (const next of parts[place].needs) take(next)
  }
  take(0)
  for (const module of modules) {
    const place = parts.findIndex((part) => part.modules.includes(module))
    if (place < 0) throw new Error(`the runtime has no part ${module}`)
    take(place)
  }
  const places = [...taken].sort((a, b) => a - b)
  const holds = [...new Set(places.flatMap((place) => parts[place].holds))]
  const list = places.map((place) => `${place}:(exports,require)=>{${parts[place].code}}`)
  // Each part runs once, when it is first asked for; one that is not there fails whoever asks for
  // it.
  return `/*! Holds parts of ${holds.join('; ')} */
(()=>{const parts={${list.join(',\n')}},made={},get=n=>{if(made[n]===undefined)parts[n](made[n]={},get);return made[n]};get(0)})()`
}
