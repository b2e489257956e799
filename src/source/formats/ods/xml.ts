import { SaxesParser } from 'saxes'
import { ProblemError } from '../../../problem/problem-error.js'
import { problem } from '../../../problem/workbook.js'
import { createDecoder } from '../../decoder.js'

/** The namespaces of the standard whose elements and attributes are read, with our prefixes. */
const NAMESPACES: Readonly<Record<string, string>> = {
  'urn:oasis:names:tc:opendocument:xmlns:office:1.0': 'office',
  'urn:oasis:names:tc:opendocument:xmlns:table:1.0': 'table',
  'urn:oasis:names:tc:opendocument:xmlns:text:1.0': 'text',
  // Marks cells with an error, which the standard has no attribute for.
  'urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0': 'calcext',
}

/** The deepest nesting of elements: a spreadsheet needs about ten. */
const MAX_DEPTH = 100
/** The most characters between two tags, and in one. */
const MAX_TEXT = 8 * 1024 * 1024
/** Declarations of namespaces stand on the outermost elements. */
const DECLARING_DEPTH = 4

export type Attributes = Readonly<Record<string, string>>

/** Is told the elements of a document by names with the prefixes of `NAMESPACES`. */
export interface Listener {
  open(name: string, attributes: Attributes): void
  close(name: string): void
  text(text: string): void
}

/** A parser of a document that is given piece by piece. */
export interface Parser {
  write(chunk: Uint8Array | string): void
  /** @throws ProblemError if the document is not complete. */
  end(): void
}

/**
 * A parser of XML without entities of its own and without anything outside of the document.
 *
 * @throws ProblemError from `write` for what is no XML, a document type, and too deep nesting.
 */
export function createParser(listener: Listener, file: string, noLimit: boolean): Parser {
  const parser = new SaxesParser({ xmlns: false, position: true })
  const fail = (why: string): never => {
    throw new ProblemError([problem('ods-broken', { why }, { file, line: parser.line })])
  }
  const prefixes = createPrefixes()
  let depth = 0
  /** Characters since the last piece with a tag. */
  let waiting = 0
  parser.on('error', (error) => fail(error.message.replace(/^\d+:\d+: /, '').replace(/\.$/, '')))
  // Entities, and parts from elsewhere, are declared in a document type alone.
  parser.on('doctype', () => fail('a document type, which no spreadsheet has'))
  parser.on('opentag', ({ name, attributes }) => {
    waiting = 0
    if (++depth > MAX_DEPTH && !noLimit) fail(`elements nest more than ${MAX_DEPTH} deep`)
    if (depth <= DECLARING_DEPTH) prefixes.declare(attributes)
    listener.open(prefixes.name(name), prefixes.isUsual ? attributes : prefixes.attributes(attributes))
  })
  parser.on('closetag', ({ name }) => {
    depth--
    listener.close(prefixes.name(name))
  })
  const onText = (text: string): void => listener.text(text)
  parser.on('text', onText)
  parser.on('cdata', onText)
  let decoder: ReturnType<typeof createDecoder> | undefined
  const put = (piece: string): void => {
    waiting += piece.length
    parser.write(piece)
    if (waiting > MAX_TEXT && !noLimit) fail(`more than ${MAX_TEXT} characters without a tag`)
  }
  return {
    write(chunk) {
      if (typeof chunk === 'string') return put(chunk)
      decoder ??= decoderOf(chunk)
      put(decoder.decode(chunk, { stream: true }))
    },
    end() {
      if (decoder !== undefined) put(decoder.decode())
      parser.close()
    },
  }
}

/** UTF-8, or UTF-16 by its mark. */
function decoderOf(bytes: Uint8Array): ReturnType<typeof createDecoder> {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return createDecoder('utf-16le')
  return createDecoder(bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8')
}

/** The prefixes that a document has for the namespaces of the standard. */
function createPrefixes() {
  /** Ours by theirs; the empty one is that of elements without a prefix. */
  const ours = new Map<string, string>()
  const names = new Map<string, string>()
  const own = (name: string, isElement: boolean): string => {
    const colon = name.indexOf(':')
    if (colon < 0 && !isElement) return name
    const prefix = ours.get(name.slice(0, Math.max(0, colon)))
    // What belongs to no known namespace must not pass for what does.
    return prefix === undefined ? `?${name}` : `${prefix}:${name.slice(colon + 1)}`
  }
  const prefixes = {
    /** Whether theirs are ours, as in nearly every document: then no name needs to be looked up. */
    isUsual: false,
    declare(attributes: Attributes): void {
      for (const [key, value] of Object.entries(attributes)) {
        if (key !== 'xmlns' && !key.startsWith('xmlns:')) continue
        const prefix = key.slice(6)
        const known = Object.hasOwn(NAMESPACES, value) ? NAMESPACES[value] : undefined
        if (known === undefined) ours.delete(prefix)
        else ours.set(prefix, known)
      }
      prefixes.isUsual =
        ['office', 'table', 'text'].every((name) => ours.has(name)) &&
        [...ours].every(([theirs, name]) => theirs === name)
      names.clear()
    },
    name(name: string): string {
      if (prefixes.isUsual) return name
      let found = names.get(name)
      if (found === undefined) {
        found = own(name, true)
        names.set(name, found)
      }
      return found
    },
    attributes: (attributes: Attributes): Attributes =>
      Object.fromEntries(Object.entries(attributes).map(([key, value]) => [own(key, false), value])),
  }
  return prefixes
}
