import { dirname, resolve } from 'node:path'
import { readReport } from '../file/report.js'
import { readText } from './files.js'

/**
 * Reads the files that a report includes, from paths relative to it; one that cannot be read is
 * reported with the other problems.
 */
export async function readIncluded(text: string, path: string): Promise<Map<string, string>> {
  // Searching for the word first is faster than parsing, and few reports include others.
  const names = text.includes('include') ? (readReport(text).spec?.include ?? []) : []
  const files = new Map<string, string>()
  for (const name of names) {
    const text = await readText(resolve(dirname(path), name), name).catch(() => undefined)
    if (text !== undefined) files.set(name, text)
  }
  return files
}
