import { readReport } from '../file/report.js'
import { isPattern } from '../source/source-file.js'

/** Files by their names, as they were given: maybe with folders, always with `/`. */
export type Files = ReadonlyMap<string, string | Uint8Array>

/** Files by name, as they are opened or given. */
export type GivenFiles = Readonly<Record<string, string | Uint8Array>>

/** The last part of a path. */
export function baseName(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1)
}

/** The file that a path means: of that path, else the one of its last part, whatever its folder. */
export function fileNamed(files: Files, wanted: string): string | undefined {
  if (files.has(wanted)) return wanted
  const own = baseName(wanted)
  const alike = [...files.keys()].filter((name) => baseName(name) === own)
  return alike.length === 1 ? alike[0] : undefined
}

/** The files that a name or a pattern such as `orders-*.csv` means, sorted. */
export async function filesLike(files: Files, wanted: string): Promise<string[]> {
  const one = fileNamed(files, wanted)
  if (one !== undefined) return [one]
  if (!isPattern(wanted)) return []
  // Few reports have patterns.
  const { default: picomatch } = await import('picomatch')
  const names = [...files.keys()]
  const isWhole = picomatch(wanted, { windows: false })
  const whole = names.filter((name) => isWhole(name))
  if (whole.length > 0) return whole.sort()
  const isLike = picomatch(wanted.includes('/**') ? '*' : baseName(wanted), { windows: false })
  return names.filter((name) => isLike(baseName(name))).sort()
}

/** The texts that a report includes, by the names that it gives them. */
export function includedBy(text: string, files: Files): Record<string, string> {
  // Reading is slower than looking for the word, and few reports include others.
  const names = text.includes('include') ? (readReport(text).spec?.include ?? []) : []
  return Object.fromEntries(
    names.flatMap((name) => {
      const found = fileNamed(files, name)
      const content = found === undefined ? undefined : files.get(found)
      return typeof content === 'string' ? [[name, content] as const] : []
    }),
  )
}
