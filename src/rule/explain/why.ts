import { numbers } from '../../expression/evaluate.js'
import { type CellStyle, CHANNELS, type Channel, type Effect } from '../../style/cell-style.js'
import { statusLabel } from '../../style/status.js'
import { joinWithAnd, withArticle } from '../kinds/limit-text.js'
import { levelsText } from '../levels.js'
import type { BoundRule, Cells, Finding, RuleResult } from '../model.js'
import { ROW } from '../row.js'
import { meantFor, populationSizes, unreached } from '../run/run.js'
import { createPhrases, effectText, type PhraseContext } from './phrases.js'

/** The explanation of a cell. */
export interface Why {
  measure: string
  /** Null if it is missing, or not a number. */
  value: number | null
  text: string
  /**
   * Why the value is missing, in words; absent if it has a value, or if the sources were not
   * searched.
   */
  missing?: string
  rules: WhyRule[]
  channels: WhyChannel[]
  /** Remarks besides the rules: no rule paints the cell, a text colour was replaced. */
  remarks: string[]
  /** The value, a sentence for each rule, and the remarks. */
  sentences: string[]
}

/**
 * Why a rule does not apply to a cell: it is paused; it is for other exhibits, keys or levels;
 * names are unknown there; it paints none of these cells; or the period of the cell is unfinished.
 */
export type SkipReason = 'paused' | 'exhibit' | 'grain' | 'level' | 'unknown' | 'target' | 'unfinished'

/** One rule at the cell. */
export interface WhyRule {
  rule: string
  title: string
  /** Why it does not apply; null if it does. */
  skipped: { because: SkipReason; text: string } | null
  /** Its result as one sentence. */
  sentence: string
  /** The deciding value, if it is not that of the cell. */
  judged: string | null
  findings: Finding[]
  /** The cells that it is compared with; null if limits do not depend on others. */
  population: { text: string; size: number } | null
  /** Its result in words; null for none. */
  gave: string | null
  won: Channel[]
  /** Channels that another rule had set before; `to` is that rule. */
  lost: { channel: Channel; to: string }[]
}

/** The rule that set one channel. */
export interface WhyChannel {
  channel: Channel
  value: string
  by: string
  /** Later rules for the same channel, in order. */
  over: string[]
}

export interface WhyContext {
  cells: Cells
  /** In order of precedence, paused ones included. */
  rules: readonly BoundRule[]
  results: readonly RuleResult[]
  facts: PhraseContext
}

/** Explains one cell of a measure; `look` is its style, `text` its value as shown. */
export function explainCell(
  { cells, rules, results, facts }: WhyContext,
  measure: string,
  cell: number,
  look: CellStyle,
  text: string,
): Why {
  const ofMeasure = results.filter((result) => result.measure === measure)
  const sealedBy = sealing(ofMeasure, cell)
  const whyRules = rules
    .filter((rule) => rule.measure === measure || rule.measure === ROW)
    .map((rule): WhyRule => {
      const result = ofMeasure.find((result) => result.rule === rule)
      const outcome =
        result === undefined || cells.unfinished?.(rule)?.[cell] === 1
          ? skippedRule(rule, cells, result !== undefined)
          : ranRule(result, cell, { look, sealedBy, facts, inOrder: ofMeasure })
      return { ...outcome, sentence: ruleOutcome(outcome, result?.effects[result.classes[cell]]) }
    })
  const channels = CHANNELS.flatMap((channel): WhyChannel[] => {
    const by = look.paintedBy[channel]
    if (by === undefined || look[channel] === null) return []
    const over = whyRules.filter((rule) => rule.lost.some((lost) => lost.channel === channel)).map((rule) => rule.rule)
    return [{ channel, value: channelText(look, channel, facts), by, over }]
  })
  const column = cells.table.columns.get(measure)?.column
  const value = column?.kind === 'number' && !Number.isNaN(column.values[cell]) ? column.values[cell] : null
  const remarks = remarksOf(whyRules, facts, look)
  // In a plain table a value is missing because the row has none; in a report there are other
  // reasons.
  const missing = cells.exhibit === undefined ? 'missing: the row has no value' : 'missing'
  const first = `${facts.label(measure)} is ${text === '' ? missing : text}.`
  const sentences = [first, ...whyRules.map((rule) => rule.sentence), ...remarks]
  return { measure, value, text, rules: whyRules, channels, remarks, sentences }
}

/** The first rule with `final` that paints the cell. */
function sealing(results: readonly RuleResult[], cell: number): string | undefined {
  return results.find(({ rule, classes }) => rule.final && classes[cell] >= 0)?.rule.name
}

type RuleOutcome = Omit<WhyRule, 'sentence'>

const PLAIN = { judged: null, findings: [], population: null, gave: null, won: [], lost: [] }

function skippedRule(rule: BoundRule, cells: Cells, unfinished: boolean): RuleOutcome {
  return { rule: rule.name, title: rule.title, skipped: unfinished ? UNFINISHED : skipReason(rule, cells), ...PLAIN }
}

const UNFINISHED = { because: 'unfinished', text: 'the period of this cell is unfinished' } as const

function skipReason(rule: BoundRule, cells: Cells): NonNullable<WhyRule['skipped']> {
  const judgedCells = rule.target === 'row' ? (cells.rows?.cells ?? cells) : cells
  if (rule.paused) return { because: 'paused', text: 'it is paused' }
  if (rule.only !== undefined && judgedCells.exhibit !== undefined && !rule.only.includes(judgedCells.exhibit))
    return { because: 'exhibit', text: `it is for ${joinWithAnd(rule.only)} only` }
  if (!rule.grain.every((key) => judgedCells.keys.includes(key)))
    return { because: 'grain', text: `it is for each ${joinWithAnd(rule.grain)}, and this cell is not one of these` }
  if (!meantFor(rule, cells)) return { because: 'level', text: `it is for ${levelsText(rule.levels)} only` }
  const unknown = unreached(rule, cells)
  if (unknown !== undefined) return { because: 'unknown', text: unknown }
  return { because: 'target', text: 'it does not paint this cell' }
}

interface Ran {
  look: CellStyle
  sealedBy: string | undefined
  facts: PhraseContext
  inOrder: readonly RuleResult[]
}

function ranRule(result: RuleResult, cell: number, { look, sealedBy, facts, inOrder }: Ran): RuleOutcome {
  const { rule, classes, effects: givens, judged, fit } = result
  const at = result.judgedAt(cell)
  const telling = createPhrases(rule, facts)
  const findings = rule.kind.explain(rule.plan, fit, judged, at, telling)
  const c = classes[cell]
  let population: WhyRule['population'] = null
  if (rule.readsPopulation) {
    const g = judged.groups[at]
    const size = populationSizes(judged)[g]
    population = { text: populationText(rule, size, facts), size }
    if (c < 0 && size < 2) findings.push({ text: 'fewer than two values can be compared', conclusion: true })
  }
  if (c < 0 && rule.where !== undefined) {
    const holds = judged.run(rule.where.bound)
    const one = holds.kind === 'condition' ? holds.values[holds.constant ? 0 : at] : -1
    if (one !== 1)
      return {
        rule: rule.name,
        title: rule.title,
        skipped: null,
        judged: null,
        findings: [
          {
            text: `its condition ${telling.words(rule.where.bound, rule.where.text)} does not hold here`,
            holds: one < 0 ? null : false,
            conclusion: true,
          },
        ],
        population,
        gave: null,
        won: [],
        lost: [],
      }
  }
  const given: Effect | undefined = c < 0 ? undefined : givens[c]
  const won: Channel[] = []
  const lost: WhyRule['lost'] = []
  const place = inOrder.indexOf(result)
  const sealedBefore = sealedBy !== undefined && inOrder.findIndex((result) => result.rule.name === sealedBy) < place
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

/**
 * The cells that a cell was compared with: `the 36 cells shown`, `the 5 cells shown of the same
 * region`.
 */
function populationText(rule: BoundRule, size: number, facts: PhraseContext): string {
  const { words } = createPhrases(rule, facts)
  const cells = size === 1 ? 'cell' : 'cells'
  const all =
    rule.amongUnfiltered === true
      ? `the ${size.toLocaleString('en')} ${cells} there are, whatever is filtered`
      : `the ${size.toLocaleString('en')} ${cells} shown`
  const keys = joinWithAnd(rule.within.map((key) => facts.label(key)))
  const among = rule.among === undefined ? '' : ` where ${words(rule.among.bound, rule.among.text)}`
  return `${all}${keys === '' ? '' : ` of the same ${keys}`}${among}`
}

/** A channel of a style in words. */
export function channelText(look: CellStyle, channel: Channel, facts: PhraseContext): string {
  if (channel === 'fill' || channel === 'ink') return facts.color(look[channel] ?? 0)
  if (channel === 'status') return statusLabel(facts.statuses, look.status ?? '')
  if (channel === 'bar') return `${look.bar?.name} ${look.bar?.finish}`
  if (channel === 'picture') return 'a picture'
  return String(look[channel])
}

/** The result of a rule as one sentence. */
function ruleOutcome(rule: RuleOutcome, given: Effect | undefined): string {
  if (rule.skipped !== null) return `${rule.title}: not applied, ${rule.skipped.text}.`
  const judged = rule.judged === null ? [] : [`judged by ${rule.judged}`]
  const tests = rule.findings.filter(({ conclusion }) => conclusion !== true).map(({ text }) => text)
  const steps = [...judged, ...tests]
  if (rule.population !== null) steps.push(`compared with ${rule.population.text}`)
  const concluded = rule.findings.flatMap(({ conclusion, text }) => (conclusion === true ? [text] : []))
  const status = given?.status ?? null
  const gave =
    rule.gave === null
      ? 'it gets nothing from this rule'
      : status === null
        ? `it gets ${(given?.bar ?? null) === null ? rule.gave : withArticle(rule.gave)}`
        : `it is “${rule.gave}”`
  const conclusion = concluded.length === 0 ? gave : `${concluded.join('; ')}, so ${gave}`
  const start = steps.length === 0 ? '' : `${steps.join('; ')}. `
  return `${rule.title}: ${start}${steps.length === 0 ? conclusion : upperFirst(conclusion)}.${settledText(rule)}`
}

/** Which channels a rule set: `This sets fill and icon; weight is set by best.` */
function settledText({ won, lost, gave }: RuleOutcome): string {
  if (gave === null) return ''
  const losses = [...new Set(lost.map(({ to }) => to))].map((to) => {
    const channels = lost.filter((one) => one.to === to).map(({ channel }) => CHANNEL_TEXTS[channel])
    return `${joinWithAnd(channels)} ${channels.length === 1 ? 'is' : 'are'} set by ${to}`
  })
  const set = won.map((channel) => CHANNEL_TEXTS[channel])
  if (set.length === 0 && losses.length === 0) return ''
  const first = set.length === 0 ? 'This sets nothing' : `This sets ${joinWithAnd(set)}`
  return ` ${[first, ...losses].join('; ')}.`
}

/** The names of channels for readers. */
const CHANNEL_TEXTS: Readonly<Record<Channel, string>> = {
  status: 'status',
  fill: 'fill',
  ink: 'text colour',
  weight: 'weight',
  icon: 'icon',
  iconAfter: 'icon after the number',
  bar: 'bar',
  flag: 'flag',
  picture: 'picture',
  hide: 'what is hidden',
}

function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

function remarksOf(rules: readonly WhyRule[], facts: PhraseContext, look: CellStyle): string[] {
  const remarks = rules.length === 0 ? ['No rule paints it.'] : []
  if (look.unread !== undefined)
    remarks.push(
      `The text colour ${facts.color(look.unread.ink)} of ${look.unread.rule} is not readable on this fill and was replaced by ${facts.color(look.ink ?? 0)}.`,
    )
  return remarks
}
