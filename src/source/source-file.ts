/** A file: its contents, and its name, whose ending gives the format. */
export interface SourceFile {
  name: string
  content: string | Uint8Array
}
