import { harmless } from '../../problem/print.js'
import { type PlacedFinding, proofReport } from '../../proof/report.js'
import { wrap } from '../../view/terminal/columns.js'
import { createInk, type Ink } from '../../view/terminal/ink.js'
import { type AskOptions, decide, printJson } from '../ask.js'
import type { Io } from '../io.js'

interface ProofOptions extends AskOptions {
  all?: boolean
}

/** `acuarela proof REPORT`: prints findings with their fixes. Returns whether there were none. */
export async function proofCommand(report: string, options: ProofOptions, io: Io): Promise<boolean> {
  const { decided, file } = await decide(report, options, io)
  const findings = await proofReport(decided, file)
  const open = findings.filter((finding) => finding.ignored === null)
  const shown = options.all === true ? findings : open
  if (options.json === true) {
    printJson(shown, io)
    return open.length === 0
  }
  const ink = createInk(io.colors(options.color))
  const lines = shown.flatMap((finding) => findingLines(finding, report, ink, io.width()))
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

function findingLines(
  { code, at, message, fix: out, line, file, ignored: silenced }: PlacedFinding,
  report: string,
  ink: Ink,
  width: number,
): string[] {
  const place = line === undefined ? '' : `${file ?? report}:${line}`
  const lines = [
    `${ink.strong(code)}  ${harmless(at)}${place === '' ? '' : `  ${ink.quiet(harmless(place))}`}`,
    ...wrap(harmless(message), width, '    '),
    ...wrap(harmless(silenced === null ? out : `ignored: ${silenced}`), width, '    → ', '      '),
    '',
  ]
  return lines
}
