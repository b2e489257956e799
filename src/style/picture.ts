import { type Problem, problem } from '../problem/problem.js'

// Part of every platform, but not of the language's own types.
declare function atob(text: string): string

/** The data URL of a picture, or the problem. */
export type ReadPicture = (name: string) => string | Problem

/** A picture is embedded in every cell that shows it, so it must be small. */
const MAX_PICTURE_BYTES = 256 * 1024

const ADDRESS = /^data:image\/(png|jpeg|gif|webp|svg\+xml);base64,([a-z\d+/]+={0,2})$/i

/**
 * Checks a picture given as a data URL. It is embedded as an image, never as markup, so nothing in
 * it can run; a drawing with scripts is refused all the same. Web addresses are never fetched;
 * files are read where there are some.
 */
export function readPicture(address: string): string | Problem {
  const shown = address.length > 60 ? `${address.slice(0, 57)}…` : address
  const why = (text: string): Problem => problem('bad-picture', { name: shown, why: text })
  if (/^https?:|^\/\//i.test(address)) return why('web addresses are never fetched; save it beside the report')
  if (!/^data:/i.test(address)) return why('files can be read by the tool alone; give a data URL')
  const match = ADDRESS.exec(address)
  if (match === null) return why('a data URL holds PNG, JPEG, GIF, WebP or SVG in base64')
  if (match[2].length * 0.75 > MAX_PICTURE_BYTES) return why(`it is larger than ${MAX_PICTURE_BYTES / 1024} kB`)
  if (match[1].toLowerCase() === 'svg+xml') {
    const fault = drawingFault(atob(match[2]))
    if (fault !== undefined) return why(fault)
  }
  return address
}

/**
 * Whether a document type has declarations of its own. One scan: a hostile picture may be made to
 * be slow to read.
 */
function hasSubset(text: string): boolean {
  const start = text.search(/<!doctype/i)
  if (start < 0) return false
  const end = text.indexOf('>', start)
  return text.slice(start, end < 0 ? undefined : end).includes('[') || /<!doctype/i.test(text.slice(start + 9))
}

/**
 * What a drawing must not contain: scripts, handlers, foreign markup, entities, and external
 * references.
 */
function drawingFault(text: string): string | undefined {
  if (!/<svg[\s>]/i.test(text)) return 'it is no SVG'
  if (/<script|<foreignobject|<iframe|javascript:/i.test(text)) return 'it holds a script'
  if (/\son\w+\s*=/i.test(text)) return 'it holds an event handler'
  if (/<!entity/i.test(text) || hasSubset(text)) return 'it declares entities'
  for (const [, target] of text.matchAll(/(?:href|src)\s*=\s*["']\s*([^"']*)/gi))
    if (!/^(#|data:image\/(png|jpeg|gif|webp);)/i.test(target)) return 'it refers to something outside of itself'
  if (/url\(\s*["']?\s*(?!#)/i.test(text) || /@import/i.test(text)) return 'it refers to something outside of itself'
  return undefined
}
