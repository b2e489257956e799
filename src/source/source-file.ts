/** A file: its contents, and its name, whose ending gives the format. */
export interface SourceFile {
  name: string
  content: string | Uint8Array
}

/** Whether a name of files, or of sheets, is a pattern, unless one has that name. */
export function isPattern(name: string): boolean {
  return /[*?{[]/.test(name)
}
