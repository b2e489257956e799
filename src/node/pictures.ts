import { readFileSync, realpathSync, statSync } from 'node:fs'
import { dirname, resolve, sep } from 'node:path'
import { problem } from '../problem/problem.js'
import { type ReadPicture, readPicture } from '../style/picture.js'

/** The largest picture that is read. */
const MAX_PICTURE_BYTES = 256 * 1024

/**
 * Reads the pictures that a report or its data name, from the report's folder and those below it:
 * data must not name other files. Each is read once.
 */
export function createPictureReader(report: string): ReadPicture {
  const cache = new Map<string, ReturnType<ReadPicture>>()
  return (name) => {
    let cached = cache.get(name)
    if (cached === undefined) {
      cached = /^(data:|https?:|\/\/)/i.test(name) ? readPicture(name) : readFile(name, dirname(resolve(report)))
      cache.set(name, cached)
    }
    return cached
  }
}

function readFile(name: string, folder: string): ReturnType<ReadPicture> {
  const refuse = (why: string): ReturnType<ReadPicture> => problem('bad-picture', { name, why })
  try {
    const root = realpathSync(folder)
    const path = realpathSync(resolve(root, name))
    if (!path.startsWith(root + sep)) return refuse("it lies outside the report's folder")
    if (statSync(path).size > MAX_PICTURE_BYTES) return refuse(`it is larger than ${MAX_PICTURE_BYTES / 1024} kB`)
    const bytes = readFileSync(path)
    const kind = imageTypeOf(bytes)
    if (kind === undefined) return refuse('it is no PNG, JPEG, GIF, WebP or SVG')
    const address = readPicture(`data:image/${kind};base64,${bytes.toString('base64')}`)
    return typeof address === 'string'
      ? address
      : refuse('why' in address.params ? String(address.params.why) : address.message)
  } catch {
    return refuse('there is no such file')
  }
}

/** The type of a picture by its first bytes, whatever its name. */
function imageTypeOf(bytes: Buffer): string | undefined {
  if (bytes.subarray(0, 4).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47]))) return 'png'
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return 'jpeg'
  if (bytes.toString('latin1', 0, 4) === 'GIF8') return 'gif'
  if (bytes.toString('latin1', 0, 4) === 'RIFF' && bytes.toString('latin1', 8, 12) === 'WEBP') return 'webp'
  return /<svg[\s>]/i.test(bytes.toString('utf8', 0, 2000)) ? 'svg+xml' : undefined
}
