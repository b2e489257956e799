import { harmless } from '../../problem/print.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { type PlacedFinding, proofReport } from '../../proof/report.js'
import { wrap } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'
import { diffLines, type Fixed, fixLines, fixReport, writeFixed } from './fixed.js'

interface ProofOptions extends AskOptions {
  all?: boolean
  fix?: boolean
  dryRun?: boolean
}

/** `acuarela proof REPORT`: prints findings with their fixes. Returns whether there were none. */
export async function proofCommand(report: string, options: ProofOptions, io: Io): Promise<boolean> {
  if (options.dryRun === true && options.fix !== true) throw new ProblemError([problem('dry-run-alone', {})])
  const fixed = options.fix === true ? await fixReport(report, options, io) : undefined
  const findings = fixed?.findings ?? (await found(report, options, io))
  if (fixed !== undefined && options.dryRun !== true && fixed.after !== fixed.before)
    await writeFixed(report, fixed, io)
  const open = findings.filter((finding) => finding.ignored === null)
  const shown = options.all === true ? findings : open
  if (options.json === true) {
    printJson(
      fixed === undefined ? shown : { fixes: fixed.fixes, written: options.dryRun !== true, findings: shown },
      io,
    )
    return open.length === 0
  }
  const ink = createInk(io.colors(options.color))
  const lines = fixed === undefined ? [] : fixedLines(fixed, report, options.dryRun === true, ink)
  lines.push(...shown.flatMap((finding) => findingLines(finding, report, ink, io.width())))
  const quiet = findings.length - open.length
  const silenced = quiet === 0 ? '' : `, ${quiet} ignored`
  lines.push(
    open.length === 0
      ? `nothing found${silenced}`
      : `${open.length} ${open.length === 1 ? 'finding' : 'findings'}${silenced}; ignore one with proof: { ignore: [...] } and a reason`,
  )
  io.out(`${lines.join('\n')}\n`)
  return open.length === 0
}

async function found(report: string, options: ProofOptions, io: Io): Promise<readonly PlacedFinding[]> {
  const { decided, file } = await decide(report, options, io)
  return proofReport(decided, file)
}

/** What was fixed, or with `--dry-run` what the file would change. */
function fixedLines(fixed: Fixed, report: string, isDry: boolean, ink: Ink): string[] {
  const { fixes } = fixed
  const count = `${fixes.length} ${fixes.length === 1 ? 'finding' : 'findings'}`
  if (fixes.length === 0)
    return fixed.findings.some(({ ignored }) => ignored === null) ? ['No finding can be fixed by itself.', ''] : []
  const end = isDry
    ? `${count} would be fixed; ${harmless(report)} is as it was.`
    : `${count} fixed in ${harmless(report)}.`
  return [...fixLines(fixes, ink), '', ...(isDry ? [...diffLines(fixed, ink), ''] : []), end, '']
}

function findingLines(
  { code, at, message, fix: out, line, file, ignored: silenced, edits }: PlacedFinding,
  report: string,
  ink: Ink,
  width: number,
): string[] {
  const place = line === undefined ? '' : `${file ?? report}:${line}`
  const lines = [
    `${ink.strong(code)}  ${harmless(at)}${place === '' ? '' : `  ${ink.quiet(harmless(place))}`}`,
    ...wrap(harmless(message), width, '    '),
    ...wrap(
      harmless(silenced === null ? `${out}${edits === undefined ? '' : ' (--fix)'}` : `ignored: ${silenced}`),
      width,
      '    → ',
      '      ',
    ),
    '',
  ]
  return lines
}
