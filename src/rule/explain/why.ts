import { numbers } from '../../expression/evaluate.js'
import { type CellStyle, CHANNELS, type Channel, type Effect } from '../../style/cell-style.js'
import { statusLabel } from '../../style/status.js'
import { joinWithAnd } from '../kinds/limit-text.js'
import { levelsText } from '../levels.js'
import type { BoundRule, Cells, Finding, RuleResult } from '../model.js'
import { ROW } from '../row.js'
import { meantFor, populationSizes, unreached } from '../run/run.js'
import { createPhrases, effectText, type PhraseContext } from './phrases.js'

/** Why a cell looks as it does. */
export interface Why {
  measure: string
  /** Null where it is missing, or no number. */
  value: number | null
  text: string
  /**
   * Why the value is missing, in words; absent where there is one, and where nobody looked into the
   * sources.
   */
  missing?: string
  rules: WhyRule[]
  channels: WhyChannel[]
  sentences: string[]
}

/** What one rule did at the cell. */
export interface WhyRule {
  rule: string
  title: string
  /** Why it was not applied here at all; null where it was. */
  skipped: string | null
  /** The value that decided, where it is another than the cell's own. */
  judged: string | null
  findings: Finding[]
  /** With whom the cell was compared; null where limits do not depend on others. */
  population: { text: string; size: number } | null
  /** What it gave, in words; null for nothing. */
  gave: string | null
  won: Channel[]
  /** Channels that it set and another rule had set before; `to` decided. */
  lost: { channel: Channel; to: string }[]
}

/** Who decided one channel. */
export interface WhyChannel {
  channel: Channel
  value: string
  by: string
  /** Rules that wanted it, too, in their order. */
  over: string[]
}

export interface WhyContext {
  cells: Cells
  /** In order of precedence, paused ones among them. */
  rules: readonly BoundRule[]
  results: readonly RuleResult[]
  facts: PhraseContext
}

/** Explains one cell of a measure; `look` is how it was painted, `text` its value as shown. */
export function explainCell(
  { cells, rules, results, facts }: WhyContext,
  measure: string,
  cell: number,
  look: CellStyle,
  text: string,
): Why {
  const own = results.filter((result) => result.measure === measure)
  const sealedBy = sealing(own, cell)
  const told = rules
    .filter((rule) => rule.measure === measure || rule.measure === ROW)
    .map((rule) => {
      const result = own.find((found) => found.rule === rule)
      return result === undefined
        ? skippedRule(rule, cells)
        : ranRule(result, cell, { look, sealedBy, facts, inOrder: own })
    })
  const channels = CHANNELS.flatMap((channel): WhyChannel[] => {
    const by = look.paintedBy[channel]
    if (by === undefined || look[channel] === null) return []
    const over = told.filter((rule) => rule.lost.some((lost) => lost.channel === channel)).map((rule) => rule.rule)
    return [{ channel, value: channelText(look, channel, facts), by, over }]
  })
  const column = cells.table.columns.get(measure)?.column
  const value = column?.kind === 'number' && !Number.isNaN(column.values[cell]) ? column.values[cell] : null
  const why = { measure, value, text, rules: told, channels }
  // In a plain table a value is missing because the row has none; in a report there are other
  // reasons.
  const missing = cells.exhibit === undefined ? 'missing: the row has no value' : 'missing'
  return { ...why, sentences: sentencesOf(why, facts, look, missing) }
}

/** The first rule in order that sealed the cell. */
function sealing(results: readonly RuleResult[], cell: number): string | undefined {
  return results.find(({ rule, classes }) => rule.final && classes[cell] >= 0)?.rule.name
}

const PLAIN = { judged: null, findings: [], population: null, gave: null, won: [], lost: [] }

function skippedRule(rule: BoundRule, cells: Cells): WhyRule {
  const own = rule.target === 'row' ? (cells.rows?.cells ?? cells) : cells
  let skipped = 'it does not reach this cell'
  if (rule.paused) skipped = 'it is paused'
  else if (rule.only !== undefined && own.exhibit !== undefined && !rule.only.includes(own.exhibit))
    skipped = `it is for ${joinWithAnd(rule.only)} only`
  else if (!rule.grain.every((key) => own.keys.includes(key)))
    skipped = `it is meant for each ${joinWithAnd(rule.grain)}, and this cell is not split so`
  else if (!meantFor(rule, cells)) skipped = `it is for ${levelsText(rule.levels)} only`
  else skipped = unreached(rule, cells) ?? skipped
  return { rule: rule.name, title: rule.title, skipped, ...PLAIN }
}

interface Ran {
  look: CellStyle
  sealedBy: string | undefined
  facts: PhraseContext
  inOrder: readonly RuleResult[]
}

function ranRule(result: RuleResult, cell: number, { look, sealedBy, facts, inOrder }: Ran): WhyRule {
  const { rule, classes, effects: givens, judged, fit } = result
  const at = result.judgedAt(cell)
  const telling = createPhrases(rule, facts)
  const findings = rule.kind.explain(rule.plan, fit, judged, at, telling)
  const c = classes[cell]
  let population: WhyRule['population'] = null
  if (rule.readsPopulation) {
    const g = judged.groups[at]
    const size = populationSizes(judged)[g]
    const among = rule.among === undefined ? '' : ` where ${rule.among.text}`
    const own = `its own ${joinWithAnd(rule.within.map((key) => facts.label(key)))}`
    const all = rule.amongUnfiltered === true ? 'everything, whatever is filtered' : 'all shown'
    const group = rule.within.length === 0 ? all : rule.amongUnfiltered === true ? `${own} among ${all}` : own
    population = { text: `${group}${among}`, size }
    if (c < 0 && size < 2) findings.push({ text: 'fewer than two values can be compared, so it leaves them alone' })
  }
  if (c < 0 && rule.where !== undefined) {
    const holds = judged.run(rule.where.bound)
    const one = holds.kind === 'condition' ? holds.values[holds.constant ? 0 : at] : -1
    if (one !== 1)
      findings.push({ text: `its condition ${rule.where.text} does not hold here`, holds: one < 0 ? null : false })
  }
  const given: Effect | undefined = c < 0 ? undefined : givens[c]
  const won: Channel[] = []
  const lost: WhyRule['lost'] = []
  const place = inOrder.indexOf(result)
  const sealedBefore = sealedBy !== undefined && inOrder.findIndex((own) => own.rule.name === sealedBy) < place
  for (const channel of CHANNELS) {
    if (look.paintedBy[channel] === rule.name) won.push(channel)
    else if (given !== undefined && given[channel] !== null)
      lost.push({ channel, to: sealedBefore ? (sealedBy ?? '') : (look.paintedBy[channel] ?? sealedBy ?? '') })
  }
  const values =
    rule.judge === undefined || judged.value.kind !== 'number' ? undefined : numbers(judged.value, judged.length)
  return {
    rule: rule.name,
    title: rule.title,
    skipped: null,
    judged: values === undefined ? null : telling.print(values[at]) || 'missing',
    findings,
    population,
    gave: given === undefined ? null : effectText(given, facts),
    won,
    lost,
  }
}

/** A channel of a look in words. */
export function channelText(look: CellStyle, channel: Channel, facts: PhraseContext): string {
  if (channel === 'fill' || channel === 'ink') return facts.color(look[channel] ?? 0)
  if (channel === 'status') return statusLabel(facts.statuses, look.status ?? '')
  if (channel === 'bar') return `${look.bar?.name} ${look.bar?.finish}`
  if (channel === 'picture') return 'a picture'
  return String(look[channel])
}

function sentencesOf(why: Omit<Why, 'sentences'>, facts: PhraseContext, look: CellStyle, missing: string): string[] {
  const sentences = [`${facts.label(why.measure)} is ${why.text === '' ? missing : why.text}.`]
  for (const rule of why.rules) {
    if (rule.skipped !== null) {
      sentences.push(`${rule.title}: not applied, ${rule.skipped}.`)
      continue
    }
    const judged = rule.judged === null ? '' : `judged by ${rule.judged}; `
    const found = rule.findings.map((finding) => finding.text).join('; ')
    const among =
      rule.population === null ? '' : ` Compared with ${rule.population.text}, ${rule.population.size} values.`
    const gave = rule.gave === null ? 'nothing' : rule.gave
    const lost = [...new Set(rule.lost.map(({ to }) => to))].map(
      (to) => `${joinWithAnd(rule.lost.filter((one) => one.to === to).map(({ channel }) => channel))} lost to ${to}`,
    )
    const outcome =
      rule.won.length > 0 ? `it decides ${joinWithAnd(rule.won)}` : rule.gave === null ? '' : 'it decides nothing'
    const end = [outcome, ...lost].filter((text) => text !== '').join(', ')
    sentences.push(`${rule.title}: ${judged}${found}. So it gives ${gave}${end === '' ? '' : `; ${end}`}.${among}`)
  }
  if (why.rules.length === 0) sentences.push('No rule paints it.')
  if (look.unread !== undefined)
    sentences.push(
      `The ink ${facts.color(look.unread.ink)} of ${look.unread.rule} could not be read on this fill and gave way to ${facts.color(look.ink ?? 0)}.`,
    )
  return sentences
}
