// Part of every platform, but not of the language's own types.
declare const TextEncoder: {
  new (): { encodeInto(text: string, bytes: Uint8Array): { read: number; written: number } }
}

/** What markup is written to. */
export interface Sink {
  add(text: string): void
}

/** Takes nothing: styles are found before the rows that have them are written. */
export const NO_SINK: Sink = { add: () => undefined }

/** Characters that are encoded at a time. */
const PIECE = 1 << 15

/**
 * Encodes markup as it comes, piece by piece, into the same bytes: the whole of a large table would
 * be a hundred megabytes. `onPiece` must have done with the bytes when it returns.
 */
export function encodingSink(onPiece: (bytes: Uint8Array) => void): Sink & { end(): void } {
  const encoder = new TextEncoder()
  let bytes = new Uint8Array(PIECE * 6)
  let text = ''
  const put = (): void => {
    if (text.length * 3 > bytes.length) bytes = new Uint8Array(text.length * 3)
    const { written } = encoder.encodeInto(text, bytes)
    text = ''
    onPiece(bytes.subarray(0, written))
  }
  return {
    add(more) {
      text += more
      if (text.length > PIECE) put()
    },
    end: put,
  }
}
