/** The contents of a file, and its name, which tells how it is written. */
export interface SourceFile {
  name: string
  content: string | Uint8Array
}
