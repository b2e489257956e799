import { basename } from 'node:path'
import { ProblemError, problem } from '../problem/problem.js'
import { readText } from './files.js'
import { readStdin } from './source-files.js'

/** Standard input is read once, however often the report is asked for. */
let fromStdin: Promise<string> | undefined

/** The text of a report file; `-` is standard input. Data in its place are told as such. */
export async function readReportText(path: string, shown: string): Promise<string> {
  if (shown === '-') {
    fromStdin ??= readStdin().then((bytes) => bytes.toString('utf8'))
    return fromStdin
  }
  if (/\.(csv|tsv|ndjson|jsonl|parquet)(\.gz)?$/i.test(path)) {
    const report = `${basename(shown).replace(/\..*$/, '')}.acuarela.yaml`
    throw new ProblemError([problem('data-for-report', { file: shown, report })])
  }
  return readText(path, shown)
}
