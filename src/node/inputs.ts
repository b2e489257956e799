import { dirname, resolve } from 'node:path'
import { readReport } from '../file/report.js'
import { readIncluded } from './included.js'
import { readReportText } from './report-text.js'
import { namesOf } from './source-files.js'

/**
 * The files of a report: itself, its data, and the included files and pictures that it names.
 * Missing ones are left out.
 */
export async function inputFiles(path: string, shown: string): Promise<string[]> {
  const text = await readReportText(path, shown).catch(() => '')
  const included = await readIncluded(text, path)
  const { spec } = readReport(text, shown, (name) => included.get(name))
  const folder = dirname(path)
  const data = await Promise.all(
    Object.values(spec?.sources ?? {}).map(async ({ file }) =>
      file === undefined || file === 'stdin' ? [] : await namesOf(file, folder).catch(() => []),
    ),
  )
  const pictures = [
    ...Object.values(spec?.icons ?? {}),
    ...Object.values(spec?.statuses ?? {}).flatMap(({ picture }) => (picture === undefined ? [] : [picture])),
  ].filter((name) => !name.startsWith('data:'))
  return [path, ...[...data.flat(), ...(spec?.include ?? []), ...pictures].map((name) => resolve(folder, name))]
}
