import type { Names } from '../../expression/bind.js'
import { type Bound, operandsOf } from '../../expression/bound.js'
import { parseFormat } from '../../format/parse.js'
import { Diagnostics } from '../../problem/diagnostics.js'
import type { Problem } from '../../problem/problem.js'
import type { NamedParameter } from '../../rule/bind/parameters.js'
import type { MeasureFacts } from '../../rule/bind/vocabulary.js'
import type { MeasureEntry } from '../../spec/sources.js'
import { bindMeasures, type Measure, type MeasureSpec } from '../../summary/plan/measures.js'
import type { BoundSource } from '../model/bound.js'

/** Binds the measures of a report in the order of their dependencies. */
export function boundMeasures(
  entries: Readonly<Record<string, MeasureEntry>>,
  columns: Names,
  parameters: ReadonlyMap<string, NamedParameter>,
  diagnostics: Diagnostics,
  setting: Parameters<typeof bindMeasures>[4],
): Map<string, Measure> {
  const specs: Record<string, MeasureSpec> = {}
  for (const [name, entry] of Object.entries(entries)) {
    const whole = typeof entry === 'string' ? { formula: entry } : entry
    const format = whole.format === undefined ? undefined : parseFormat(whole.format)
    if (format !== undefined && 'code' in format) diagnostics.at('measures', name, 'format').take([format])
    Object.defineProperty(specs, name, { value: whole, enumerable: true })
  }
  const problems: Problem[] = []
  const names: Names = {
    find(name, source) {
      const parameter = source === undefined ? parameters.get(name) : undefined
      return parameter && { ref: { kind: 'parameter', name }, type: { kind: 'number', unit: parameter.unit } }
    },
    all: () => [...parameters.keys()],
  }
  const measures = bindMeasures(specs, columns, names, new Diagnostics(problems, ['measures']), setting)
  diagnostics.problems.push(...problems.map((p) => atPlainEntry(p, entries)))
  return measures
}

/** A measure that is a plain text has no key `formula` for the place. */
function atPlainEntry(p: Problem, entries: Readonly<Record<string, MeasureEntry>>): Problem {
  const [root, name, key] = p.place.path ?? []
  if (key !== 'formula' || typeof entries[String(name)] !== 'string') return p
  return { ...p, place: { ...p.place, path: [root, name] } }
}

/** The facts about measures for rules and sentences. */
export function measureFactsOf(
  entries: Readonly<Record<string, MeasureEntry>>,
  measures: ReadonlyMap<string, Measure>,
): Map<string, MeasureFacts> {
  const facts = new Map<string, MeasureFacts>()
  for (const name of Object.keys(entries)) {
    const measure = measures.get(name)
    const measureFacts: MeasureFacts = {
      label: measure?.label ?? name,
      type: measure === undefined ? { kind: 'unknown' } : { kind: 'number', unit: measure.unit },
    }
    const entry = entries[name]
    const written = typeof entry === 'string' ? undefined : entry.better
    const better = measure === undefined ? written : measure.better
    if (better !== undefined) measureFacts.better = better
    if (measure?.format !== undefined) measureFacts.format = measure.format
    facts.set(name, measureFacts)
  }
  return facts
}

/** `prorated` divides periods, so the sources that it reads have rows by periods. */
export function checkProrated(
  sources: readonly BoundSource[],
  measures: ReadonlyMap<string, Measure>,
  diagnostics: Diagnostics,
): void {
  const [home] = sources
  for (const { name, bound } of measures.values()) {
    const daily = new Set<string>()
    const always = new Set<string>()
    const visit = (part: Bound, inside: boolean): void => {
      if (part.op === 'aggregate') {
        const source = sources.find((source) => source.name === (part.source ?? home?.name))
        if (inside && source?.date !== undefined && source.grain === 'day') daily.add(source.name)
        if (inside && source?.lookup === 'always' && source.per === undefined) always.add(source.name)
      } else if (part.op === 'moved') visit(part.of, inside || part.step.kind === 'finished')
      else if (part.op === 'name' && part.ref.kind === 'measure') {
        const measure = measures.get(part.ref.name)
        if (inside && measure !== undefined) visit(measure.bound, inside)
      } else for (const operand of operandsOf(part)) visit(operand, inside)
    }
    visit(bound, false)
    for (const source of daily) diagnostics.at(name).report('prorated-daily', { source })
    for (const source of always) diagnostics.at(name).report('prorated-always', { source })
  }
}
