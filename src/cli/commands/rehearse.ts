import { harmless } from '../../problem/print.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { type RehearsedRule, rehearseReport, withoutTrial } from '../../report/inspect/rehearse.js'
import type { Trial } from '../../rule/explain/rehearse.js'
import { iconOf } from '../../style/cell-style.js'
import { glyph } from '../../view/model/glyph.js'
import { padEnd, padStart, widthOf } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'

interface RehearseOptions extends AskOptions {
  rule?: string
  value?: string[]
}

/**
 * `acuarela rehearse REPORT`: tries each rule on values around its limits, zero and missing, and
 * draws the results.
 */
export async function rehearseCommand(report: string, options: RehearseOptions, io: Io): Promise<void> {
  const values = (options.value ?? []).map(readValue)
  const { decided } = await decide(report, options, io)
  const rehearsed = rehearseReport(decided, options.rule, values)
  if (options.json === true) {
    printJson(
      rehearsed.map(({ trials, cell: _, ...rest }) => ({
        ...rest,
        trials: trials.map(({ style: look, ...trial }) => ({ ...trial, status: look.status })),
      })),
      io,
    )
    return
  }
  const ink = createInk(io.colors(options.color))
  if (rehearsed.length > 0)
    io.out(`${rehearsed.flatMap((rule, i) => [...(i === 0 ? [] : ['']), ...rehearsalLines(rule, ink)]).join('\n')}\n`)
  const borrowed = withoutTrial(decided, options.rule)
  for (const { title, cells } of borrowed)
    io.err(
      `${harmless(title)} takes its style from the data, so it has no limits to try; it paints ${cells} ${cells === 1 ? 'cell' : 'cells'}\n`,
    )
  if (rehearsed.length === 0 && borrowed.length === 0) io.err('no rule applies to a cell of this report\n')
}

/** A number, a percent, or a text for a rule that judges texts. */
function readValue(text: string): number | string {
  const match = /^\s*([+-]?(?:\d+(?:\.\d+)?|\.\d+)(?:e[+-]?\d+)?)\s*(%?)\s*$/i.exec(text)
  if (match !== null) return match[2] === '%' ? Number(match[1]) / 100 : Number(match[1])
  if (text.trim() === '') throw new ProblemError([problem('bad-trial', { text: '(nothing)', what: 'a value' })])
  return text
}

function rehearsalLines({ rule, title, of, exhibit, place, trials }: RehearsedRule, ink: Ink): string[] {
  const width = Math.max(...trials.map(({ text }) => widthOf(text)), 7)
  const gave = Math.max(...trials.map((trial) => widthOf(gaveText(trial))), 5)
  return [
    `${ink.strong(harmless(title))}${title === rule ? '' : `  ${ink.quiet(harmless(rule))}`}`,
    ink.quiet(harmless(`${of} in ${exhibit}${place === '' ? '' : `, as if it were ${ownerText(place)} value`}`)),
    ...trials.map((trial) => {
      const sign = iconOf(trial.style)
      const icon = sign === null ? '  ' : padEnd(glyph(sign), 2)
      const shown = ` ${icon}${padStart(harmless(trial.text), width)} `
      return `  ${ink.cell(shown, trial.style)}  ${padEnd(harmless(gaveText(trial)), gave)}  ${ink.quiet(harmless(trial.what))}`
    }),
  ]
}

/** `Wren Hollow’s`, `the total’s`. */
function ownerText(place: string): string {
  return `${place === 'Total' ? 'the total' : place}’s`
}

function gaveText({ gave }: Trial): string {
  return gave ?? 'plain'
}
