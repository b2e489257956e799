import { type Document, LineCounter, parseDocument } from 'yaml'

/** A text as the library reads it. Nobody changes it: readers share it. */
export interface ParsedYaml {
  doc: Document.Parsed
  lines: LineCounter
}

/** The texts that were read last: an editor reads each version several times. */
const PARSED = new Map<string, ParsedYaml>()
const MOST_PARSED = 3

/** Parses YAML 1.2 or JSON; the same text is parsed once. */
export function parsedYaml(text: string): ParsedYaml {
  const known = PARSED.get(text)
  if (known !== undefined) return known
  const lines = new LineCounter()
  const doc = parseDocument(text, {
    lineCounter: lines,
    version: '1.2',
    schema: 'core',
    strict: true,
    // Reported by the reader: the library compares each key with every other.
    uniqueKeys: false,
    stringKeys: true,
    keepSourceTokens: true,
  })
  const [oldest] = PARSED.keys()
  if (PARSED.size >= MOST_PARSED && oldest !== undefined) PARSED.delete(oldest)
  PARSED.set(text, { doc, lines })
  return { doc, lines }
}

/** Whether a text is one of the last: it was checked then. */
export function isParsed(text: string): boolean {
  return PARSED.has(text)
}
