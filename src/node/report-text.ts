import { basename } from 'node:path'
import { ProblemError, problem } from '../problem/problem.js'
import { FORMATS } from '../source/formats/registry.js'
import { readText } from './files.js'
import { readStdin } from './source-files.js'

/** Whether a name is that of a data file. */
function isDataFile(path: string): boolean {
  const ending = /\.([a-z0-9]+)(\.gz)?$/i.exec(path)?.[1].toLowerCase() ?? ''
  return FORMATS.some(({ endings, shared = [] }) => endings.includes(ending) && !shared.includes(ending))
}

/** Standard input is read once for all readers. */
let fromStdin: Promise<string> | undefined

/** The text of a report file; `-` is standard input. A data file in its place is reported. */
export async function readReportText(path: string, shown: string): Promise<string> {
  if (shown === '-') {
    fromStdin ??= readStdin().then((bytes) => bytes.toString('utf8'))
    return fromStdin
  }
  if (isDataFile(path)) {
    const report = `${basename(shown).replace(/\..*$/, '')}.acuarela.yaml`
    throw new ProblemError([problem('data-for-report', { file: shown, report })])
  }
  return readText(path, shown)
}
