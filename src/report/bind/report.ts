import { bindAs, type Names, type Setting } from '../../expression/bind.js'
import type { Bound } from '../../expression/bound.js'
import { printExpression } from '../../expression/print.js'
import { RESERVED } from '../../expression/reserved.js'
import type { ReportFile } from '../../file/report-file.js'
import { Diagnostics } from '../../problem/diagnostics.js'
import { inFileOrder, withoutFollowUps } from '../../problem/order.js'
import { type Problem, ProblemError, problem, refuse } from '../../problem/problem.js'
import { readParameters, setParameters } from '../../rule/bind/parameters.js'
import { bindRules } from '../../rule/bind/rules.js'
import type { Vocabulary } from '../../rule/bind/vocabulary.js'
import type { BoundRule } from '../../rule/model.js'
import { ROW } from '../../rule/row.js'
import { checkShape, type Shape } from '../../shape/shape.js'
import type { ReportSpec } from '../../spec/report.js'
import type { RuleSpec } from '../../spec/rules.js'
import { checkStyle } from '../../style/effect.js'
import { createPalette, type Palette } from '../../style/palette.js'
import type { SourceTable } from '../../table/source-table.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import { CYCLES, isPeriodUnit, isTimeUnit, PERIOD_UNITS, parsePeriod, parseSpan } from '../../time/period.js'
import { isZone } from '../../time/zone.js'
import type { BoundExhibit, BoundReport, Settings } from '../model/bound.js'
import { follow } from '../model/progress.js'
import type { ExhibitContext } from './exhibit-keys.js'
import { bindExhibits } from './exhibits.js'
import { checkFilters } from './filters.js'
import { joinedColumns } from './joined-columns.js'
import { boundMeasures, checkProrated, measureFactsOf } from './measures.js'
import { bindSince } from './since.js'
import { bindSources } from './sources.js'
import { checkStacked } from './stacked-values.js'
import { bindStrip } from './strip.js'

const SETTINGS: Shape = {
  keys: {
    'parameters?': { each: { any: ['number', 'text'] } },
    'where?': 'text',
    'period?': 'text',
    'asOf?': 'text',
    'since?': 'text',
    'today?': { is: 'whole' },
    'noLimit?': 'truth',
    'picture?': 'function',
    'onProgress?': 'function',
    'signal?': 'anything',
  },
}

/**
 * Finds all problems of a report. Column names of a source that is not in `sources`, as it could
 * not be read, are not checked.
 */
export function checkReport(
  report: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  settings: Settings = {},
): Problem[] {
  return bind(report, sources, settings).problems
}

/** Binds a report to its data. Throws one error with all its problems. */
export function bindReport(
  report: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  settings: Settings = {},
): BoundReport {
  const { bound, problems } = bind(report, sources, settings)
  refuse(problems)
  if (bound === undefined) throw new ProblemError([])
  return bound
}

/** A bound report, or the problems for which there is none. */
interface Bindings {
  bound?: BoundReport
  problems: Problem[]
}

type Sources = ReadonlyMap<string, SourceTable>

/** Binds a report, or finds its problems; `bindData` binds its sources. */
export function bind(report: ReportFile, read: Sources, settings: Settings, bindData = bindSources): Bindings {
  const problems: Problem[] = []
  const diagnostics = new Diagnostics(problems)
  const notes: Problem[] = []
  const { spec } = report
  checkShape(SETTINGS, settings, ['settings'])
  if (spec === undefined) return { problems: [...report.problems] }
  const locale = checkLocale(spec.locale ?? 'en', diagnostics)
  const calendar = calendarOf(spec.calendar?.yearStarts)
  checkZone(spec, diagnostics)
  checkNamespace(spec, diagnostics)
  const hidden = createHidden(spec)
  const data = bindData(spec, read, { calendar, follow: follow(settings), hidden }, diagnostics)
  const { sources, home: columns } = data
  const [homeName = ''] = Object.keys(spec.sources)
  const date = spec.sources[homeName]?.date
  const parameters = setParameters(
    readParameters(spec.parameters ?? {}, diagnostics.at('parameters')),
    settings.parameters ?? {},
    locale,
    diagnostics.at('settings', 'parameters'),
    notes,
  )
  const palette = bindPalette(spec, settings, diagnostics)
  const fields = dimensionNames(columns, date)
  const times = { time: date !== undefined, calendar, keys: (name: string) => fields.find(name) !== undefined }
  const measures = boundMeasures(spec.measures ?? {}, data.all, parameters, diagnostics, times)
  const condition = { what: 'a condition on rows', names: columns, calendar, hidden }
  const inFile = boundConditions(spec.where, condition, diagnostics.at('where'))
  const where = [...inFile, ...boundConditions(settings.where, condition, diagnostics.at('settings', 'where'))]
  const conditions = where.map((w) => w.bound)
  checkStacked(sources, measures, conditions, diagnostics)
  checkProrated(sources, measures, diagnostics.at('measures'))
  const names = exhibitNames(spec)
  const vocabulary: Vocabulary = {
    statuses: spec.statuses ?? {},
    palette,
    parameters,
    measures: measureFactsOf(spec.measures ?? {}, measures),
    fields,
    exhibits: names,
    shared: (index) => report.sharedRules?.find((rule) => rule.index === index)?.file,
  }
  const { rules, ...bindings } = bindRules(writtenRules(report, fields), vocabulary, ['rules'])
  problems.push(...bindings.problems)
  notes.push(...bindings.notes)
  const context = { vocabulary, columns, fields, measures, hasDates: date !== undefined, calendar, names, hidden }
  const shown = boundExhibits(spec, settings, context, rules, diagnostics)
  checkTime(spec, settings, date, calendar, diagnostics)
  checkFilters(spec, columns, date, diagnostics)
  const located = locateProblems(report, read, problems)
  if (located.length > 0 || !sources.some((source) => source.name === homeName) || !data.whole)
    return { problems: located }
  const bound: BoundReport = {
    ...headOf(spec, settings),
    locale,
    sources,
    wanted: joinedColumns(shown.exhibits, where, measures.values()),
    calendar,
    labels: labelsOf(spec, sources[0]?.attributes),
    parameters,
    measures,
    statuses: vocabulary.statuses,
    palette,
    measureFacts: vocabulary.measures,
    rules,
    where: conditions,
    whereText: where.map((w) => (where.length > 1 ? `(${w.text})` : w.text)).join(' and ') || null,
    ...shown,
    notes: [...[...read.values()].flatMap((source) => source.notes), ...notes],
    ...((settings.where ?? settings.period) !== undefined && {
      unfiltered: { where: inFile.map((w) => w.bound), period: String(spec.period ?? 'all') },
    }),
  }
  return { bound, problems: [] }
}

/** The rules of a report; sentences are read once more, as the columns are known now. */
function writtenRules({ spec, rulesWith }: ReportFile, columns: Names): readonly RuleSpec[] {
  return rulesWith?.(columns.all()) ?? spec?.rules ?? []
}

/** The exhibits of a report, and what its strip counts. */
function boundExhibits(
  spec: ReportSpec,
  settings: Settings,
  context: ExhibitContext,
  rules: readonly BoundRule[],
  diagnostics: Diagnostics,
): Pick<BoundReport, 'exhibits' | 'strip'> {
  const bound = bindExhibits(spec, context, diagnostics)
  const exhibits = bindSince(bound, spec, settings, context.hasDates, diagnostics)
  const strip = bindStrip(spec, exhibits, diagnostics)
  return { exhibits: exhibits.map((exhibit) => withSecondIcons(exhibit, rules)), ...(strip !== undefined && { strip }) }
}

/** Marks the columns whose cells may get a second icon, so that they leave room for it. */
function withSecondIcons(exhibit: BoundExhibit, rules: readonly BoundRule[]): BoundExhibit {
  const measures = new Set(rules.flatMap((rule) => (rule.iconAfter === true ? [rule.measure] : [])))
  if (measures.size === 0) return exhibit
  const slots = exhibit.slots.map((slot) =>
    'measure' in slot && (measures.has(slot.measure) || measures.has(ROW)) ? { ...slot, second: true as const } : slot,
  )
  return { ...exhibit, slots }
}

/** The parts of a report that need no binding. */
function headOf(
  { title, note, filters, asOf, period }: ReportSpec,
  settings: Settings,
): Pick<BoundReport, 'title' | 'note' | 'filters' | 'asOf' | 'period' | 'today'> {
  return {
    title,
    note: note ?? null,
    filters: filters ?? [],
    asOf: settings.asOf ?? asOf ?? 'latest',
    period: settings.period ?? String(period ?? 'all'),
    today: settings.today,
  }
}

function checkZone({ calendar }: ReportSpec, diagnostics: Diagnostics): void {
  const zone = calendar?.zone
  if (zone !== undefined && !isZone(zone)) diagnostics.at('calendar', 'zone').report('bad-zone', { text: zone })
}

/** What a name is that conditions on rows cannot use. */
function createHidden({ parameters = {}, measures = {} }: ReportSpec): (name: string) => string | undefined {
  return (name) =>
    Object.hasOwn(parameters, name) ? 'a parameter' : Object.hasOwn(measures, name) ? 'a measure' : undefined
}

/** The palette of a report; the styles of its statuses are checked with it. */
function bindPalette(
  { pigments, icons, statuses }: ReportSpec,
  { picture }: Settings,
  diagnostics: Diagnostics,
): Palette {
  const palette = createPalette({ ...(pigments && { pigments }), ...(icons && { icons }) }, diagnostics, picture)
  for (const [name, status] of Object.entries(statuses ?? {}))
    checkStyle(status, diagnostics.at('statuses', name), palette)
  return palette
}

/**
 * Labels of columns; the first source that has one wins. A column of a lookup table has its own
 * name without one.
 */
function labelsOf(
  { sources, labels = {} }: ReportSpec,
  attributes: ReadonlySet<string> = new Set(),
): Map<string, string> {
  const looked = [...attributes].map((name): [string, string] => {
    const [source, column] = [name.slice(0, name.indexOf('.')), name.slice(name.indexOf('.') + 1)]
    return [name, sources[source]?.labels?.[column] ?? column]
  })
  return new Map([
    ...looked,
    ...Object.values(sources)
      .flatMap((source) => Object.entries(source.labels ?? {}))
      .reverse(),
    ...Object.entries(labels),
  ])
}

/** All problems with their places in the file, in its order. */
function locateProblems(
  report: ReportFile,
  read: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
): Problem[] {
  // Settings are not part of the file.
  const isOutside = ({ place: { path } }: Problem): boolean => path === undefined || path[0] === 'settings'
  const located = problems.map((p) => explained(p, read)).map((p) => (isOutside(p) ? p : report.place(p)))
  return inFileOrder(withoutFollowUps([...report.problems, ...located]))
}

/**
 * Checks the date of the report and the period of the settings; periods of the file are checked
 * with the exhibits.
 */
function checkTime(
  spec: ReportSpec,
  settings: Settings,
  date: string | undefined,
  calendar: Calendar,
  diagnostics: Diagnostics,
): void {
  const asOf = (text: string | undefined, at: Diagnostics): void => {
    if (text === undefined || text === 'latest' || text === 'today') return
    if (parsePeriod(text)?.unit !== 'day') at.report('bad-date', { text })
  }
  asOf(spec.asOf, diagnostics.at('asOf'))
  asOf(settings.asOf, diagnostics.at('settings', 'asOf'))
  if (settings.period !== undefined && parseSpan(settings.period, 0, calendar) === undefined)
    diagnostics.at('settings', 'period').report('bad-period', { text: settings.period })
  if (date !== undefined) return
  if (settings.period !== undefined) diagnostics.at('settings', 'period').report('no-date', { name: 'a period' })
}

const MONTHS = 'January February March April May June July August September October November December'.split(' ')

function calendarOf(yearStarts: string | undefined): Calendar {
  return yearStarts === undefined ? CIVIL_CALENDAR : { yearStarts: MONTHS.indexOf(yearStarts) + 1 }
}

function checkLocale(locale: string, diagnostics: Diagnostics): string {
  try {
    return Intl.getCanonicalLocales(locale)[0] ?? 'en'
  } catch {
    diagnostics.at('locale').report('bad-locale', { text: locale })
    return 'en'
  }
}

/**
 * Measures, parameters and fields share one namespace, and a name must be usable in expressions.
 */
function checkNamespace(spec: ReportSpec, diagnostics: Diagnostics): void {
  const owner = new Map<string, string>()
  const claim = (names: readonly string[], what: string, at: Diagnostics): void => {
    for (const name of names) {
      const path = at.at(name)
      const by = owner.get(name)
      if (by !== undefined) path.report('name-taken', { name, by })
      else owner.set(name, what)
      if (
        !/^\p{L}[\p{L}\p{N}_]*$/u.test(name) ||
        RESERVED.has(name) ||
        name === 'value' ||
        name === 'all' ||
        name === 'row'
      )
        path.report('bad-name', { name })
    }
  }
  for (const [source, fields] of Object.entries(spec.fields ?? {}))
    claim(Object.keys(fields), 'field', diagnostics.at('fields', source))
  claim(Object.keys(spec.parameters ?? {}), 'parameter', diagnostics.at('parameters'))
  claim(Object.keys(spec.measures ?? {}), 'measure', diagnostics.at('measures'))
}

function boundConditions(
  text: string | undefined,
  setting: Setting,
  path: Diagnostics,
): { bound: Bound; text: string }[] {
  if (text === undefined) return []
  const result = bindAs(text, setting, 'condition', 'where')
  if (!Array.isArray(result)) return [{ bound: result.bound, text: printExpression(result.tree) }]
  path.take(result)
  return []
}

/** The keys of exhibits and rules: time dimensions, then columns. */
function dimensionNames(columns: Names, date: string | undefined): Names {
  return {
    find(name, source) {
      if (source === undefined && date !== undefined && isTimeUnit(name))
        return {
          ref: { kind: 'key', name },
          type: isPeriodUnit(name) ? { kind: 'date' } : { kind: 'number', unit: { is: 'none' } },
        }
      return columns.find(name, source)
    },
    all: () => [...columns.all(), ...(date === undefined ? [] : [...PERIOD_UNITS, ...CYCLES])],
  }
}

function exhibitNames(spec: ReportSpec): string[] {
  return spec.exhibits.map((exhibit, i) => exhibit?.name ?? `exhibit-${i + 1}`)
}

/** If a number is needed and a column is mostly numbers, the other values are reported. */
function explained(p: Problem, read: ReadonlyMap<string, SourceTable>): Problem {
  const { text, from, to } = p.place
  if (p.code !== 'wrong-type' || text === undefined || from === undefined) return p
  const [column, source = [...read.keys()][0]] = text.slice(from, to).split('.').reverse()
  const nearly = read.get(source)?.nearly.get(column)
  return nearly === undefined ? p : problem('not-numbers', { column, ...nearly }, p.place)
}
