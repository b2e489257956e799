import { strToU8, ZipDeflate, type Zippable, zipSync } from 'fflate'
import { manifestXml, TYPE } from './parts.js'
import { encodingSink, type Sink } from './sink.js'

/** A part that is compressed already. */
export interface Packed {
  chunks: readonly Uint8Array[]
  /** Of what it unpacks to. */
  size: number
  crc: number
}

/** Of large parts the time to compress them matters more than a fifth of their size. */
const LEVEL = 6
const LARGE_LEVEL = 2

/** Compresses a part while it is written. */
export function packed(isLarge: boolean, write: (out: Sink) => void): Packed {
  const chunks: Uint8Array[] = []
  const file = new ZipDeflate('', { level: isLarge ? LARGE_LEVEL : LEVEL })
  file.ondata = (error, chunk) => {
    if (error !== null) throw error
    chunks.push(chunk)
  }
  const out = encodingSink((bytes) => file.push(bytes))
  write(out)
  out.end()
  file.push(new Uint8Array(), true)
  return { chunks, size: file.size, crc: file.crc }
}

/** The archive: the type first and as it is, then the parts, which the manifest lists. */
export function archiveOf(parts: Readonly<Record<string, string | Uint8Array | Packed>>): Uint8Array {
  // Of every archive the same, wherever and whenever it is made.
  const mtime = new Date(1980, 0, 1)
  const files: Zippable = { mimetype: [strToU8(TYPE), { level: 0, mtime }] }
  const manifest = manifestXml(Object.keys(parts))
  for (const [name, part] of [...Object.entries(parts), ['META-INF/manifest.xml', manifest] as const]) {
    const isPacked = typeof part === 'object' && 'chunks' in part
    const bytes = isPacked ? joined(part.chunks) : typeof part === 'string' ? strToU8(part) : part
    files[name] = [bytes, { level: isPacked || name.endsWith('.png') ? 0 : 6, mtime }]
  }
  const archive = zipSync(files)
  for (const [name, part] of Object.entries(parts))
    if (typeof part === 'object' && 'chunks' in part) declarePacked(archive, name, part)
  return archive
}

/**
 * Says of an entry that was stored as it is that it is compressed already: method, checksum and
 * size, in the directory and before its bytes (APPNOTE 4.3.7 and 4.3.12).
 */
function declarePacked(archive: Uint8Array, name: string, { size, crc }: Packed): void {
  const view = new DataView(archive.buffer, archive.byteOffset, archive.byteLength)
  const end = archive.length - 22
  let at = view.getUint32(end + 16, true)
  for (let n = view.getUint16(end + 10, true); n > 0; n--) {
    const [length, extra, comment] = [28, 30, 32].map((place) => view.getUint16(at + place, true))
    if (String.fromCharCode(...archive.subarray(at + 46, at + 46 + length)) === name) {
      const local = view.getUint32(at + 42, true)
      for (const [method, rest] of [
        [at + 10, at + 16],
        [local + 8, local + 14],
      ]) {
        view.setUint16(method, DEFLATED, true)
        view.setUint32(rest, crc, true)
        view.setUint32(rest + 8, size, true)
      }
    }
    at += 46 + length + extra + comment
  }
}

const DEFLATED = 8

function joined(chunks: readonly Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(chunks.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const chunk of chunks) {
    bytes.set(chunk, at)
    at += chunk.length
  }
  return bytes
}
