import { harmless } from '../../problem/print.js'
import { type CoveredCell, coveredCells } from '../../report/inspect/covered-cells.js'
import { type RulePlace, type RuleTold, tellRules } from '../../report/inspect/rules.js'
import { padStart, table, wrap } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'

interface RulesOptions extends AskOptions {
  brief?: boolean
  /** A name, or true for every rule. */
  cells?: string | true
}

/** `acuarela rules REPORT`: prints each rule as a sentence with an explanation and counts. */
export async function rulesCommand(report: string, options: RulesOptions, io: Io): Promise<void> {
  const { decided } = await decide(report, options, io)
  if (options.cells !== undefined) {
    const cells = coveredCells(decided, options.cells === true ? undefined : options.cells)
    if (options.json === true) printJson(cells, io)
    else io.out(`${cellLines(cells, createInk(io.colors(options.color))).join('\n')}\n`)
    return
  }
  const rules = tellRules(decided)
  if (options.json === true) {
    printJson(rules, io)
    return
  }
  if (options.brief === true) {
    io.out(rules.map(({ sentence }) => `${harmless(sentence)}\n`).join(''))
    if (rules.length === 0) io.err('the report has no rules\n')
    return
  }
  const ink = createInk(io.colors(options.color))
  const lines = rules.flatMap((rule, i) => [...(i === 0 ? [] : ['']), ...ruleLines(rule, i, ink, io.width())])
  io.out(`${lines.join('\n')}\n`)
  if (rules.length === 0) io.err('the report has no rules\n')
}

/** The cells of each rule: their value, the part that they meet, and who set its channels. */
function cellLines(cells: readonly CoveredCell[], ink: Ink): string[] {
  if (cells.length === 0) return ['No rule was applied to a cell.']
  const rules = [...new Set(cells.map(({ rule }) => rule))]
  return rules.flatMap((rule, i) => {
    const own = cells.filter((cell) => cell.rule === rule)
    const rows = table(
      own.map(({ exhibit, measure, level, name, text, part, won, lost }) => [
        harmless(`${exhibit}.${measure}`),
        level === 'details' ? '' : harmless(level),
        harmless(name),
        harmless(text),
        harmless(part ?? 'no part'),
        part === null
          ? ''
          : won.length === 0
            ? 'set by earlier rules'
            : lost.length === 0
              ? 'painted'
              : 'partly painted',
      ]),
      new Set([3]),
    )
    const title = `${rule}: ${own.length.toLocaleString('en')} ${own.length === 1 ? 'cell' : 'cells'}`
    return [
      ...(i === 0 ? [] : ['']),
      ink.strong(harmless(title)),
      ...rows.map((row) => `  ${row.join('  ')}`.trimEnd()),
    ]
  })
}

/** A rule as it is listed: its title, its sentence, what it means, and where it was applied. */
export function ruleLines(rule: RuleTold, i: number, ink: Ink, width: number): string[] {
  const head = `${padStart(String(i + 1), 2)}  ${ink.strong(harmless(rule.title))}${rule.title === rule.rule ? '' : `  ${ink.quiet(harmless(rule.rule))}`}`
  const lines = [
    head,
    ...sentenceLines(harmless(rule.sentence), width),
    ...wrap(harmless(rule.explanation), width, '      '),
  ]
  for (const place of rule.places)
    lines.push(...wrap(rulePlaceText(place, rule.readsPopulation), width, '      · ', '        '))
  for (const { exhibit, level, why } of rule.skipped)
    lines.push(...wrap(harmless(`${exhibit}, ${level}: not applied, ${why}`), width, '      · ', '        '))
  if (rule.places.length === 0 && rule.skipped.length === 0)
    lines.push(`      · ${rule.paused ? 'paused, so it paints nothing' : 'no exhibit shows what it paints'}`)
  return lines
}

/** Wraps a sentence; an arrow stays on the line of the text before it. */
function sentenceLines(text: string, width: number): string[] {
  const held = text.replaceAll(' →', '\u00a0→')
  return wrap(held, width, '    ').map((line) => line.replaceAll('\u00a0', ' '))
}

/** Limits that do not depend on the data are in the explanation already. */
function rulePlaceText(
  { exhibit, level, measure, covered, painted, lost, limits }: RulePlace,
  worked: boolean,
): string {
  const counts = [`${covered} ${covered === 1 ? 'cell' : 'cells'}`, `${painted} painted`]
  if (lost > 0) counts.push(`${lost} lost to earlier rules`)
  const limitsText = limits.length === 0 || !worked ? '' : `: ${limits.join(' · ')}`
  return harmless(`${exhibit}.${measure === '(row)' ? 'row' : measure}, ${level}: ${counts.join(', ')}${limitsText}`)
}
