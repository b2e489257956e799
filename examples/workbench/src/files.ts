import type { OpenedFiles } from './bench.js'

/** Files of a report end so; other texts of YAML or JSON may be included ones. */
const REPORT = /\.acuarela\.(ya?ml|json)$/i
const TEXT = /\.(ya?ml|json|csv|tsv|txt|ndjson)$/i

/** What was dropped; without a text it is data for the present report. */
type Dropped = Omit<OpenedFiles, 'text'> & { text?: string }

/**
 * What dropped files are: a report with its data, data that the present report misses, or data for
 * a starter report.
 *
 * @param missing the files that the present report names and lacks.
 * @returns undefined where there is nothing to open.
 */
export async function openedFiles(files: readonly File[], missing: readonly string[]): Promise<Dropped | undefined> {
  const contents = await Promise.all(
    files.map(
      async (file) =>
        [file.name, TEXT.test(file.name) ? await file.text() : new Uint8Array(await file.arrayBuffer())] as const,
    ),
  )
  const report = contents.find(([name]) => REPORT.test(name))
  const rest = Object.fromEntries(contents.filter((one) => one !== report))
  if (report !== undefined) return { name: report[0], text: String(report[1]), files: rest }
  const [first] = contents
  if (first === undefined) return undefined
  if (contents.every(([name]) => missing.includes(name))) return { name: '', files: rest }
  const { readSource, sketch } = await import('acuarela/report')
  const sources = await Promise.all(
    contents.map(async ([name, content]) => ({ file: name, source: await readSource([{ name, content }]) })),
  )
  const name = `${first[0].replace(/\..*$/, '')}.acuarela.yaml`
  return { name, text: await sketch(sources), files: rest }
}

/** Saves the text: into the file it came from where the browser can, else as a download. */
export async function saveText(name: string, text: string): Promise<void> {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/yaml' }))
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}
